import { Worker } from 'node:worker_threads';

/** A request, and what came of it. */
export interface Asked {
  method: string;
  path: string;
  body?: string | Uint8Array;
  type?: string;
}
export interface Answered {
  status: number;
  milliseconds: number;
  text: string;
}

/** Asks from a thread of its own, so that asking does not hold up what is measured. */
export function startAsker(at: string): { ask: (asked: Asked) => Promise<Answered>; close: () => Promise<void> } {
  const worker = new Worker(
    `
    const { parentPort } = require('node:worker_threads');
    parentPort.on('message', async ({ method, url, body, type }) => {
      const begun = performance.now();
      try {
        const answer = await fetch(url, { method, body, headers: body === undefined ? {} : { 'Content-Type': type ?? 'application/json' } });
        const text = await answer.text();
        parentPort.postMessage({ status: answer.status, milliseconds: performance.now() - begun, text: text.slice(0, 400) });
      } catch (error) {
        parentPort.postMessage({ status: 0, milliseconds: performance.now() - begun, text: String(error) });
      }
    });`,
    { eval: true },
  );
  return {
    ask: ({ method, path, body, type }) =>
      new Promise((resolve) => {
        worker.once('message', resolve);
        worker.postMessage({ method, url: `${at}/api${path}`, body, type });
      }),
    close: async () => {
      await worker.terminate();
    },
  };
}
