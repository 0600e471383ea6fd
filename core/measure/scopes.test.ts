import { describe, expect, it } from 'vitest';
import { highestShown, lowestShown, scopesOf } from './scopes.ts';

const picture = (
  width: number,
  height: number,
  at: (x: number, y: number) => readonly [number, number, number],
): Float32Array =>
  Float32Array.from({ length: width * height }, (_, i) => i).reduce(
    (all, _, i) => (all.set(at(i % width, Math.floor(i / width)), i * 3), all),
    new Float32Array(width * height * 3),
  );
const total = (counts: Uint32Array): number => counts.reduce((a, b) => a + b, 0);

describe('scopes', () => {
  const half = scopesOf(
    picture(64, 8, (x) => (x < 32 ? [0, 0, 0] : [1, 1, 1])),
    64,
  );

  it('count every sample once, the parade once a channel', () => {
    expect([
      total(half.waveform.counts),
      total(half.parade.counts),
      total(half.vector.counts),
      total(half.histogram.counts),
    ]).toEqual([512, 1536, 512, 2048]);
  });

  it('place black and white where 64 and 940 of 1023 lie, left and right as in the picture', () => {
    const { width, height, counts } = half.waveform;
    const row = (level: number): number => Math.floor(((level - lowestShown) / (highestShown - lowestShown)) * height);
    const inRow = (y: number, from: number, to: number): number =>
      total(counts.slice(y * width + from, y * width + to));
    expect([inRow(row(0), 0, width / 2), inRow(row(1), width / 2, width)]).toEqual([256, 256]);
    expect(half.lumaCodes).toEqual([64, 940]);
    expect([half.clippedAbove, half.clippedBelow]).toEqual([0.5, 0.5]);
  });

  it("place pure colours where BT.709's equations do: red is all Cr, greys are in the middle", () => {
    const red = scopesOf(
      picture(4, 4, () => [1, 0, 0]),
      4,
    );
    const at = red.vector.counts.findIndex((count) => count > 0);
    const [cb, cr] = [
      (at % red.vector.width) / red.vector.width - 0.5,
      Math.floor(at / red.vector.width) / red.vector.height - 0.5,
    ];
    expect(cb).toBeCloseTo(-0.2126 / 1.8556, 1);
    expect(cr).toBeCloseTo(0.495, 1);
    const grey = scopesOf(
      picture(4, 4, () => [0.3, 0.3, 0.3]),
      4,
    );
    expect(grey.vector.counts[(grey.vector.height / 2) * grey.vector.width + grey.vector.width / 2]).toBe(16);
  });

  it('hold what lies beyond the shown range at its edge', () => {
    const beyond = scopesOf(
      picture(2, 1, (x) => (x === 0 ? [-3, -3, -3] : [7, 7, 7])),
      2,
    );
    expect(total(beyond.waveform.counts.slice(0, beyond.waveform.width))).toBe(1);
  });
});
