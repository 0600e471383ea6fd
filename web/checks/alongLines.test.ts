import type { Along } from '@relay/core/measure/along';
import { describe, expect, it } from 'vitest';
import { colourLines, flowLines, likenessLines, soundLines } from './alongLines.ts';

const along: Along = {
  version: 1,
  rate: { num: 25, den: 1 },
  frames: 12_000,
  every: 2,
  psnr: Array.from({ length: 6_000 }, (_, n) => (n === 3_001 ? 20 : n % 5 === 0 ? null : 40)),
  ssim: Array.from({ length: 6_000 }, (_, n) => (n === 3_001 ? 0.5 : 0.99)),
  missing: 0,
  seen: [{ frame: 50, mean: 0.4, p99: 2 }],
  sound: [],
  flow: { output: [1e6, 2e6], original: null },
};

describe('lines along an output', () => {
  it('of more frames than a screen is wide keep the worst of each spot, at its second', () => {
    const [psnr, ssim] = likenessLines(along);
    expect(ssim?.y).toHaveLength(2_400);
    expect(Math.min(...(ssim?.y as number[]))).toBe(0.5);
    expect(Math.min(...(psnr?.y as number[]).filter((one) => one !== null))).toBe(20);
    const at = ssim?.y.indexOf(0.5) ?? 0;
    // Frame 6,002 of 25 a second.
    expect(Math.abs((ssim?.x[at] ?? 0) - 6_002 / 25)).toBeLessThan(0.2);
    expect(ssim?.x).toHaveLength(2_400);
  });

  it('of few have each of them', () => {
    const few = likenessLines({ ...along, psnr: [30, null], ssim: [0.9, 1] });
    expect(few.map(({ x, y }) => [x, y])).toEqual([
      [
        [0, 0.08],
        [30, null],
      ],
      [
        [0, 0.08],
        [0.9, 1],
      ],
    ]);
    expect(colourLines(along).map(({ x, y }) => [x, y])).toEqual([
      [[2], [0.4]],
      [[2], [2]],
    ]);
    expect(colourLines({ ...along, seen: null })[0]?.y).toEqual([]);
  });

  it('of sound and data keep the loudest, and what is not known is not drawn', () => {
    const silent = { peak: [null, null], loudness: [null, null] };
    const loud = { peak: Array.from({ length: 4_800 }, (_, n) => (n === 9 ? -1 : -30)), loudness: [-23] };
    const [original, output] = soundLines({ track: 0, step: 0.1, output: loud, original: silent }, 'peak');
    expect([original?.broken, original?.y]).toEqual([true, [null, null]]);
    expect(Math.max(...(output?.y as number[]))).toBe(-1);
    expect(output?.x.at(-1)).toBeCloseTo(480 - 0.2, 6);
    expect(flowLines(along)).toEqual([{ name: 'output', x: [0, 1], y: [1, 2], broken: false }]);
  });
});
