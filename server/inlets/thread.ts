import { existsSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { Worker } from 'node:worker_threads';

/** What the thread that keeps inlets is given. */
export interface InletThreadSettings {
  databaseUrl: string;
  storesFile: string;
  cacheFolder: string;
  mountTable: string;
}

/** Megabytes that it may take: beyond, it is ended and begins anew. */
const memory = 500;
const restMs = 2_000;

/** Keeps a thread going that keeps the inlets; one that ends by itself is started again. */
export function startInletThread(settings: InletThreadSettings): { close(): Promise<void> } {
  const script = [new URL('./inlets.mjs', import.meta.url), new URL('../../build/inlets.mjs', import.meta.url)]
    .map((url) => fileURLToPath(url))
    .find(existsSync);
  if (script === undefined) throw new Error('build/inlets.mjs is not there: build first');
  const env = Object.fromEntries(
    Object.entries(process.env).filter(([name]) => name.startsWith('RELAY_') || name === 'PATH'),
  );
  let closed = false;
  let worker: Worker;
  const start = (): void => {
    worker = new Worker(script, { resourceLimits: { maxOldGenerationSizeMb: memory }, env, workerData: settings });
    worker.on('error', () => undefined);
    worker.once('exit', () => {
      if (!closed) setTimeout(() => !closed && start(), restMs);
    });
  };
  start();
  return {
    async close() {
      closed = true;
      const ended = new Promise<void>((resolve) => worker.once('exit', () => resolve()));
      worker.postMessage('close');
      await Promise.race([ended, new Promise((resolve) => setTimeout(resolve, 8_000))]);
      await worker.terminate();
    },
  };
}
