// For whoever changes Brisk Relay: server, worker and pages on one port, each anew when its sources change. Run
// ./relay start once before, which installs, and paints the demo material.
import { context } from 'esbuild';
import { spawn } from 'node:child_process';
import { readFile } from 'node:fs/promises';
import { createServer } from 'vite';
import { buildOptions } from './buildOptions.mjs';

const port = Number(process.env.PORT ?? 4700);
const home = process.env.RELAY_HOME ?? '.relay';

/** Ends server and worker; `relay start` starts them again at once, from what was built now. */
async function restart() {
  const site = JSON.parse(await readFile(`${home}/site.json`, 'utf8').catch(() => '{}'));
  for (const pid of [site.serverPid, site.workerPid]) {
    try {
      if (pid) process.kill(pid, 'SIGTERM');
    } catch {
      // It has ended by itself.
    }
  }
}

let address = '';
const again = {
  name: 'start-again',
  setup(b) {
    b.onEnd(({ errors }) => {
      if (address === '' || errors.length > 0) return;
      console.log('built; server and worker start again');
      void restart();
    });
  },
};
const building = await context({ ...buildOptions, plugins: [...buildOptions.plugins, again] });
await building.rebuild();
await building.watch();

const relay = spawn(process.execPath, ['--enable-source-maps', 'build/relay.mjs', 'start', '--port', '0'], {
  stdio: ['ignore', 'pipe', 'inherit'],
});
relay.on('close', (code) => process.exit(code ?? 1));
address = await new Promise((resolve) => {
  relay.stdout.on('data', (chunk) => {
    const found = /ready at (http:\S+)/.exec(String(chunk));
    if (found) resolve(found[1]);
  });
});

// Stands before the server, which then sees the page's own address; web/api/ are sources of the page's.
const pages = await createServer({
  root: 'web',
  server: {
    host: '127.0.0.1',
    port,
    proxy: { '^/api/(?!.*\\.tsx?([?]|$))': { target: address, changeOrigin: false } },
  },
});
await pages.listen();
console.log(`Pages that follow their sources: ${pages.resolvedUrls?.local[0] ?? ''}`);
console.log('Ctrl-C stops it.');

process.on('SIGINT', () => {
  void pages.close();
  void building.dispose();
  relay.kill('SIGINT');
});
