import { rm } from 'node:fs/promises';
import { join } from 'node:path';
import { run } from '@relay/media/process/run';
import { filesBelow } from '@relay/work/disk/walk';
import { median, secondsSince } from './numbers.ts';

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
 * The plain ways of copying a folder and proving the copy: as people do it (nothing is flushed, the copy is hashed out of
 * memory), and with the guarantee that ours gives (flushed, the copy hashed past the page cache).
 */
function plainCopies(from: string): [name: string, way: (to: string) => Promise<void>][] {
  return [
    [
      'cp, 2 × xxhsum',
      async (to) => {
        await must('cp', ['-r', '--preserve=timestamps', from, to]);
        await hashAll(from, false);
        await hashAll(to, false);
      },
    ],
    [
      'the same, flushed and read back from disk',
      async (to) => {
        await must('cp', ['-r', '--preserve=timestamps', from, to]);
        await must('sync', ['-f', to]);
        await hashAll(from, false);
        await hashAll(to, true);
      },
    ],
  ];
}

/** Our copy of `from`, and the plain ways, alternating; prints each round, and the medians' ratios. */
export async function alternateCopies(of: {
  scratch: string;
  from: string;
  ours: (to: string) => Promise<void>;
  rounds: number;
  /** What is copied, in words. */
  what: string;
}): Promise<void> {
  const ways: [string, (to: string) => Promise<void>][] = [...plainCopies(of.from), ['ours', of.ours]];
  const times = ways.map((): number[] => []);
  for (let round = 0; round < of.rounds; round += 1) {
    for (const [index, [, way]] of ways.entries()) {
      const to = join(of.scratch, `to-${index}`);
      await must('sync', []);
      // The page cache has it for all of them.
      await hashAll(of.from, false);
      const began = performance.now();
      await way(to);
      times[index]?.push(secondsSince(began));
      await rm(to, { recursive: true });
    }
    console.log(
      `round ${round + 1}: ${ways.map(([name], index) => `${name} ${times[index]?.at(-1)?.toFixed(2)} s`).join(', ')}`,
    );
  }
  const [plain, guaranteed, ours] = times.map(median) as [number, number, number];
  console.log(
    `median of ${of.what}: against the plain way ${(ours / plain).toFixed(3)}, against the plain way with the same guarantee ${(ours / guaranteed).toFixed(3)} (aim: at most 1.0)`,
  );
}
