import { expect, it } from 'vitest';
import { sampleClip } from '../clip/sample.ts';
import { planBatch } from '../recipe/batch.ts';
import type { LegPlan } from '../recipe/legPlan.ts';
import { finishAndCut } from '../recipe/recipe.ts';
import { unwrap } from '../result.ts';
import { betterQuantiser, inProportion, kindOf, LikeClips } from './likeClips.ts';
import { quantiserFor, type QuantiserSample } from './quantiser.ts';

const coarsest = 64;

/** Frames whose size falls in proportion to the quantiser. */
function falling(atOne: number): QuantiserSample[] {
  return [1, 2, 4, 8, 16].map((quantiser) => ({ quantiser, bytes: atOne / quantiser }));
}

function planOf(change: Parameters<typeof sampleClip>[1] = {}): LegPlan {
  const clip = sampleClip({}, { bitsPerSecond: 50_000_000, ...change });
  const [plan] = planBatch([{ clip, whole: 'day' }], finishAndCut, []);
  if (!plan) throw new Error('no plan');
  return unwrap(plan);
}

const kind = (plan: LegPlan, output = 0): string | null => {
  const made = plan.outputs[output];
  if (!made) throw new Error('no such output');
  return kindOf(plan, made);
};

it('tells kinds by camera, settings and rate, and by what is made', () => {
  const plan = planOf();
  expect(kind(planOf({ frames: 999 }))).toBe(kind(plan));
  expect(kind(planOf({ bitsPerSecond: 49_000_000 }))).toBe(kind(plan));
  expect(kind(planOf({ bitsPerSecond: 80_000_000 }))).not.toBe(kind(plan));
  expect(kind(planOf({ bitDepth: 12 }))).not.toBe(kind(plan));
  expect(kind(plan, 1)).not.toBe(kind(plan, 0));
  expect(kind(planOf({ bitsPerSecond: null }))).toBeNull();
});

it('takes over what two clips agreed in, where a tenth more or less would change nothing', () => {
  const like = new LikeClips();
  // At 100 a frame: quantiser 1 for all frames of up to 100 there.
  like.learn('clean', falling(50), 1);
  expect(like.expected('clean', 100, coarsest)).toBeNull();
  like.learn('clean', falling(60), 1);
  expect(like.expected('clean', 100, coarsest)).toEqual(falling(60));
  expect(like.expected('another', 100, coarsest)).toBeNull();
  // Within a tenth of the limit the next may need another.
  like.learn('clean', falling(95), 1);
  expect(like.expected('clean', 100, coarsest)).toBeNull();
  // 105 a frame at 2: a tenth less would be well at 2, a tenth more not.
  like.learn('grainy', falling(190), 2);
  like.learn('grainy', falling(190), 2);
  expect(quantiserFor(falling(190), 100, coarsest)).toBe(2);
  expect(like.expected('grainy', 100, coarsest)).toBeNull();
});

it('samples again once two clips differ', () => {
  const like = new LikeClips();
  like.learn('day', falling(50), 1);
  like.learn('day', falling(60), 1);
  like.learn('day', falling(150), 2);
  expect(like.expected('day', 100, coarsest)).toBeNull();
  expect(like.last('day')?.quantiser).toBe(2);
});

it('forgets the oldest kinds first', () => {
  const like = new LikeClips();
  for (let n = 0; n <= 500; n += 1) like.learn(`kind ${n}`, falling(50), 1);
  expect(like.last('kind 0')).toBeNull();
  expect(like.last('kind 1')).not.toBeNull();
  expect(like.last('kind 500')).not.toBeNull();
});

it("brings a like clip's sizes to what came out, between those that are known too", () => {
  expect(inProportion(falling(100), 2, 75)).toEqual(falling(150));
  // Between 2 and 4 along the line that both lie on.
  for (const { quantiser, bytes } of inProportion(falling(120), 3, 20)) expect(bytes * quantiser).toBeCloseTo(60, 9);
});

it('has an output made again where the ceiling is passed, or a finer one clearly fits', () => {
  const limits = { limit: 98, ceiling: 100 };
  const after = (quantiser: number, bytes: number): number | null =>
    betterQuantiser(falling(100), { quantiser, bytes }, limits, coarsest);
  expect(after(2, 90)).toBeNull();
  // As far over as a sampled frame errs.
  expect(after(2, 101.9)).toBeNull();
  expect(after(2, 102.1)).toBe(3);
  // 47 at 2 are 94 at 1, within 0.97 of 98; 48 are 96, and are not.
  expect(after(2, 47)).toBe(1);
  expect(after(2, 48)).toBeNull();
  expect(after(1, 10)).toBeNull();
  // Coarser than the coarsest there is nothing.
  expect(after(coarsest, 500)).toBeNull();
});
