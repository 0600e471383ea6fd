import { describe, expect, it } from 'vitest';
import type { BurnPlan } from '../burn/plan.ts';
import type { Geometry } from '../shape/geometry.ts';
import { barComparison } from './bars.ts';
import { burnComparison, type BurnSample } from './burn.ts';
import type { Sampled, Small } from './smalls.ts';

const raster = { width: 200, height: 100 };
const burn = {
  raster,
  plateStrength: 0.6,
  white: 1,
  boxes: [{ plate: { x: 20, y: 80, width: 100, height: 20 }, runs: [{ text: 'TAKE ' }, { text: '3' }] }],
  image: null,
  across: null,
} as unknown as BurnPlan;

/** A frame whose plate holds text of one luma on a ground of another; codes of 8 bits. */
function frame(text: number, ground: number, share: number): BurnSample {
  const luma = new Uint16Array(raster.width * raster.height).fill(128 * 256);
  for (let y = 80; y < 100; y += 1)
    for (let x = 20; x < 120; x += 1)
      luma[y * raster.width + x] = 256 * ((y - 80) * 100 + x - 20 < 2_000 * share ? text : ground);
  return { frame: 6, luma };
}
const held = (sample: BurnSample | null, transfer: string | null = 'bt709') =>
  burnComparison(burn, transfer, sample)[0];

describe('a burn-in on a decoded frame', () => {
  it('has the contrast of WCAG 2.2 between its text and its plate: 21 of white on black', () => {
    expect(held(frame(235, 16, 0.3))).toEqual({
      name: 'burn-in',
      planned: '1 line, contrast 4.5:1 at least',
      found: 'contrast 21.0:1 at least, on frame 7',
      holds: true,
    });
    // Grey of which WCAG says that it just is, and just is not, enough on white: #767676 and #777777, with white text.
    const code = (of: number): number => 16 + (219 * of) / 255;
    expect(held(frame(235, code(0x70), 0.3), 'iec61966-2-1')?.holds).toBe(true);
    expect(held(frame(235, code(0x80), 0.3), 'iec61966-2-1')?.holds).toBe(false);
  });

  it('is missing where hardly anything on its plate is bright', () => {
    expect(held(frame(16, 16, 0))).toMatchObject({ found: 'TAKE 3 is not to be seen on frame 7', holds: false });
    expect(held(frame(235, 16, 0.005))?.found).toContain('is not to be seen');
    expect(held(frame(235, 16, 0.02))?.holds).toBe(true);
    // Brighter than halfway between what shines through the plate at its brightest and the text: 169.3 here.
    expect(held(frame(169, 16, 0.3))?.found).toContain('is not to be seen');
    expect(held(frame(170, 16, 0.3))?.found).not.toContain('is not to be seen');
  });

  it('cannot be held without a frame, and need not where nothing is drawn', () => {
    expect(held(null)).toMatchObject({ found: 'no frame to look at', holds: false });
    expect(burnComparison({ ...burn, boxes: [] }, null, null)).toEqual([]);
    const two = { ...burn, boxes: [burn.boxes[0], burn.boxes[0]] } as BurnPlan;
    expect(burnComparison(two, null, null)[0]?.planned).toBe('2 lines, contrast 4.5:1 at least');
  });

  it('is as readable as the worst of its lines', () => {
    const worse = { ...burn.boxes[0], plate: { x: 20, y: 10, width: 100, height: 20 } };
    const sample = frame(235, 16, 0.3);
    for (let y = 10; y < 30; y += 1)
      for (let x = 20; x < 120; x += 1) sample.luma[y * raster.width + x] = 256 * (x < 50 ? 235 : 120);
    const [found] = burnComparison({ ...burn, boxes: [burn.boxes[0], worse] } as BurnPlan, 'bt709', sample);
    expect(found?.holds).toBe(false);
    expect(Number.parseFloat(found?.found.slice('contrast '.length) ?? '')).toBeLessThan(4.5);
  });
});

describe('bars around a picture', () => {
  const output = { width: 1920, height: 1080 };
  const geometry = (padColour: Geometry['padColour'], active = { x: 240, y: 0, width: 1440, height: 1080 }): Geometry =>
    ({ raster: output, active, padColour }) as Geometry;
  /** A small picture, a sample for each 20 of the output: 16 bits legal by the place. */
  const small = (luma: (x: number, y: number) => number): Small => ({
    width: 96,
    height: 54,
    luma: Uint16Array.from({ length: 96 * 54 }, (_, i) => luma(i % 96, Math.floor(i / 96)) * 256),
  });
  const compared = (of: Geometry, picture: Small, over: BurnPlan | null = null) =>
    barComparison({ video: { geometry: of }, outputs: new Map([[0, picture]]), burn: over } as unknown as Sampled)[0];
  /** Bars left and right of twelve small samples each, about a picture of another luma. */
  const boxed = (bar: number, inside: number): Small => small((x) => (x < 12 || x >= 84 ? bar : inside));

  it('are even, and the colour that was asked for', () => {
    expect(compared(geometry('black'), boxed(16, 90))).toEqual({
      name: 'active area',
      planned: '1440×1080 at 240, 0, black around it',
      found: 'around it within 0.0 of 1023',
      holds: true,
    });
    expect([
      compared(geometry('grey'), boxed(126, 90))?.holds,
      compared(geometry('white'), boxed(235, 90))?.holds,
    ]).toEqual([true, true]);
    expect(compared(geometry('black'), boxed(126, 90))?.holds).toBe(false);
    // Less than six codes of 8 bits, 24 of 1023.
    expect(compared(geometry('black'), boxed(21.9, 90))).toMatchObject({
      found: 'around it within 23.6 of 1023',
      holds: true,
    });
    expect(compared(geometry('black'), boxed(22, 90))?.holds).toBe(false);
    expect(compared(geometry('grey'), boxed(120, 90))?.holds).toBe(false);
  });

  it('are told wherever the picture lies in them, up to a sample from it', () => {
    const spot = (sx: number, sy: number) => small((x, y) => (x === sx && y === sy ? 90 : 16));
    const middle = geometry('black', { x: 400, y: 200, width: 1000, height: 600 });
    // Small samples 20 to 69 across and 10 to 39 down are the picture; 19 and 70, 9 and 40 touch it.
    const holds = (x: number, y: number): boolean | undefined => compared(middle, spot(x, y))?.holds;
    expect([holds(20, 20), holds(69, 39), holds(19, 20), holds(70, 20), holds(40, 9), holds(40, 40)]).toEqual(
      Array.from({ length: 6 }, () => true),
    );
    expect([holds(18, 20), holds(71, 20), holds(40, 8), holds(40, 41), holds(0, 0), holds(95, 53)]).toEqual(
      Array.from({ length: 6 }, () => false),
    );
  });

  it('are not asked for where the picture fills its raster, nor where something is drawn over them', () => {
    expect(compared(geometry('black', { x: 0, y: 0, ...output }), boxed(126, 90))).toBeUndefined();
    const drawn = {
      raster: output,
      boxes: [{ plate: { x: 0, y: 0, width: 240, height: 1080 } }],
      image: null,
      across: null,
    };
    const leftOnly = small((x) => (x < 12 ? 126 : x >= 84 ? 16 : 90));
    expect(compared(geometry('black'), leftOnly, drawn as unknown as BurnPlan)?.holds).toBe(true);
    expect(compared(geometry('black'), leftOnly)?.holds).toBe(false);
  });
});
