import type { ReadEntry } from '@relay/core/clip/description';
import { describeFile } from '@relay/media/describe/describe';
import { holding } from '../stores/held.ts';
import type { FoundFile } from '../stores/walk.ts';

/** How many files are described at a time: each is mostly waiting for a small process to start. */
const atOnce = 4;

/** Runs `work` over `items`, `lanes` at a time, and keeps their order. */
export async function inLanes<T, R>(
  items: readonly T[],
  lanes: number,
  work: (item: T, index: number) => Promise<R>,
): Promise<R[]> {
  const results: R[] = [];
  let next = 0;
  const lane = async (): Promise<void> => {
    while (next < items.length) {
      const index = next;
      next += 1;
      results[index] = await work(items[index] as T, index);
    }
  };
  await Promise.all(Array.from({ length: Math.min(lanes, items.length) }, lane));
  return results;
}

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
