import { mkdir, mkdtemp, rm, stat } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { basename, join } from 'node:path';
import { isRefusal, type ClipDescription } from '@relay/core/clip/description';
import { planBatch } from '@relay/core/recipe/batch';
import { finishAndCut } from '@relay/core/recipe/recipe';
import { likeness } from '@relay/media/likeness';
import { inLanes } from '@relay/work/lanes';
import { readFiles } from '@relay/work/read/readFiles';
import { runLeg } from '@relay/work/leg/leg';
import { openSheet } from '@relay/work/leg/sheet';
import { filesBelow } from '@relay/work/disk/walk';
import { median, secondsSince } from '../numbers.ts';
import { plainWay } from './plain.ts';

/**
 * The default recipe over a folder of originals, ours (read apart; sampling, making, proving, checksums, relink sheet)
 * against the plain way, alternating. Prints wall times, their ratio, and each output's likeness to its original.
 */
export async function benchFirstLeg(args: readonly string[]): Promise<void> {
  const source = args[0] ?? '.relay/painted/estuary/salt-lantern';
  const rounds = Math.max(3, Number(args[1] ?? 3));
  const scratch = await mkdtemp(join(tmpdir(), 'relay-bench-'));
  try {
    const { files } = await filesBelow(source);
    const entries = await readFiles(files);
    const clips = entries.filter((entry): entry is ClipDescription => !isRefusal(entry));
    const plans = planBatch(
      clips.map((clip) => ({ clip, whole: basename(source) })),
      finishAndCut,
      [],
    ).flatMap((plan) => (plan.ok ? [plan.value] : []));
    const legs = plans.map((plan) => ({ plan, source: join(source, plan.original.path) }));
    const ours: number[] = [];
    const plain: number[] = [];
    for (let round = 0; round < rounds; round += 1) {
      const [ourRoot, plainRoot] = [join(scratch, `ours-${round}`), join(scratch, `plain-${round}`)];
      let from = performance.now();
      await plainWay(legs, plainRoot);
      plain.push(secondsSince(from));
      from = performance.now();
      await mkdir(ourRoot, { recursive: true });
      const sheet = await openSheet(ourRoot);
      const results = await inLanes(legs, 2, (leg, index) =>
        runLeg(leg.plan, {
          sourceRoot: source,
          outRoot: ourRoot,
          owner: `bench-${index}`,
          whole: basename(source),
          recorded: (path) => sheet.recorded(path),
          record: (row) => sheet.record(row),
        }),
      );
      ours.push(secondsSince(from));
      const odd = results.filter((result) => result.state === 'failed' || result.state === 'stopped');
      if (odd.length > 0) throw new Error(`a leg failed: ${odd[0]?.problem?.what ?? ''}`);
      console.log(
        `round ${round + 1}: plain ${plain.at(-1)?.toFixed(1)} s, ours ${ours.at(-1)?.toFixed(1)} s, ratio ${((ours.at(-1) as number) / (plain.at(-1) as number)).toFixed(3)}`,
      );
    }
    console.log(
      `median: plain ${median(plain).toFixed(1)} s, ours ${median(ours).toFixed(1)} s, ratio ${(median(ours) / median(plain)).toFixed(3)} (aim: at most 0.8)`,
    );
    console.log(
      'output                                             ours MB  PSNR    SSIM    | plain MB  PSNR    SSIM    | difference',
    );
    let worst = Infinity;
    for (const leg of legs) {
      for (const output of leg.plan.outputs) {
        const [a, b] = [join(scratch, 'ours-0', output.path), join(scratch, 'plain-0', output.path)];
        const [mine, theirs] = [await likeness(a, leg.source, output), await likeness(b, leg.source, output)];
        const [size, plainSize] = [(await stat(a)).size / 1e6, (await stat(b)).size / 1e6];
        const off = mine.psnr - theirs.psnr;
        if (Number.isFinite(off)) worst = Math.min(worst, off);
        console.log(
          `${output.path.padEnd(50)} ${size.toFixed(1).padStart(7)}  ${mine.psnr.toFixed(2)}  ${mine.ssim.toFixed(4)}  | ${plainSize.toFixed(1).padStart(7)}   ${theirs.psnr.toFixed(2)}  ${theirs.ssim.toFixed(4)}  | ${off >= 0 ? '+' : ''}${off.toFixed(2)} dB`,
        );
      }
    }
    console.log(`worst difference: ${worst.toFixed(2)} dB (no visible loss: not below -0.3)`);
  } finally {
    await rm(scratch, { recursive: true, force: true });
  }
}
