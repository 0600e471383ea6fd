import { lstat, readdir } from 'node:fs/promises';
import { dirname } from 'node:path';
import { under } from '@relay/core/naming/under';
import { diskProblem } from './diskProblem.ts';
import { hashOutput, outputBytes } from './hash.ts';
import { holding, type Root } from './held.ts';
import { exists, flushFolders, nameAt, partNameBeside, partsOf, removePart } from './place.ts';

/** Deleting what was made here: only what is known to be that, by its content, and nothing else. */

/** What is known of something that may be deleted. */
export interface KnownMade {
  sizeBytes: number;
  /** XXH3 of the file; of a set, of the list of its files (`hashOutput`). */
  xxh3: string;
}

/** What came of it: it is gone; there was nothing; or it was left as it is, and why. */
export type Removed = { state: 'gone' } | { state: 'not there' } | { state: 'left'; why: string };

const left = (why: string): Removed => ({ state: 'left', why });

/** What tells one state of a file, or of a folder of files, from another without reading it (stat(2)). */
async function stateOf(place: string): Promise<string | null> {
  const one = async (path: string): Promise<string> => {
    const { dev, ino, size, mtimeNs } = await lstat(path, { bigint: true });
    return `${dev} ${ino} ${size} ${mtimeNs}`;
  };
  try {
    const facts = await lstat(place);
    const names = facts.isDirectory() ? (await readdir(place)).sort() : [];
    const inner = await Promise.all(names.map(async (name) => `${name} ${await one(under(place, name))}`));
    return [await one(place), ...inner].join('\n');
  } catch {
    return null;
  }
}

/** What an attempt that was killed had taken away already is put back under its name, to be looked at like any other. */
async function putBack(place: string, owner: string): Promise<void> {
  for (const name of await readdir(dirname(place)).catch(() => [])) {
    if (!name.startsWith(partsOf(owner))) continue;
    const aside = under(dirname(place), name);
    // Somebody made it again under its name meanwhile: this one was held against its checksum before.
    if (await exists(place)) await removePart(aside);
    else await nameAt(aside, place);
  }
}

/**
 * Deletes a file or set below `root` that was made here: read whole and held against its recorded checksum first, then
 * taken aside under a temporary name, looked at once more, and only then removed. What is not that, to the byte, or was
 * touched meanwhile, stays under its name; links are not followed. `owner` is of this one deletion, so that the next
 * attempt finds what a kill left. `staysNow` is asked once it was read, which may take long: why it stays after all.
 */
export async function removeMade(
  root: Root,
  path: string,
  known: KnownMade,
  owner: string,
  staysNow: () => Promise<string | null> = () => Promise.resolve(null),
): Promise<Removed> {
  try {
    return await holding(async (held) => {
      const place = await held.place(root, path);
      await putBack(place, owner);
      const facts = await lstat(place);
      if (!facts.isFile() && !facts.isDirectory()) return left('it is a link, or no file');
      const before = await stateOf(place);
      if ((await outputBytes(place)) !== known.sizeBytes) return left('it has another size than what was made');
      if ((await hashOutput(place)) !== known.xxh3) return left('it was changed since it was made');
      const stays = await staysNow();
      if (stays !== null) return left(stays);
      const { place: aside } = partNameBeside(place, owner);
      await nameAt(place, aside);
      if (before === null || (await stateOf(aside)) !== before) {
        await nameAt(aside, place);
        return left('it was changed while it was looked at');
      }
      await removePart(aside);
      await flushFolders([dirname(place)]);
      return { state: 'gone' };
    });
  } catch (error) {
    const { code } = error as NodeJS.ErrnoException;
    return code === 'ENOENT' || code === 'ENOTDIR' ? { state: 'not there' } : left(diskProblem(error, path).what);
  }
}
