import { open } from 'node:fs/promises';
import { join } from 'node:path';
import { sampleClip } from '@relay/core/clip/sample';
import { planLeg } from '@relay/core/recipe/plan';
import { finishAndCut } from '@relay/core/recipe/recipe';
import { unwrap } from '@relay/core/result';
import { expect, it } from 'vitest';
import { call, scratchFolder } from '../../testing/commands.ts';

it('what stands still is ended by itself, and says so', async () => {
  process.env.RELAY_STALL_MS = '1500';
  const { performLeg } = await import('./perform.ts');
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
    delete process.env.RELAY_STALL_MS;
  }
}, 40_000);
