import { createHash } from 'node:crypto';
import { describe, expect, it } from 'vitest';
import { coder } from '../encode/codes.ts';
import { wav } from '../encode/sound.ts';
import { originals } from '../originals.ts';
import { newCanvas } from './canvas.ts';
import { painterOf } from './estuary.ts';
import { drawChart, drawSlate, readStrip } from './slate.ts';

describe('the painted pictures', () => {
  it('are the same every time', () => {
    const paint = (): string => {
      const painter = painterOf(160, 90, 1, (originals[0] as (typeof originals)[number]).shot);
      painter.paint(1.25);
      const codes = new Uint16Array(160 * 90 * 3);
      coder('slog3', 260, 11)(painter.canvas, codes, 3);
      return createHash('sha1').update(codes).digest('hex');
    };
    expect(paint()).toBe(paint());
  });

  it('change from moment to moment below the horizon', () => {
    const painter = painterOf(160, 90, 1, (originals[0] as (typeof originals)[number]).shot);
    painter.paint(0);
    const before = painter.canvas.light.slice();
    painter.paint(0.5);
    const below = 60 * 160 * 3;
    expect(painter.canvas.light.slice(below).some((value, index) => value !== before[below + index])).toBe(true);
  });

  it('paint one field at a time for interlaced originals', () => {
    const painter = painterOf(160, 90, 1, (originals[0] as (typeof originals)[number]).shot);
    painter.paint(0);
    const row = (n: number): string => painter.canvas.light.slice(n * 480, (n + 1) * 480).join();
    const [even, odd] = [row(80), row(81)];
    painter.paint(0.5, 1);
    expect(row(80)).toBe(even);
    expect(row(81)).not.toBe(odd);
  });

  it('carry their frame number where it can be read back, squeezed or not', () => {
    for (const [width, pixelAspect] of [
      [640, 1],
      [480, 4 / 3],
    ] as const) {
      for (const frame of [0, 1, 71, 4095, 65_535]) {
        const canvas = newCanvas(width, 360, pixelAspect);
        drawSlate(canvas, 'A001 C003', '10:02:11:08', frame);
        const luma = Float32Array.from({ length: width * 360 }, (_, at) => canvas.light[at * 3 + 1] as number);
        expect(readStrip(luma, width, 360, 16 / 9)).toBe(frame);
      }
    }
  });

  it('hold a ring that is a circle only at the true shape', () => {
    const extent = (pixelAspect: number): { wide: number; high: number } => {
      const canvas = newCanvas(Math.round(640 / pixelAspect), 360, pixelAspect);
      drawChart(canvas, 1, 0.1, 0.5);
      const lit: [number, number][] = [];
      canvas.light.forEach((value, at) => {
        const [x, y] = [Math.floor(at / 3) % canvas.width, Math.floor(at / 3 / canvas.width)];
        if (at % 3 === 1 && value === Math.fround(0.8) && x * pixelAspect > 1.53 * 360) lit.push([x, y]);
      });
      const span = (values: number[]): number => Math.max(...values) - Math.min(...values) + 1;
      return { wide: span(lit.map(([x]) => x)), high: span(lit.map(([, y]) => y)) };
    };
    const round = extent(1);
    expect(Math.abs(round.wide - round.high)).toBeLessThanOrEqual(2);
    const squeezed = extent(4 / 3);
    expect(squeezed.high / squeezed.wide).toBeCloseTo(4 / 3, 1);
  });
});

it('the bell strikes on each whole second, and silence is silent', () => {
  const samples = (file: Buffer, at: number): number => file.readIntLE(44 + at * 3, 3);
  const bell = wav('bell', 2);
  const peak = (from: number): number =>
    Math.max(...Array.from({ length: 480 }, (_, i) => Math.abs(samples(bell, from + i))));
  expect(peak(48_000)).toBeGreaterThan(20 * peak(47_400));
  expect(
    wav('silence', 1)
      .subarray(44)
      .every((byte) => byte === 0),
  ).toBe(true);
});
