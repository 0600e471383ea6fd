import { randomFillSync } from 'node:crypto';
import { mkdir, mkdtemp, rm, writeFile } from 'node:fs/promises';
import { basename, dirname, join } from 'node:path';
import { arrive } from '@relay/work/arrive/arrive';
import { alternateCopies } from '../plainCopy.ts';

const cardFiles = { count: 24, bytes: 100e6 };
const sidecars = 200;

/**
 * Copy and verification of one card to one destination, against `cp` followed by xxhsum of the card and of the copy.
 * Two plain ways: as people do it (nothing is flushed, the copy is hashed out of memory), and with the guarantee that
 * ours gives (flushed, the copy hashed past the page cache). The card is in the page cache for all three.
 */
export async function benchArrive(args: readonly string[]): Promise<void> {
  const rounds = Math.max(3, Number(args[1] ?? 3));
  const scratch = await mkdtemp(join(args[0] ?? '.relay', 'bench-arrive-'));
  try {
    const card = join(scratch, 'card');
    await mkdir(join(card, 'CLIPS'), { recursive: true });
    const bytes = Buffer.allocUnsafe(cardFiles.bytes);
    for (let index = 0; index < cardFiles.count; index += 1)
      await writeFile(join(card, 'CLIPS', `${index}.mov`), randomFillSync(bytes));
    for (let index = 0; index < sidecars; index += 1)
      await writeFile(join(card, 'CLIPS', `${index}.XML`), `<clip><n>${index}</n></clip>`);
    const ours = async (to: string): Promise<void> => {
      const result = await arrive({
        roll: 'X',
        card,
        journals: join(dirname(to), 'journals'),
        destinations: [{ store: 'x', at: { root: dirname(to), folder: basename(to) } }],
        hash: 'xxh128',
        alsoMd5: false,
        rule: { copies: 1, stores: 1, oneDisk: true },
        owner: 'arrival.bench',
        host: 'bench',
      });
      if (!result.clearing.clear || !result.copies[0]?.readFromDisk)
        throw new Error(`not proved from disk: ${result.clearing.says}`);
    };
    const what = `${((cardFiles.count * cardFiles.bytes) / 1e9).toFixed(1)} GB and ${sidecars} sidecars`;
    await alternateCopies({ scratch, from: card, ours, rounds, what });
  } finally {
    await rm(scratch, { recursive: true, force: true });
  }
}
