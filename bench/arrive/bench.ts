import { randomFillSync } from 'node:crypto';
import { mkdir, mkdtemp, rm, writeFile } from 'node:fs/promises';
import { basename, dirname, join } from 'node:path';
import { run } from '@relay/media/process/run';
import { arrive } from '@relay/work/arrive/arrive';
import { filesBelow } from '@relay/work/disk/walk';
import { median, secondsSince } from '../numbers.ts';

const cardFiles = { count: 24, bytes: 100e6 };
const sidecars = 200;

/** Runs a program and insists that it went well. */
async function must(program: string, args: readonly string[]): Promise<void> {
  const ended = await run(program, args, { own: true });
  if (ended.code !== 0) throw new Error(`${program} failed: ${ended.stderr}`);
}

/** Hash of every file below a folder, one after the other; past the page cache when asked. */
async function hashAll(folder: string, direct: boolean): Promise<void> {
  const { files } = await filesBelow(folder);
  const paths = files.map((file) => file.path);
  // The shell only joins dd and xxhsum; paths are arguments, never part of its text.
  if (direct)
    await must('bash', [
      '-c',
      'set -o pipefail; for f in "$@"; do dd if="$f" iflag=direct bs=4M status=none | xxhsum -H2 -q - >/dev/null || exit 1; done',
      'bash',
      ...paths,
    ]);
  else await must('xxhsum', ['-H2', '-q', ...paths]);
}

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
    const ways: readonly (readonly [string, (to: string) => Promise<void>])[] = [
      [
        'cp, 2 × xxhsum',
        async (to) => {
          await must('cp', ['-r', '--preserve=timestamps', card, to]);
          await hashAll(card, false);
          await hashAll(to, false);
        },
      ],
      [
        'the same, flushed and read back from disk',
        async (to) => {
          await must('cp', ['-r', '--preserve=timestamps', card, to]);
          await must('sync', ['-f', to]);
          await hashAll(card, false);
          await hashAll(to, true);
        },
      ],
      [
        'ours',
        async (to) => {
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
        },
      ],
    ];
    const times = ways.map((): number[] => []);
    for (let round = 0; round < rounds; round += 1) {
      for (const [index, [, way]] of ways.entries()) {
        const to = join(scratch, `to-${index}`);
        await must('sync', []);
        await hashAll(card, false);
        const from = performance.now();
        await way(to);
        times[index]?.push(secondsSince(from));
        await rm(to, { recursive: true });
      }
      console.log(
        `round ${round + 1}: ${ways.map(([name], index) => `${name} ${times[index]?.at(-1)?.toFixed(2)} s`).join(', ')}`,
      );
    }
    const [plain, guaranteed, ours] = times.map(median) as [number, number, number];
    console.log(
      `median of ${((cardFiles.count * cardFiles.bytes) / 1e9).toFixed(1)} GB and ${sidecars} sidecars: against the plain way ${(ours / plain).toFixed(3)}, against the plain way with the same guarantee ${(ours / guaranteed).toFixed(3)} (aim: at most 1.0)`,
    );
  } finally {
    await rm(scratch, { recursive: true, force: true });
  }
}
