import { readdir, readFile, readlink } from 'node:fs/promises';

/** Lowest bits of a descriptor's flags: how it was opened (open(2), O_ACCMODE); 0 is to be read only. */
const accessMode = 0o3;

/**
 * Those of some files, by their absolute paths, that a process of this machine holds open to be written (proc(5),
 * `/proc/pid/fd` and `fdinfo`). Processes of other users are seen where the system lets us; other machines' never.
 */
export async function openToBeWritten(paths: ReadonlySet<string>): Promise<Set<string>> {
  const found = new Set<string>();
  const processes = (await readdir('/proc').catch(() => [])).filter((name) => /^\d+$/.test(name));
  for (const pid of processes) {
    const descriptors = await readdir(`/proc/${pid}/fd`).catch(() => []);
    for (const number of descriptors) {
      const target = await readlink(`/proc/${pid}/fd/${number}`).catch(() => null);
      if (target === null || !paths.has(target) || found.has(target)) continue;
      const info = await readFile(`/proc/${pid}/fdinfo/${number}`, 'utf8').catch(() => '');
      const flags = parseInt(/^flags:\s*([0-7]+)/m.exec(info)?.[1] ?? '0', 8);
      if ((flags & accessMode) !== 0) found.add(target);
    }
  }
  return found;
}
