import hooks from 'eslint-plugin-react-hooks';
import regexp from 'eslint-plugin-regexp';
import tseslint from 'typescript-eslint';

/** Imports only go down: what each floor may not reach. `core` may reach nothing but itself. */
const floors = {
  core: ['@relay/*', 'node:*', 'react', 'zod'],
  contract: [
    '@relay/media/*',
    '@relay/server/*',
    '@relay/web/*',
    '@relay/cli/*',
    '@relay/demo/*',
    '@relay/bench/*',
    'node:*',
  ],
  media: ['@relay/server/*', '@relay/web/*', '@relay/cli/*', '@relay/demo/*', '@relay/bench/*'],
  demo: ['@relay/server/*', '@relay/web/*', '@relay/cli/*', '@relay/contract/*', '@relay/bench/*'],
  cli: ['@relay/web/*', '@relay/bench/*'],
  server: ['@relay/web/*', '@relay/cli/*', '@relay/demo/*', '@relay/bench/*'],
  web: ['@relay/media/*', '@relay/server/*', '@relay/cli/*', '@relay/demo/*', '@relay/bench/*', 'node:*'],
};

/**
 * A name is put behind a folder by `under` alone, which refuses those that lead elsewhere: in every floor that touches
 * users' files.
 */
const touchesFiles = new Set(['media', 'server', 'cli']);
const noJoin = {
  name: 'node:path',
  importNames: ['join', 'normalize'],
  message: 'put names behind folders by `under` (core/naming/under.ts), which lets none lead elsewhere',
};

export default tseslint.config(
  { ignores: ['build/', 'node_modules/', '.relay/', '**/*.d.ts'] },
  ...tseslint.configs.strict,
  ...tseslint.configs.stylistic,
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
    files: ['{core,contract,media,server,cli}/**/*.ts'],
    ignores: ['**/*.test.ts'],
    plugins: { regexp },
    rules: {
      'regexp/no-super-linear-backtracking': 'error',
      'regexp/no-super-linear-move': ['error', { report: 'certain' }],
    },
  },
  // The only floor that starts FFmpeg is media; processes of our own are started by the command line and the demo.
  {
    files: ['{core,contract,server,web}/**/*.{ts,tsx}'],
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
  { files: ['bench/**', '*.mjs'], rules: { 'no-console': 'off' } },
  { files: ['web/vite.config.ts', 'vitest.config.ts', 'eslint.config.mjs'], rules: { 'no-restricted-exports': 'off' } },
);
