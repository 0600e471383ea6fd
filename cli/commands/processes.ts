import { videoCodecIds } from '@relay/core/recipe/codecs';
import { Stores } from '@relay/server/stores/stores';
import { spawn } from 'node:child_process';
import { readFile, rm } from 'node:fs/promises';
import { hostname } from 'node:os';
import { asAccount, layOutHome, ownAccount } from '../site/account.ts';
import { untilToldToStop } from '../site/child.ts';
import { places } from '../site/home.ts';
import { allowedRoots } from '../site/roots.ts';
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
  const server = await startServer({
    databaseUrl: given('RELAY_DATABASE'),
    storesFile: places.stores,
    cacheFolder: places.cache,
    webFolder: places.web,
    roots: allowedRoots(process.env.RELAY_ROOTS),
    demoFolder: places.demo,
    port: Number(given('RELAY_PORT')),
  });
  return untilToldToStop(() => server.close());
}

export interface WorkerOptions {
  name?: string;
  slots?: string;
  takes?: string;
  store?: string[];
}

/** What a worker by hand is told: its name, slots, codecs, and where stores lie on its machine. */
function workerOptions(parsed: WorkerOptions): {
  title: string;
  slots: number;
  codecs: string[] | null;
  stores: [string, string][];
} {
  const wanted = parsed.slots === undefined ? slots : Number(parsed.slots);
  if (!Number.isInteger(wanted) || wanted < 1 || wanted > 64)
    throw new Misuse(`--slots takes a whole number from 1 to 64, not ${parsed.slots ?? ''}`);
  const codecs = parsed.takes === undefined ? null : parsed.takes.split(',').map((one) => one.trim());
  const unknown = codecs?.find((one) => !(videoCodecIds as readonly string[]).includes(one));
  if (unknown !== undefined) throw new Misuse(`--takes does not know ${unknown}: it takes ${videoCodecIds.join(', ')}`);
  const stores = (parsed.store ?? []).map((one): [string, string] => {
    const at = one.indexOf('=');
    if (at < 1 || at === one.length - 1) throw new Misuse(`--store takes NAME=PATH, not ${one}`);
    return [one.slice(0, at), one.slice(at + 1)];
  });
  return { title: parsed.name ?? hostname(), slots: wanted, codecs, stores };
}

/** The same command as the site's account, until it ends; Ctrl-C reaches it too. */
async function asTheAccount(args: readonly string[]): Promise<number> {
  const site = await siteDatabase();
  await layOutHome();
  const {
    command,
    args: all,
    env,
  } = asAccount('worker', process.execPath, ['--enable-source-maps', process.argv[1] as string, 'worker', ...args]);
  const child = spawn(command, all, {
    stdio: 'inherit',
    env: { ...process.env, ...env, RELAY_DATABASE: site, RELAY_SCRATCH: places.scratch },
  });
  for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP'] as const) process.on(signal, () => void child.kill(signal));
  return new Promise((resolve) => child.once('close', (code) => resolve(code ?? 1)));
}

/** Where the database is: as we are told, or as the site that runs here has it. */
async function siteDatabase(): Promise<string> {
  if (process.env.RELAY_DATABASE) return process.env.RELAY_DATABASE;
  const site = JSON.parse(await readFile(places.site, 'utf8').catch(() => '{}')) as { database?: string };
  if (!site.database) throw new Misuse('no ./relay start is running here');
  return site.database;
}

/** A worker's own process: one of `relay start`, or one more, started by hand. */
export async function workerCommand(told: WorkerOptions): Promise<number> {
  const { stores, ...options } = workerOptions(told);
  if (process.send === undefined && ownAccount() && process.env.RELAY_RIGHTS === undefined)
    return asTheAccount(process.argv.slice(3));
  const { startWorker } = await import('@relay/server/worker');
  // That of ./relay start is a child of its own, and the one that does everything.
  const legsOnly = process.send === undefined;
  // Stores lie elsewhere on other machines, and a second worker here may be told so too: its list is its own then.
  const storesFile = stores.length > 0 ? `${places.stores}.${options.title.replace(/[^\w.-]+/g, '-')}` : places.stores;
  if (stores.length > 0) await rm(storesFile, { force: true });
  for (const [name, path] of stores)
    await new Stores(storesFile).put(name, path).catch((error: Error) => {
      throw new Misuse(error.message);
    });
  const worker = await startWorker({
    databaseUrl: await siteDatabase(),
    storesFile,
    cacheFolder: places.cache,
    legsOnly,
    ...(process.env.RELAY_HOST ? { host: process.env.RELAY_HOST } : {}),
    ...options,
  });
  return untilToldToStop(() => worker.close());
}
