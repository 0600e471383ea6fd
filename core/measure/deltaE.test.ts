import { expect, it } from 'vitest';
import { fromCodes } from '../colour/ycbcr.ts';
import { evaluate, compile } from '../colour/ops/compile.ts';
import { seenApart, type CodedPicture } from './deltaE.ts';

/** A picture of one code, with one sample of another. */
function picture(luma: number, odd: number | null = null): CodedPicture {
  const size = 20 * 10;
  const planes = new Uint16Array(size * 3).fill(32_768);
  planes.fill(luma, 0, size);
  if (odd !== null) planes[0] = odd;
  return { width: 20, height: 10, planes, matrix: 'bt709' };
}
const tenBit = (code: number): number => code * 64;

it('equal pictures are no way apart', () => {
  expect(seenApart(picture(30_000), picture(30_000), null)).toEqual({ mean: 0, p99: 0 });
});

it('a ten-bit code of grey is about as far as can be seen, as BT.2124 means it to be', () => {
  // BT.709 grey of 100 cd/m² at mid signal: by hand, 720 × the difference of PQ of the two lights.
  const pq = (nits: number): number => {
    const y = (nits / 10_000) ** 0.1593017578125;
    return ((0.8359375 + 18.8515625 * y) / (1 + 18.6875 * y)) ** 78.84375;
  };
  const light = (code: number): number => 100 * ((code - 64) / 876) ** 2.4;
  const byHand = 720 * (pq(light(504)) - pq(light(500)));
  const { mean } = seenApart(picture(tenBit(504)), picture(tenBit(500)), null);
  expect(Math.abs(mean - byHand)).toBeLessThan(0.02 * byHand);
});

it('one sample of two hundred moves the mean and not the 99th', () => {
  const { mean, p99 } = seenApart(picture(30_000, 60_000), picture(30_000), null);
  expect(mean).toBeGreaterThan(0.1);
  expect(p99).toBe(0);
});

it('what is done to one before it is shown counts', () => {
  const doubled = {
    ...picture(20_000),
    ops: [{ op: 'matrix' as const, matrix: [2, 0, 0, 0, 2, 0, 0, 0, 2] as const, offset: [0, 0, 0] as const }],
  };
  const [signal] = evaluate(compile([fromCodes('bt709')]), [20_000 / 65_535, 0.5, 0.5]);
  const twice = Math.round(4096 + signal * 2 * 56_064);
  expect(seenApart(doubled, picture(twice), null).mean).toBeLessThan(0.05);
});

it('pictures of two sizes are refused', () => {
  expect(() => seenApart(picture(1), { ...picture(1), width: 10, height: 20 }, null)).toThrow(RangeError);
});
