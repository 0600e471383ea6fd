import { build } from 'esbuild';
import type { Comparison } from '@relay/contract/checks';
import type { Window } from '@relay/core/shape/window';
import type { PlainPainter } from '@relay/web/checks/pairPlain';
import type { View } from '@relay/web/checks/view';
import type { Browser, Page } from 'playwright-core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { openBrowser } from './browser.ts';

/** What moves is drawn in a browser, dot by dot: each test's pictures lie on the canvas sample by dot. */

let browser: Browser;
let page: Page;

beforeAll(async () => {
  browser = await openBrowser();
  page = await browser.newPage();
  const { outputFiles } = await build({
    entryPoints: ['web/checks/pairPlain.ts'],
    bundle: true,
    write: false,
    format: 'iife',
    globalName: 'drawing',
  });
  await page.addScriptTag({ content: outputFiles[0]?.text ?? '' });
});
afterAll(() => browser.close());

const ground = [0x2b, 0x2b, 0x2b];
const size = { width: 80, height: 24 };

/** Two pictures of 40 by 20, beside each other in one stream; their colours tell every sample from its neighbours. */
const left = (x: number, y: number): number[] => [(x * 5 + y) % 256, (y * 12) % 256, (200 + x * y) % 256];
const right = (x: number, y: number): number[] => [(x * 5 + y + 7) % 256, (y * 12 + 3 * x) % 256, 90];

interface Boxes {
  against: Window;
  output: Window;
}
const same: Boxes = {
  against: { x: 0, y: 0, width: 40, height: 20 },
  output: { x: 0, y: 0, width: 40, height: 20 },
};

function laidOut({ against, output }: Boxes, how: Partial<View>): { both: Comparison; view: View } {
  const played = { width: 40, height: 20 };
  return {
    both: {
      output: { box: output, played: { x: 40, y: 0, ...played } },
      against: { box: against, played: { x: 0, y: 0, ...played } },
    } as Comparison,
    view: {
      ...{ looking: 'difference', scale: 1, wipe: 0.5, gain: 1, smoothly: true, ...how },
      centre: { x: 20, y: 10 },
    },
  };
}

interface Drawing {
  drawing: { PlainPainter: new (made: () => unknown) => PlainPainter };
}

/** What is on the canvas: a dot's three colours by its place on the plane, whose origin is dot (20, 2). */
async function drawn(boxes: Boxes, how: Partial<View>): Promise<(x: number, y: number) => readonly number[]> {
  const samples = Array.from({ length: 80 * 20 }, (_, index) => {
    const [x, y] = [index % 80, Math.floor(index / 80)];
    return [...(x < 40 ? left(x, y) : right(x - 40, y)), 255];
  }).flat();
  const dots = await page.evaluate(
    ([stream, { both, view }, { width, height }]) => {
      const { PlainPainter: Painter } = (globalThis as unknown as Drawing).drawing;
      const made = () => new OffscreenCanvas(1, 1).getContext('2d', { alpha: false });
      const frame = new VideoFrame(new Uint8Array(stream), {
        format: 'RGBA',
        codedWidth: 80,
        codedHeight: 20,
        timestamp: 0,
      });
      const painter = new Painter(made);
      const canvas = new OffscreenCanvas(width, height).getContext('2d', { alpha: false });
      if (!canvas) throw new Error('no canvas');
      if (painter.paint(canvas, both, view)) throw new Error('something was drawn before there was a picture');
      painter.take(frame);
      painter.paint(canvas, both, view);
      return [...canvas.getImageData(0, 0, width, height).data];
    },
    [samples, laidOut(boxes, how), size] as const,
  );
  return (x, y) => dots.slice(((y + 2) * size.width + x + 20) * 4).slice(0, 3);
}

/** Every dot of the plane's stretch that the canvas shows is as `wanted` says. */
function expectDots(
  dot: (x: number, y: number) => readonly number[],
  wanted: (x: number, y: number) => readonly number[],
): void {
  for (let y = -2; y < 22; y += 1)
    for (let x = -20; x < 60; x += 1) expect(dot(x, y), `at ${x}, ${y}`).toEqual(wanted(x, y));
}

const within = ({ x: from, y: top, width, height }: Window, x: number, y: number): boolean =>
  x >= from && y >= top && x < from + width && y < top + height;

const apart = (gain: number, a: readonly number[], b: readonly number[]): number[] =>
  a.map((value, index) => Math.min(255, gain * Math.abs(value - (b[index] ?? 0))));

describe('what moves', () => {
  it.each([1, 4, 64])('by difference, strengthened %d times', async (gain) => {
    expectDots(await drawn(same, { gain }), (x, y) =>
      within(same.output, x, y) ? apart(gain, left(x, y), right(x, y)) : ground,
    );
  });

  it('by difference where one was cropped: only what both have, each where it lies', async () => {
    const boxes: Boxes = { ...same, against: { x: -8, y: 3, width: 40, height: 20 } };
    expectDots(await drawn(boxes, {}), (x, y) =>
      within(boxes.output, x, y) && within(boxes.against, x, y) ? apart(1, left(x + 8, y - 3), right(x, y)) : ground,
    );
  });

  it('by difference where they have nothing in common: nothing', async () => {
    expectDots(await drawn({ ...same, against: { x: 40, y: 0, width: 20, height: 20 } }, {}), () => ground);
  });

  it('one alone, and parted by a line of two dots', async () => {
    expectDots(await drawn(same, { looking: 'left alone', smoothly: false }), (x, y) =>
      within(same.output, x, y) ? left(x, y) : ground,
    );
    expectDots(await drawn(same, { looking: 'right alone', smoothly: false }), (x, y) =>
      within(same.output, x, y) ? right(x, y) : ground,
    );
    expectDots(await drawn(same, { looking: 'wipe', wipe: 0.25, smoothly: false }), (x, y) =>
      x === 0 || x === -1
        ? [0xd8, 0xd8, 0xd8]
        : within(same.output, x, y)
          ? x < 0
            ? left(x, y)
            : right(x, y)
          : ground,
    );
  });

  it('is the same by its samples, which not every browser hands out', async () => {
    const seen = await page.evaluate(
      async ([{ both, view }]) => {
        const { PlainPainter: Painter } = (globalThis as unknown as Drawing).drawing;
        // Greys with colours between, as a decoder hands them over.
        const bytes = Uint8Array.from({ length: 80 * 20 * 1.5 }, (_, at) =>
          at < 1600 ? 16 + ((at * at * 31) % 219) : 70 + ((at * at) % 110),
        );
        const colorSpace = { matrix: 'bt709', primaries: 'bt709', transfer: 'bt709', fullRange: false } as const;
        const one = (): VideoFrame =>
          new VideoFrame(bytes, { format: 'I420', codedWidth: 80, codedHeight: 20, timestamp: 0, colorSpace });
        // One knows no other than its own, and says nothing; of the other the frame was lost.
        const ofItsOwn = Object.assign(one(), {
          allocationSize: () => bytes.length,
          copyTo: (to: Uint8ClampedArray) => {
            to.set(bytes);
            return Promise.resolve([]);
          },
        });
        const lost = Object.assign(one(), { copyTo: () => Promise.reject(new Error('lost')) });
        const dots = async (take: (painter: PlainPainter) => void | Promise<void>): Promise<number[]> => {
          const painter = new Painter(() => new OffscreenCanvas(1, 1).getContext('2d', { alpha: false }));
          const canvas = new OffscreenCanvas(40, 20).getContext('2d', { alpha: false });
          if (!canvas) throw new Error('no canvas');
          await take(painter);
          painter.paint(canvas, both, view);
          return [...canvas.getImageData(0, 0, 40, 20).data];
        };
        return [
          await dots((painter) => painter.take(one())),
          await dots((painter) => painter.takeColours(one())),
          await dots((painter) => painter.takeColours(ofItsOwn)),
          await dots((painter) => painter.takeColours(lost)),
        ];
      },
      [laidOut(same, { gain: 1 })] as const,
    );
    const [drawnOn, ...others] = seen;
    expect(new Set(drawnOn).size).toBeGreaterThan(30);
    for (const one of others) expect(one).toEqual(drawnOn);
  });
});
