// What is built of our own floors, and how: used by build.mjs and dev.mjs alike.

import { watForEsbuild } from './watModules.mjs';

/** The command and its processes, the benches, and the three kinds of threads. */
export const buildOptions = {
  entryPoints: {
    relay: 'cli/relay.ts',
    bench: 'bench/main.ts',
    aside: 'work/aside/thread.ts',
    desk: 'server/deskThread.ts',
    inlets: 'server/inletThread.ts',
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
    watForEsbuild,
    {
      name: 'registry-packages-stay',
      setup(b) {
        b.onResolve({ filter: /^[^./]/ }, (args) =>
          args.kind === 'entry-point' || args.path.startsWith('@relay/') ? null : { path: args.path, external: true },
        );
      },
    },
  ],
};
