import { mkdirSync, mkdtempSync, readFileSync, rmSync, statSync } from 'node:fs';
import { mkdtemp, readdir, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { under } from '@relay/core/naming/under';
import { isAlive } from './alive.ts';

/**
 * Folders of our own for what lives no longer than a command: lists, baked chains, layers, evidence. They lie in one
 * folder of this process's, below the site's own, which nobody else may enter; what is found there was made by us.
 */
let own: string | null = null;

/** Paths that filters are given must be plain: quotes, commas and colons mean something there. */
const plain = /^[\w/.-]+$/;

/** The kernel's own mark of a process: when it began, in clock ticks since boot (proc(5), stat, field 22). */
function beganAt(pid: number | 'self'): string {
  try {
    const text = readFileSync(`/proc/${pid}/stat`, 'utf8');
    return text.slice(text.lastIndexOf(')') + 2).split(' ')[19] ?? '0';
  } catch {
    return '0';
  }
}

/**
 * The folder below which this process keeps its scratch folders: below the site's where it has one, else a private one
 * in the system's place.
 */
function ownFolder(): string {
  if (own !== null) return own;
  const site = process.env.RELAY_SCRATCH;
  if (site && plain.test(site)) {
    mkdirSync(site, { recursive: true, mode: 0o700 });
    const facts = statSync(site);
    // Only where nobody else can put anything is what lies there ours to clear up.
    if (facts.uid === process.geteuid?.() && (facts.mode & 0o077) === 0) {
      own = mkdtempSync(`${site}/${process.pid}-${beganAt('self')}-`);
      void clearUp(site);
    }
  }
  own ??= mkdtempSync(`${plain.test(tmpdir()) ? tmpdir() : '/tmp'}/relay-`);
  const made = own;
  process.once('exit', () => rmSync(made, { recursive: true, force: true }));
  return own;
}

/** Removes what processes left that were killed. `site` is private, so every name in it was invented by one of ours. */
async function clearUp(site: string): Promise<void> {
  for (const name of await readdir(site).catch(() => [])) {
    const [, pid, began] = /^(\d+)-(\d+)-\w{6}$/.exec(name) ?? [];
    if (pid === undefined || (isAlive(Number(pid)) && beganAt(Number(pid)) === began)) continue;
    await rm(under(site, name), { recursive: true, force: true }).catch(() => undefined);
  }
}

/** A new folder of one's own; whoever makes it removes it. */
export async function scratchFolder(): Promise<string> {
  return mkdtemp(`${ownFolder()}/s`);
}

/** The scratch folders that arguments name. */
export function scratchIn(args: readonly string[]): string[] {
  if (own === null) return [];
  const found = new Set<string>();
  for (const arg of args) {
    for (let at = arg.indexOf(`${own}/s`); at >= 0; at = arg.indexOf(`${own}/s`, at + 1))
      found.add(arg.slice(at, at + own.length + 8));
  }
  return [...found];
}
