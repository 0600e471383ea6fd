import { unlink } from 'node:fs/promises';
import { exists, nameAt, partNameBeside } from '../disk/place.ts';
import type { CopiedFile } from '../disk/copyFile.ts';

/**
 * Makes a file where an older version of ours lies: that is set aside under a temporary name, goes once the new one is
 * proved and named, and is put back where it is not. What a kill in between leaves is the next attempt's to clear.
 */
export async function inPlaceOf(place: string, owner: string, make: () => Promise<CopiedFile>): Promise<CopiedFile> {
  const { place: aside } = partNameBeside(place, owner);
  await nameAt(place, aside);
  let made = false;
  try {
    const copied = await make();
    made = copied.outcomes[0]?.ok ?? false;
    return copied;
  } finally {
    if (made) await unlink(aside).catch(() => undefined);
    else if (!(await exists(place))) await nameAt(aside, place).catch(() => undefined);
  }
}
