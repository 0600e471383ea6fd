// Builds what runs: the command and its processes into build/relay.mjs, the interface into build/web.
import { build } from 'esbuild';
import { build as buildWeb } from 'vite';
import { existsSync } from 'node:fs';
import { buildOptions } from './buildOptions.mjs';

await build(buildOptions);

if (existsSync('web/index.html') && !process.argv.includes('--no-web'))
  await buildWeb({ root: 'web', logLevel: 'warn' });
