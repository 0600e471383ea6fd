import { hostname } from 'node:os';
import { isAlive } from '@relay/media/process/alive';
import { discardAbandoned } from '@relay/work/disk/place';

/**
 * The mark of what this process makes. What an earlier one on this machine left half-made in the folders when it was
 * killed is removed; others may be at work there at the same time.
 */
export async function ownMark(folders: readonly string[]): Promise<string> {
  const mark = `cli.${hostname()}.`;
  for (const folder of folders)
    await discardAbandoned(
      folder,
      (owner) => owner.startsWith(mark) && !isAlive(Number(owner.slice(mark.length).split('.')[0])),
    );
  return `${mark}${process.pid}`;
}
