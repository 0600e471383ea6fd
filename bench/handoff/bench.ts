import { randomFillSync } from 'node:crypto';
import { mkdir, mkdtemp, rm, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { hashFile } from '@relay/work/disk/hash';
import { deliver } from '@relay/work/handoff/deliver';
import type { ParcelItem } from '@relay/work/handoff/parcel';
import { alternateCopies } from '../plainCopy.ts';

const outputs = { count: 2_000, bytes: 1.5e6, aFolder: 100 };

/** Outputs as runs leave them, with the sums that were recorded of them. */
async function paintOutputs(folder: string): Promise<ParcelItem[]> {
  const bytes = Buffer.allocUnsafe(outputs.bytes);
  const items: ParcelItem[] = [];
  for (let index = 0; index < outputs.count; index += 1) {
    const roll = `proxy/R${String(Math.floor(index / outputs.aFolder) + 1).padStart(3, '0')}`;
    const path = `${roll}/${index}.mp4`;
    await mkdir(join(folder, roll), { recursive: true });
    await writeFile(join(folder, path), randomFillSync(bytes));
    const xxh3 = await hashFile(join(folder, path));
    items.push({ path, kind: 'output', sizeBytes: bytes.length, xxh3, from: { root: folder, path } });
  }
  return items;
}

/**
 * A hand-off of 3 GB in 2,000 files to a folder, against `cp -r` followed by xxhsum on both sides, as people do it and
 * with the same guarantee. The outputs are in the page cache for all. Arguments: a folder to work in, rounds (3).
 */
export async function benchHandoff(args: readonly string[]): Promise<void> {
  const rounds = Math.max(3, Number(args[1] ?? 3));
  const scratch = await mkdtemp(join(args[0] ?? '.relay', 'bench-handoff-'));
  try {
    const from = join(scratch, 'out');
    const items = await paintOutputs(from);
    const ours = async (to: string): Promise<void> => {
      await mkdir(to);
      const made = await deliver({
        id: 'bench',
        items,
        texts: (came) => [{ path: 'READ ME.txt', text: `${came.size} files\r\n` }],
        to: { store: 'drive', at: to },
        mark: { receiver: '', called: 'bench', handoffs: [] },
        journals: join(scratch, 'journals'),
        host: 'bench',
      });
      if (made.state !== 'proved' || !made.readFromDisk || made.came.length !== outputs.count)
        throw new Error(`not proved from disk: ${made.problem?.what ?? made.problems[0]?.what ?? ''}`);
    };
    const what = `${((outputs.count * outputs.bytes) / 1e9).toFixed(1)} GB in ${outputs.count} files`;
    await alternateCopies({ scratch, from, ours, rounds, what });
  } finally {
    await rm(scratch, { recursive: true, force: true });
  }
}
