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

  it('place every signal to the cell: across by column, up from −64/876 to 959/876', () => {
    const drawn = scopesOf(Float32Array.of(0.5, 0.25, 0.75, 0.1, 0.2, 0.3, 0, 0, 0, 0.9, 1.2, 0.4), 4);
    const cells = ({ width, counts }: { width: number; counts: Uint32Array }): [number, number][] =>
      [...counts].flatMap((count, i) =>
        Array.from({ length: count }, (): [number, number] => [i % width, Math.floor(i / width)]),
      );
    const up = (x: number, steps: number): number => Math.floor(((x + 64 / 876) * steps) / (1023 / 876));
    const luma = [
      [0.5, 0.25, 0.75],
      [0.1, 0.2, 0.3],
      [0, 0, 0],
      [0.9, 1.2, 0.4],
    ].map(([r = 0, g = 0, b = 0]) => 0.2126 * r + 0.7152 * g + 0.0722 * b);
    const sorted = (all: [number, number][]): [number, number][] => all.sort((a, b) => a[0] - b[0] || a[1] - b[1]);
    expect(sorted(cells(drawn.waveform))).toEqual(luma.map((y, i) => [i * 64, up(y, 160)]));
    const third = (values: readonly number[], from: number): [number, number][] =>
      values.map((value, i) => [from + i * 64, up(value, 160)]);
    expect(sorted(cells(drawn.parade))).toEqual([
      ...third([0.5, 0.1, 0, 0.9], 0),
      ...third([0.25, 0.2, 0, 1.2], 256).map(([x, y]): [number, number] => [x, Math.min(159, y)]),
      ...third([0.75, 0.3, 0, 0.4], 512),
    ]);
    expect(sorted(cells(drawn.histogram)).filter(([, row]) => row === 0)).toEqual(
      sorted(luma.map((y) => [up(y, 256), 0])),
    );
    expect(sorted(cells(drawn.histogram)).filter(([, row]) => row === 3)).toEqual(
      sorted([0.75, 0.3, 0, 0.4].map((b) => [up(b, 256), 3])),
    );
    expect([drawn.clippedAbove, drawn.clippedBelow]).toEqual([0.25, 0.25]);
    expect(drawn.lumaCodes).toEqual([64, Math.round(64 + 876 * Math.max(...luma))]);
    expect(sorted(cells(drawn.vector))).toEqual(
      sorted(
        (
          [
            [0.5, 0.75],
            [0.1, 0.3],
            [0, 0],
            [0.9, 0.4],
          ] as const
        ).map(([r, b], i): [number, number] => [
          Math.floor(((b - (luma[i] as number)) / 1.8556 + 0.5) * 192),
          Math.floor(((r - (luma[i] as number)) / 1.5748 + 0.5) * 192),
        ]),
      ),
    );
  });

  it('of nothing are empty, and say no codes', () => {
    expect(scopesOf(new Float32Array(0), 4)).toMatchObject({ lumaCodes: [0, 0], clippedAbove: 0, clippedBelow: 0 });
  });
});
