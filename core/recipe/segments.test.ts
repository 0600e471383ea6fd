import { expect, it } from 'vitest';
import fc from 'fast-check';
import { sampleClip } from '../clip/sample.ts';
import { unwrap } from '../result.ts';
import { rational } from '../time/rational.ts';
import type { LegPlan } from './legPlan.ts';
import { planLeg } from './plan.ts';
import { finishAndCut, type Deliverable } from './recipe.ts';
import { canBeCut, cutInto, segmentCount } from './segments.ts';

const finish = finishAndCut.deliverables[0] as Deliverable;
const planOf = (deliverable: Partial<Deliverable>, clip = sampleClip()): LegPlan =>
  unwrap(planLeg(clip, { ...finishAndCut, deliverables: [{ ...finish, ...deliverable }] }));

it('cuts what is made picture by picture, and nothing else', () => {
  expect(canBeCut(planOf({}))).toBe(true);
  expect(
    canBeCut(planOf({ codec: { id: 'vc3', profile: 'hqx' }, raster: { kind: 'fit', width: 1280, height: 720 } })),
  ).toBe(true);
  // Pictures that lean on each other, another wrapper, a rate over the whole.
  expect(canBeCut(planOf({ codec: { id: 'h264', quality: 21 } }))).toBe(false);
  expect(canBeCut(planOf({ codec: { id: 'vc3', profile: 'hqx' }, wrapper: 'mxf' }))).toBe(false);
  expect(
    canBeCut(
      planOf({
        codec: { id: 'h264', quality: 21, intra: true, rate: { kind: 'average', bitsPerSecond: 3e6, passes: 2 } },
      }),
    ),
  ).toBe(false);
  expect(canBeCut(planOf({}, sampleClip({ cutShort: 'the index ends early' })))).toBe(false);
  expect(canBeCut(planOf({}, sampleClip({}, { rateConstant: false })))).toBe(false);
  // Fields made whole look at their neighbours; a leg with one such output is made whole.
  expect(
    canBeCut(planOf({ interlaced: 'deinterlace' }, sampleClip({}, { scan: 'top-field-first', rate: rational(25) }))),
  ).toBe(false);
  expect(canBeCut(unwrap(planLeg(sampleClip(), finishAndCut)))).toBe(false);
});

it('cuts only where somebody stands idle, and never into less than is worth it', () => {
  expect(segmentCount(100_000, 0)).toBe(1);
  expect(segmentCount(959, 3)).toBe(1);
  expect(segmentCount(960, 3)).toBe(2);
  expect(segmentCount(100_000, 3)).toBe(12);
});

it('leaves no frame out and takes none twice', () => {
  fc.assert(
    fc.property(fc.integer({ min: 1, max: 500_000 }), fc.integer({ min: 1, max: 60 }), (frames, wanted) => {
      const count = Math.min(frames, wanted);
      const segments = cutInto(frames, count);
      let next = 0;
      for (const { from, frames: length } of segments) {
        expect(from).toBe(next);
        expect(length).toBeGreaterThan(0);
        next += length;
      }
      expect(next).toBe(frames);
      expect(
        Math.max(...segments.map((one) => one.frames)) - Math.min(...segments.map((one) => one.frames)),
      ).toBeLessThanOrEqual(1);
    }),
  );
});
