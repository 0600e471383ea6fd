import { open, stat } from 'node:fs/promises';
import { join } from 'node:path';
import { sampleClip } from '@relay/core/clip/sample';
import { isRefusal } from '@relay/core/clip/description';
import type { OutputPlan } from '@relay/core/recipe/legPlan';
import { planLeg } from '@relay/core/recipe/plan';
import { finishAndCut, type Deliverable } from '@relay/core/recipe/recipe';
import { unwrap } from '@relay/core/result';
import { expect, it, vi } from 'vitest';
import { call, scratchFolder } from '../../testing/commands.ts';
import { describeFile } from '../describe/describe.ts';
import { inputArguments } from '../process/ffmpeg.ts';
import { Stalled } from '../process/watched.ts';
import { decodeWhole } from '../proof/decode.ts';
import { originalEvidence } from '../proof/evidence.ts';
import { asShown, letGo, pin } from '../process/pinned.ts';
import { firstPass } from './firstPass.ts';
import { performLeg } from './perform.ts';

// A minute made one and a half seconds.
vi.hoisted(() => {
  process.env.RELAY_STALL_MS = '1500';
});

it('what stands still is ended by itself, and says so', async () => {
  const folder = await scratchFolder();
  // A file that never gives a byte: a share that hangs looks like this.
  const pipe = join(folder, 'hangs.mov');
  await call('mkfifo', [pipe]);
  const held = await open(pipe, 'r+');
  try {
    const clip = sampleClip({ audio: [] });
    const plan = unwrap(planLeg(clip, { ...finishAndCut, deliverables: finishAndCut.deliverables.slice(1) }));
    // Opened already, as an original is: what stands still then is the reading.
    const pinned = pin(held, pipe);
    const files = { clip, paths: [pinned] };
    const output = plan.outputs[0] as OutputPlan;
    const [performed] = await Promise.all([
      performLeg({ plan, source: files, tunings: [{}] }, [join(folder, 'out.mov')]),
      expect(firstPass(output, files, {}, join(folder, 'pass'))).rejects.toThrow(Stalled),
      expect(originalEvidence(plan, files, [{}])).rejects.toThrow(Stalled),
      expect(decodeWhole({ input: inputArguments(pinned), picture: '0:v:0', sound: () => '0:a:0' }, 0)).rejects.toThrow(
        Stalled,
      ),
    ]);
    expect(performed.outcome).toBe('stalled');
    expect(asShown(performed.command.join(' '))).toContain(`file:${pipe}`);
  } finally {
    letGo(held);
    await held.close();
  }
});

it('what says nothing for long, but works, is left to it', async () => {
  const folder = await scratchFolder();
  const source = join(folder, 'grain.mov');
  await call('ffmpeg', [
    '-v',
    'error',
    '-f',
    'lavfi',
    '-i',
    'testsrc2=s=960x540:r=24:d=1.5,noise=alls=30:allf=t',
    '-c:v',
    'libx264',
    '-preset',
    'ultrafast',
    '-crf',
    '20',
    source,
  ]);
  const clip = await describeFile(source, 'grain.mov');
  if (isRefusal(clip)) throw new Error(clip.problem.what);
  const deliverable: Deliverable = {
    ...(finishAndCut.deliverables[1] as Deliverable),
    codec: { id: 'hevc', quality: 20, effort: 'thorough' },
    raster: { kind: 'source' },
  };
  const plan = unwrap(planLeg(clip, { ...finishAndCut, deliverables: [deliverable] }));
  const target = join(folder, 'out.mov');
  let longest = 0;
  let last = performance.now();
  const performed = await performLeg({ plan, source: { clip, paths: [source] }, tunings: [{}] }, [target], {
    onProgress: () => {
      longest = Math.max(longest, performance.now() - last);
      last = performance.now();
    },
  });
  expect(performed).toMatchObject({ outcome: 'done', errors: [] });
  expect((await stat(target)).size).toBeGreaterThan(10_000);
  // Or nothing was tried here: x265 reads 20 pictures and more ahead before its first.
  expect(longest).toBeGreaterThan(2_500);
});
