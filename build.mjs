// Builds what runs: the command and its processes into build/relay.mjs, the interface into build/web.
import { build } from 'esbuild';
import { build as buildWeb } from 'vite';
import { existsSync } from 'node:fs';

await build({
  entryPoints: {
    relay: 'cli/relay.ts',
    bench: 'bench/main.ts',
    aside: 'work/aside/thread.ts',
    desk: 'server/deskThread.ts',
  },
  outdir: 'build',
  outExtension: { '.js': '.mjs' },
  bundle: true,
  splitting: true,
  platform: 'node',
  target: 'node20',
  format: 'esm',
  sourcemap: true,
  logLevel: 'warning',
  // Our own floors are bundled; everything from the registry stays in node_modules.
  plugins: [
    {
      name: 'registry-packages-stay',
      setup(b) {
        b.onResolve({ filter: /^[^./]/ }, (args) =>
          args.kind === 'entry-point' || args.path.startsWith('@relay/') ? null : { path: args.path, external: true },
        );
      },
    },
  ],
});

if (existsSync('web/index.html') && !process.argv.includes('--no-web'))
  await buildWeb({ root: 'web', logLevel: 'warn' });
