import hooks from 'eslint-plugin-react-hooks';
import regexp from 'eslint-plugin-regexp';
import tseslint from 'typescript-eslint';

/**
 * Limits that start a thought: how often a function may branch, what it may be given, how long it may be. An exception
 * says why beside it. What draws is longer: a tag a line.
 */
const longest = (max) => ({ 'max-lines-per-function': ['error', { max, skipBlankLines: true, skipComments: true }] });
const limits = { complexity: ['error', 20], 'max-params': ['error', 5] };

/** Imports only go down: what each floor may not reach. `core` may reach nothing but itself. */
const floors = {
  core: ['@relay/*', 'node:*', 'react', 'zod'],
  contract: [
    '@relay/media/*',
    '@relay/work/*',
    '@relay/server/*',
    '@relay/web/*',
    '@relay/cli/*',
    '@relay/demo/*',
    '@relay/bench/*',
    'node:*',
  ],
  media: ['@relay/work/*', '@relay/server/*', '@relay/web/*', '@relay/cli/*', '@relay/demo/*', '@relay/bench/*'],
  // What is done to users' files needs neither database nor HTTP.
  work: [
    '@relay/server/*',
    '@relay/web/*',
    '@relay/cli/*',
    '@relay/demo/*',
    '@relay/bench/*',
    'typeorm',
    'pg',
    'pg-boss',
    'express',
    'node:http',
  ],
  demo: ['@relay/work/*', '@relay/server/*', '@relay/web/*', '@relay/cli/*', '@relay/contract/*', '@relay/bench/*'],
  cli: ['@relay/web/*', '@relay/bench/*'],
  server: ['@relay/web/*', '@relay/cli/*', '@relay/demo/*', '@relay/bench/*'],
  web: [
    '@relay/media/*',
    '@relay/work/*',
    '@relay/server/*',
    '@relay/cli/*',
    '@relay/demo/*',
    '@relay/bench/*',
    'node:*',
  ],
};

/**
 * A name is put behind a folder by `under` alone, which refuses those that lead elsewhere: in every floor that touches
 * users' files.
 */
const touchesFiles = new Set(['media', 'work', 'server', 'cli']);
const noJoin = {
  name: 'node:path',
  importNames: ['join', 'normalize'],
  message: 'put names behind folders by `under` (core/naming/under.ts), which lets none lead elsewhere',
};

export default tseslint.config(
  { ignores: ['build/', 'node_modules/', '.relay/', '**/*.d.ts'] },
  ...tseslint.configs.strict,
  ...tseslint.configs.stylistic,
  // With types: above all, no promise that nobody waits for.
  {
    files: ['**/*.{ts,tsx}'],
    ignores: ['*.config.ts', 'web/vite.config.ts'],
    extends: [tseslint.configs.strictTypeCheckedOnly],
    languageOptions: { parserOptions: { project: './tsconfig.json', tsconfigRootDir: import.meta.dirname } },
    rules: {
      '@typescript-eslint/restrict-template-expressions': ['error', { allowNumber: true }],
      '@typescript-eslint/no-confusing-void-expression': ['error', { ignoreArrowShorthand: true }],
      // What comes of Node's own functions is an Error, with a code.
      '@typescript-eslint/use-unknown-in-catch-callback-variable': 'off',
      // What a closure looks at may change while it waits, and plans that were kept may be older than their types.
      '@typescript-eslint/no-unnecessary-condition': 'off',
      // A caller says what it expects of an answer.
      '@typescript-eslint/no-unnecessary-type-parameters': 'off',
      // Text is taken apart by code points where that is meant.
      '@typescript-eslint/no-misused-spread': ['error', { allow: ['string'] }],
      // Many interfaces promise what this or that answer has at once.
      '@typescript-eslint/require-await': 'off',
      // The database's schemas are plain objects, by its library's own design.
      '@typescript-eslint/no-unsafe-class-instance-assignment': 'off',
      // The newest names of two libraries are not in all of their versions yet.
      '@typescript-eslint/no-deprecated': 'off',
    },
  },
  // What a test parses is what it looks at next.
  {
    files: ['**/*.test.{ts,tsx}', 'testing/**'],
    rules: {
      '@typescript-eslint/no-unsafe-assignment': 'off',
      '@typescript-eslint/no-unsafe-argument': 'off',
      '@typescript-eslint/no-unsafe-return': 'off',
    },
  },
  {
    rules: {
      '@typescript-eslint/no-explicit-any': 'error',
      '@typescript-eslint/consistent-type-imports': 'error',
      '@typescript-eslint/no-non-null-assertion': 'error',
      '@typescript-eslint/no-empty-function': 'off',
      'no-restricted-exports': ['error', { restrictDefaultExports: { direct: true } }],
      'no-console': 'error',
      eqeqeq: 'error',
    },
  },
  ...Object.entries(floors).map(([floor, group]) => ({
    files: [`${floor}/**/*.{ts,tsx}`],
    ignores: ['**/*.test.ts', '**/*.test.tsx'],
    rules: {
      'no-restricted-imports': [
        'error',
        {
          paths: touchesFiles.has(floor) ? [noJoin] : [],
          patterns:
            group.length > 0
              ? [
                  {
                    group,
                    message: `${floor} may not import this: imports only go down (docs/decisions/0001-floors.md)`,
                  },
                ]
              : [],
        },
      ],
    },
  })),
  // Text comes from strangers: no expression may take longer than a fixed number of looks at each letter.
  {
    files: ['{core,contract,media,work,server,cli}/**/*.ts'],
    ignores: ['**/*.test.ts'],
    plugins: { regexp },
    rules: {
      'regexp/no-super-linear-backtracking': 'error',
      'regexp/no-super-linear-move': ['error', { report: 'certain' }],
    },
  },
  // The only floor that starts FFmpeg is media; processes of our own are started by the command line and the demo.
  {
    files: ['{core,contract,work,server,web}/**/*.{ts,tsx}'],
    ignores: ['**/*.test.ts'],
    rules: {
      'no-restricted-syntax': [
        'error',
        { selector: 'ImportDeclaration[source.value=/child_process/]', message: 'only media starts processes' },
      ],
    },
  },
  {
    files: ['web/**/*.tsx', 'web/**/*.ts'],
    plugins: { 'react-hooks': hooks },
    rules: { ...hooks.configs.recommended.rules, 'react-hooks/incompatible-library': 'off' },
  },
  {
    files: ['{core,contract,media,work,server,cli,web}/**/*.{ts,tsx}'],
    ignores: ['**/*.test.{ts,tsx}', 'server/db/migrations/**'],
    rules: { ...limits, ...longest(80) },
  },
  { files: ['web/**/*.tsx'], ignores: ['**/*.test.tsx'], rules: longest(200) },
  { files: ['bench/**', '*.mjs'], rules: { 'no-console': 'off' } },
  { files: ['web/vite.config.ts', 'vitest.config.ts', 'eslint.config.mjs'], rules: { 'no-restricted-exports': 'off' } },
);
