import { readFile } from 'node:fs/promises';
import { untilToldToStop } from '../site/child.ts';
import { places } from '../site/home.ts';
import { Misuse } from './output.ts';

/** Legs at a time, on each worker: one FFmpeg keeps about one core busy with filters and the intermediate's encoder. */
const slots = Number(process.env.RELAY_SLOTS ?? 2);

function given(name: string): string {
  const value = process.env[name];
  if (!value) throw new Misuse(`this is started by ./relay start, which gives it ${name}`);
  return value;
}

/** The server's own process. */
export async function serveCommand(): Promise<number> {
  const { startServer } = await import('@relay/server/app');
  const server = await startServer({ databaseUrl: given('RELAY_DATABASE'), storesFile: places.stores, cacheFolder: places.cache, webFolder: places.web, port: Number(given('RELAY_PORT')) });
  return untilToldToStop(() => server.close());
}

/** A worker's own process: one of `relay start`, or one more, started by hand. */
export async function workerCommand(): Promise<number> {
  const { startWorker } = await import('@relay/server/worker');
  let databaseUrl = process.env.RELAY_DATABASE;
  if (!databaseUrl) {
    const site = JSON.parse(await readFile(places.site, 'utf8').catch(() => '{}')) as { database?: string };
    if (!site.database) throw new Misuse('no ./relay start is running here');
    databaseUrl = site.database;
  }
  const worker = await startWorker({ databaseUrl, storesFile: places.stores, cacheFolder: places.cache, slots });
  return untilToldToStop(() => worker.close());
}
