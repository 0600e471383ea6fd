import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Match } from './match.ts';
import { pulledFrames, pullOf } from './pull.ts';

const match = (original: number | null, from = 0, to = 0): Match => ({
  grade: original === null ? 'none' : 'exact',
  original,
  output: null,
  frames: original === null ? null : { from, to },
  why: '',
  near: [],
});
const originals = [{ frames: 100 }, { frames: 1_000 }];

describe('what is pulled for a cut', () => {
  it('is what its events need, with handles as far as the original goes', () => {
    const { stretches, left } = pullOf([match(1, 100, 120), null, match(0, 4, 95), match(null)], originals, {
      handles: 12,
      gap: 0,
    });
    expect(left).toEqual([3]);
    expect(stretches).toEqual([
      { original: 0, frames: { from: 0, to: 100 }, short: { before: 8, after: 7 }, events: [2] },
      { original: 1, frames: { from: 88, to: 132 }, short: { before: 0, after: 0 }, events: [0] },
    ]);
  });

  it('is one stretch where two touch with their handles, or lie closer than the gap', () => {
    const events = [match(1, 100, 110), match(1, 130, 140), match(1, 105, 107)];
    const pulled = (handles: number, gap: number): string[] =>
      pullOf(events, originals, { handles, gap }).stretches.map(
        ({ frames, events: of }) => `${frames.from}-${frames.to} of ${of.join()}`,
      );
    expect(pulled(0, 0)).toEqual(['100-110 of 0,2', '130-140 of 1']);
    expect(pulled(10, 0)).toEqual(['90-150 of 0,2,1']);
    expect(pulled(9, 0)).toEqual(['91-119 of 0,2', '121-149 of 1']);
    expect(pulled(0, 20)).toEqual(['100-140 of 0,2,1']);
  });

  it('is all of an original of sound alone, once', () => {
    const { stretches } = pullOf([match(0, 100, 120), match(0, 900, 910)], [{ frames: 0 }], { handles: 12, gap: 0 });
    expect(stretches).toEqual([
      { original: 0, frames: { from: 0, to: 0 }, short: { before: 0, after: 0 }, events: [0, 1] },
    ]);
  });

  it('has every frame that is needed in just one stretch, and none twice', () => {
    const event = fc
      .record({ original: fc.constantFrom(0, 1), from: fc.nat(99), length: fc.integer({ min: 1, max: 60 }) })
      .map(({ original, from, length }) =>
        match(original, from, Math.min(originals[original]?.frames ?? 0, from + length)),
      );
    fc.assert(
      fc.property(fc.array(event, { maxLength: 30 }), fc.nat(20), fc.nat(30), (events, handles, gap) => {
        const pull = pullOf(events, originals, { handles, gap });
        events.forEach(({ original, frames }, index) => {
          const holding = pull.stretches.filter(
            (one) =>
              one.original === original && frames && one.frames.from <= frames.from && frames.to <= one.frames.to,
          );
          expect(holding.map(({ events: of }) => of.includes(index))).toEqual([true]);
        });
        const frames = new Set(
          pull.stretches.flatMap(({ original, frames: { from, to } }) =>
            Array.from({ length: to - from }, (_, n) => `${original} ${from + n}`),
          ),
        );
        expect(frames.size).toBe(pulledFrames(pull));
      }),
      { numRuns: 200 },
    );
  });
});
