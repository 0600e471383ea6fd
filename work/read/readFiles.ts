import { inLanes } from '../lanes.ts';
import type { ReadEntry } from '@relay/core/clip/description';
import { describeFile } from '@relay/media/describe/describe';
import { holding } from '../disk/held.ts';
import type { FoundFile } from '../disk/walk.ts';

/** How many files are described at a time: each is mostly waiting for a small process to start. */
const atOnce = 4;

/** Describes files several at once; the result is in their order. */
export async function readFiles(
  files: readonly FoundFile[],
  onDone: (done: number, entry: ReadEntry) => void = () => undefined,
): Promise<ReadEntry[]> {
  let done = 0;
  return inLanes(files, atOnce, async (file) => {
    const entry = await describeFound(file);
    done += 1;
    onDone(done, entry);
    return entry;
  });
}

/** Describes a file by what is opened of it now, whatever lay there when it was found. */
async function describeFound({ root, shownPath }: FoundFile): Promise<ReadEntry> {
  return holding(async (held) => {
    try {
      return await describeFile(await held.file(root, shownPath), shownPath);
    } catch (error) {
      const { code, message } = error as NodeJS.ErrnoException;
      const what = `${shownPath} cannot be read: ${code === undefined || code.startsWith('RELAY_') ? message : code}`;
      return {
        path: shownPath,
        sizeBytes: 0,
        problem: {
          kind: 'unreadable',
          what,
          remedy: 'Check that the store is mounted and the file may be read, then read again',
        },
      };
    }
  });
}
