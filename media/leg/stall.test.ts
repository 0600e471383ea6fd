import { open, stat } from 'node:fs/promises';
import { join } from 'node:path';
import { sampleClip } from '@relay/core/clip/sample';
import { isRefusal } from '@relay/core/clip/description';
import { planLeg } from '@relay/core/recipe/plan';
import { finishAndCut, type Deliverable } from '@relay/core/recipe/recipe';
import { unwrap } from '@relay/core/result';
import { expect, it } from 'vitest';
import type { performLeg as Performing } from './perform.ts';
import { describeFile } from '../describe/describe.ts';
import { call, scratchFolder } from '../../testing/commands.ts';

/** The leg's process with a minute made one and a half seconds. */
async function impatient(): Promise<typeof Performing> {
  process.env.RELAY_STALL_MS = '1500';
  try {
    return (await import('./perform.ts')).performLeg;
  } finally {
    delete process.env.RELAY_STALL_MS;
  }
}

it('what stands still is ended by itself, and says so', async () => {
  const performLeg = await impatient();
  const folder = await scratchFolder();
  // A file that never gives a byte: a share that hangs looks like this.
  const pipe = join(folder, 'hangs.mov');
  await call('mkfifo', [pipe]);
  const held = await open(pipe, 'r+');
  try {
    const clip = sampleClip({ audio: [] });
    const plan = unwrap(planLeg(clip, { ...finishAndCut, deliverables: finishAndCut.deliverables.slice(1) }));
    const performed = await performLeg(plan, { clip, paths: [pipe] }, [join(folder, 'out.mov')], [{}], () => undefined);
    expect(performed.outcome).toBe('stalled');
    expect(performed.command).toContain(`file:${pipe}`);
  } finally {
    await held.close();
  }
}, 40_000);

it('what says nothing for long, but works, is left to it', async () => {
  const performLeg = await impatient();
  const folder = await scratchFolder();
  const source = join(folder, 'grain.mov');
  await call('ffmpeg', ['-v', 'error', '-f', 'lavfi', '-i', 'testsrc2=s=960x540:r=24:d=2,noise=alls=30:allf=t', '-c:v', 'libx264', '-preset', 'ultrafast', '-crf', '20', source]);
  const clip = await describeFile(source, 'grain.mov');
  if (isRefusal(clip)) throw new Error(clip.problem.what);
  const deliverable: Deliverable = { ...finishAndCut.deliverables[1] as Deliverable, codec: { id: 'hevc', quality: 20, effort: 'thorough' }, raster: { kind: 'source' } };
  const plan = unwrap(planLeg(clip, { ...finishAndCut, deliverables: [deliverable] }));
  const target = join(folder, 'out.mov');
  let longest = 0;
  let last = performance.now();
  const performed = await performLeg(plan, { clip, paths: [source] }, [target], [{}], () => { longest = Math.max(longest, performance.now() - last); last = performance.now(); });
  expect(performed).toMatchObject({ outcome: 'done', errors: [] });
  expect((await stat(target)).size).toBeGreaterThan(10_000);
  // Or nothing was tried here: x265 reads 20 pictures and more ahead before its first.
  expect(longest).toBeGreaterThan(2_500);
}, 120_000);
