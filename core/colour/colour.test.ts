import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { bt709FromLinear, linearFromBt709 } from './curves/bt709.ts';
import { linearFromSlog3, slog3FromLinear } from './curves/slog3.ts';
import { between, toXyz } from './gamut.ts';
import { bt709 } from './gamuts/bt709.ts';
import { sgamut3cine } from './gamuts/sgamut3cine.ts';
import { apply } from './matrix.ts';

describe('S-Log3', () => {
  it('puts 18 % grey at code 420 and black at 95 of 1023, 90 % at 598 (published table)', () => {
    expect(slog3FromLinear(0.18) * 1023).toBeCloseTo(420, 9);
    expect(slog3FromLinear(0) * 1023).toBeCloseTo(95, 9);
    expect(Math.round(slog3FromLinear(0.9) * 1023)).toBe(598);
  });
});

describe('gamuts', () => {
  it('give BT.709 the luminance weights of its own luma equation (BT.709-6, item 3.2)', () => {
    const m = toXyz(bt709);
    expect(m[3]).toBeCloseTo(0.2126, 4);
    expect(m[4]).toBeCloseTo(0.7152, 4);
    expect(m[5]).toBeCloseTo(0.0722, 4);
  });

  it('keep neutrals neutral between gamuts of one white', () => {
    for (const value of apply(between(bt709, sgamut3cine), [0.18, 0.18, 0.18])) expect(value).toBeCloseTo(0.18, 9);
  });
});

it('curves are their own inverses, and rise', () => {
  fc.assert(
    fc.property(fc.double({ min: 0, max: 1, noNaN: true }), (x) => {
      expect(linearFromSlog3(slog3FromLinear(x))).toBeCloseTo(x, 9);
      expect(linearFromBt709(bt709FromLinear(x))).toBeCloseTo(x, 4);
      expect(slog3FromLinear(x + 1e-3)).toBeGreaterThan(slog3FromLinear(x));
    }),
  );
});
