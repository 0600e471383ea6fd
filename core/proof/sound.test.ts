import { describe, expect, it } from 'vitest';
import type { SoundPlan } from '../recipe/legPlan.ts';
import { rational } from '../time/rational.ts';
import { lagOf, soundComparisons, swellLag, type Excerpt } from './sound.ts';

/** Seeded noise in bursts, so that every offset sounds different. */
function bursts(length: number, seed: number): Float32Array {
  let state = seed;
  return Float32Array.from({ length }, (_, i) => {
    state = (Math.imul(state, 1_664_525) + 1_013_904_223) >>> 0;
    return (state / 2 ** 31 - 1) * 0.3 * (Math.sin(i / 900) > 0 ? 1 : 0.05);
  });
}

const plan = (rest: Partial<SoundPlan> = {}): SoundPlan => ({
  sampleRate: 48_000,
  samples: 48_000,
  tracks: [{ from: 0, channels: 1, layout: null, bitDepth: 24 }],
  ...rest,
});
const original: Excerpt = { first: 0, channels: [bursts(24_000, 7), bursts(24_000, 8)] };
const [first] = original.channels as [Float32Array];
const shifted = (by: number, gain = 1): Excerpt => ({
  first: 0,
  channels: [first.map((_, i) => (first[i - by] ?? 0) * gain)],
});
const held = (found: Excerpt, sound = plan()): boolean[] =>
  soundComparisons(sound, [1, 1], [original], [[found]]).map(({ holds }) => holds);

describe('sound held against the original', () => {
  it('passes as it is, and up to a millisecond and a tenth of a decibel off', () => {
    expect(held(shifted(0))).toEqual([true, true]);
    expect(held(shifted(40))).toEqual([true, true]);
    expect(held(shifted(0, 10 ** (0.09 / 20)))).toEqual([true, true]);
  });

  it('does not pass late, early, louder, or as another channel', () => {
    expect(held(shifted(60))[0]).toBe(false);
    expect(held(shifted(-60))[0]).toBe(false);
    expect(held(shifted(0, 10 ** (0.12 / 20)))).toEqual([true, false]);
    expect(held({ first: 0, channels: [original.channels[1] as Float32Array] })[0]).toBe(false);
  });

  it('follows a matrix', () => {
    const mixed = first.map((value, i) => (value + (original.channels[1]?.[i] ?? 0)) / 2);
    const sound = plan({
      tracks: [
        {
          from: 0,
          channels: 1,
          layout: null,
          bitDepth: 24,
          sources: [0, 1],
          mix: [
            [
              { channel: 0, gain: 0.5 },
              { channel: 1, gain: 0.5 },
            ],
          ],
        },
      ],
    });
    expect(held({ first: 0, channels: [mixed] }, sound)).toEqual([true, true]);
    expect(held(shifted(0), sound)).toContain(false);
  });

  it('notices sound where silence was', () => {
    expect(
      soundComparisons(plan(), [1], [{ first: 0, channels: [new Float32Array(4800)] }], [[shifted(0)]]).some(
        ({ holds }) => !holds,
      ),
    ).toBe(true);
  });

  it('finds a lag to the sample', () => {
    const wanted = Float64Array.from(first.subarray(0, 8192));
    for (const by of [-900, -17, 0, 1, 333])
      expect(
        lagOf(
          wanted,
          Float64Array.from(wanted, (_, i) => wanted[i - by] ?? 0),
        ).lag,
      ).toBe(by);
  });

  it('tells by where it swells whether sound whose pitch was kept is in step', () => {
    // Swells at times that nothing repeats, of one tone before and another after: no wave is like its original's.
    const swelling = (tone: number, late = 0): Float32Array =>
      Float32Array.from(
        { length: 48_000 },
        (_, i) => Math.sin(i * tone) * 0.4 * Math.sin(((i - late) / 4000) ** 2 / 4) ** 8,
      );
    expect(swellLag(swelling(0.1), swelling(0.13))).toBe(0);
    expect(swellLag(swelling(0.1), swelling(0.13, 2880))).toBeCloseTo(60, 0);
    expect(
      swellLag(
        swelling(0.1),
        Float32Array.from({ length: 48_000 }, (_, i) => Math.sin(i / 9)),
      ),
    ).toBeNull();
    const kept = plan({ stretch: { by: rational(1), pitch: 'kept' } });
    const heldAs = (found: Float32Array): boolean[] =>
      soundComparisons(kept, [1], [{ first: 0, channels: [swelling(0.1)] }], [[{ first: 0, channels: [found] }]]).map(
        ({ holds }) => holds,
      );
    expect(heldAs(swelling(0.13, 480))).toEqual([true, true]);
    expect(heldAs(swelling(0.13, 2880))[0]).toBe(false);
    expect(heldAs(swelling(0.13, -2880))[0]).toBe(false);
  });
});
