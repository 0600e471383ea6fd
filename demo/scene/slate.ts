import { overArea, rectangle, set, text, type Canvas, type Light } from './canvas.ts';

/**
 * Frame numbers are also drawn as this many cells, dark for 0 and bright for 1, the highest bit first; one more, always
 * bright, follows.
 */
export const stripBits = 16;

/** Where the slate lies, in shares of the height. */
const place = { x: 0.045, y: 0.8, width: 0.62, height: 0.155 };
const strip = { x: place.x + 0.012, y: place.y + 0.118, cell: 0.035, height: 0.026 };

/** Middle of the strip of cells, as a share of the height. */
export const stripMiddle = strip.y + strip.height / 2;

const plate: Light = [0.012, 0.014, 0.018];
const chalk: Light = [0.72, 0.7, 0.64];
const clay: Light = [0.7, 0.16, 0.07];

/** The slate with its running timecode and the frame number as a strip. */
export function drawSlate(c: Canvas, title: string, timecode: string, frame: number): void {
  rectangle(c, place.x, place.y, place.x + place.width, place.y + place.height, plate);
  rectangle(c, place.x, place.y, place.x + place.width, place.y + 0.006, clay);
  text(c, title, place.x + 0.014, place.y + 0.018, 0.0037, chalk);
  text(c, timecode, place.x + 0.014, place.y + 0.055, 0.0074, [0.95, 0.92, 0.84]);
  for (let bit = 0; bit <= stripBits; bit += 1) {
    const on = bit === stripBits || ((frame >> (stripBits - 1 - bit)) & 1) === 1;
    const x = strip.x + bit * strip.cell;
    rectangle(
      c,
      x,
      strip.y,
      x + strip.cell - 0.006,
      strip.y + strip.height,
      on ? [0.85, 0.85, 0.85] : [0.002, 0.002, 0.002],
    );
  }
}

/**
 * Reads a frame number back from luma samples of a decoded picture.
 * @param luma rows of samples, any scale
 * @param shownAspect display aspect of the picture, so that squeezed ones are found too
 */
export function readStrip(luma: ArrayLike<number>, width: number, height: number, shownAspect: number): number {
  const perX = width / shownAspect;
  const sample = (x: number, y: number): number =>
    luma[Math.floor(y * height) * width + Math.floor(x * perX)] as number;
  const values = Array.from({ length: stripBits + 1 }, (_, bit) =>
    sample(strip.x + bit * strip.cell + (strip.cell - 0.006) / 2, stripMiddle),
  );
  const middle = ((values[stripBits] as number) + sample(strip.x + strip.cell - 0.003, stripMiddle)) / 2;
  return values.slice(0, stripBits).reduce((number, value) => number * 2 + (value > middle ? 1 : 0), 0);
}

/** Twenty-four patches in linear light, invented, in four rows: earths and skies, hues, primaries, a grey ramp. */
const patches: readonly Light[] = [
  [0.17, 0.08, 0.055],
  [0.55, 0.3, 0.21],
  [0.11, 0.19, 0.33],
  [0.1, 0.15, 0.05],
  [0.23, 0.21, 0.43],
  [0.13, 0.51, 0.4],
  [0.69, 0.2, 0.03],
  [0.06, 0.1, 0.39],
  [0.54, 0.08, 0.12],
  [0.11, 0.04, 0.14],
  [0.34, 0.5, 0.05],
  [0.75, 0.36, 0.03],
  [0.025, 0.045, 0.29],
  [0.06, 0.29, 0.06],
  [0.44, 0.03, 0.045],
  [0.8, 0.57, 0.01],
  [0.5, 0.09, 0.3],
  [0.01, 0.24, 0.37],
  [0.88, 0.88, 0.88],
  [0.58, 0.58, 0.58],
  [0.36, 0.36, 0.36],
  [0.18, 0.18, 0.18],
  [0.09, 0.09, 0.09],
  [0.032, 0.032, 0.032],
];

/** The chart: patches on a dark card, and a ring that is a circle only at the picture's true shape. */
export function drawChart(c: Canvas, x: number, y: number, size: number): void {
  rectangle(c, x, y, x + size * 1.5, y + size, [0.02, 0.021, 0.024]);
  const cell = size * 0.15;
  patches.forEach((patch, index) => {
    const px = x + size * 0.06 + (index % 6) * cell * 1.1;
    const py = y + size * 0.2 + Math.floor(index / 6) * cell * 1.1;
    rectangle(c, px, py, px + cell, py + cell, patch);
  });
  const [cx, cy, radius] = [x + size * 1.27, y + size * 0.52, size * 0.19];
  overArea(c, cx - radius, cy - radius, cx + radius, cy + radius, (px, py, at) => {
    const away = Math.hypot(px - cx, py - cy) / radius;
    if (
      (away < 1 && away > 0.9) ||
      (away < 1 && (Math.abs(px - cx) < size * 0.006 || Math.abs(py - cy) < size * 0.006))
    )
      set(c, at, [0.8, 0.8, 0.78]);
  });
  text(c, 'SALT LANTERN', x + size * 0.06, y + size * 0.065, size * 0.0105, [0.72, 0.7, 0.64]);
}
