import { mkdtemp, readdir, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { isAlive } from './alive.ts';

const mark = 'relay-scratch-';

/**
 * A folder of one's own for what lives no longer than a leg: baked chains, layers, evidence. It lies in the system's place for
 * such things and has a name that FFmpeg's filters take as it is; what killed processes left there is cleared up first.
 */
export async function scratchFolder(): Promise<string> {
  // FFmpeg's filters read quotes and commas in a path as their own: the usual folder is used where its name is plain.
  const parent = /^[\w/.-]+$/.test(tmpdir()) ? tmpdir() : '/tmp';
  for (const name of await readdir(parent).catch(() => [])) {
    const pid = name.startsWith(mark) ? Number(name.slice(mark.length).split('-')[0]) : null;
    if (pid !== null && Number.isInteger(pid) && pid > 0 && !isAlive(pid)) await rm(join(parent, name), { recursive: true, force: true }).catch(() => undefined);
  }
  return mkdtemp(join(parent, `${mark}${process.pid}-`));
}
