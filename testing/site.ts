import { execFileSync, spawn, type ChildProcess } from 'node:child_process';
import { chmod, mkdtemp, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { built, demoFolder } from './demo.ts';

/** A whole Brisk Relay of a test's own: database, server and worker, in a folder and on a port of their own. */
export interface Site {
  address: string;
  home: string;
  /** Process ids as they are now; they change when one was killed and started again. */
  pids(): Promise<{ databasePid: number; serverPid: number; workerPid: number }>;
  api<T>(path: string, body?: unknown): Promise<T>;
  /** Ctrl-C, as a person does it; the exit code. */
  stop(): Promise<number | null>;
  remove(): Promise<void>;
}

/** A folder for a site: an empty one, or a copy of a stopped site's. */
async function newHome(copyOf: string | undefined): Promise<string> {
  const own = await mkdtemp(join(tmpdir(), 'relay-site-'));
  if (copyOf === undefined) return own;
  // Whose its files are is copied too: the database's own account reads its data.
  execFileSync('cp', ['-a', `${copyOf}/.`, own]);
  const stores = join(own, 'stores.json');
  await writeFile(stores, (await readFile(stores, 'utf8')).replaceAll(copyOf, own));
  return own;
}

interface SiteToStart {
  home?: string;
  copyOf?: string;
  /** More for `relay start`. */
  args?: readonly string[];
  env?: Readonly<Record<string, string>>;
}

/** Starts a site anew in the `home` of one that was stopped, or in a folder of its own, that may be a copy. */
export async function startSite({ home, copyOf, args = [], env = {} }: SiteToStart = {}): Promise<Site> {
  const own = home ?? (await newHome(copyOf));
  // Debian's postgres account must be able to walk to the data folder.
  await chmod(own, 0o755);
  const child: ChildProcess = spawn(process.execPath, [built, 'start', '--port', '0', ...args], {
    // What is mounted on the machine that tests run on is no business of theirs.
    env: { ...process.env, RELAY_HOME: own, RELAY_DEMO: demoFolder, RELAY_MOUNTS: '/dev/null', ...env },
    stdio: ['ignore', 'pipe', 'pipe'],
  });
  let said = '';
  const address = await new Promise<string>((resolve, reject) => {
    const look = (chunk: Buffer): void => {
      said += chunk.toString();
      const found = /ready at (http:\S+)/.exec(said);
      if (found?.[1]) resolve(found[1]);
    };
    child.stdout?.on('data', look);
    child.stderr?.on('data', look);
    child.once('close', () => reject(new Error(`relay start ended: ${said}`)));
  });
  return {
    address,
    home: own,
    async pids() {
      return JSON.parse(await readFile(join(own, 'site.json'), 'utf8')) as {
        databasePid: number;
        serverPid: number;
        workerPid: number;
      };
    },
    async api<T>(path: string, body?: unknown) {
      const init =
        body === undefined
          ? {}
          : { method: 'POST', headers: { 'Content-Type': 'application/json' }, body: JSON.stringify(body) };
      // The server may be on its way back after a test killed it.
      for (let tries = 0; ; tries += 1) {
        const response = await fetch(`${address}/api${path}`, init).catch(() => null);
        if (response && response.status !== 503)
          return (response.status === 204 ? undefined : await response.json()) as T;
        if (tries > 100) throw new Error(`${path} was not answered`);
        await pause(200);
      }
    },
    async stop() {
      if (child.exitCode !== null) return child.exitCode;
      const ended = new Promise<number | null>((resolve) => child.once('close', resolve));
      child.kill('SIGINT');
      return ended;
    },
    async remove() {
      await rm(own, { recursive: true, force: true });
    },
  };
}

export function pause(milliseconds: number): Promise<void> {
  return new Promise((resolve) => setTimeout(resolve, milliseconds));
}

/** Waits until `look` gives something; says what was waited for when it never does, on a machine ten times slower. */
export async function until<T>(
  what: string,
  look: () => Promise<T | null | undefined | false>,
  seconds = 480,
): Promise<T> {
  const end = Date.now() + seconds * 1000;
  while (Date.now() < end) {
    const found = await look();
    if (found) return found;
    await pause(150);
  }
  throw new Error(`waited ${seconds} s in vain for ${what}`);
}
