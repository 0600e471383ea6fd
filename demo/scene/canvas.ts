import { dot } from './letters.ts';

/** A picture in scene-linear light, BT.709 primaries, three floats a sample. 0.18 is a lit grey card. */
export interface Canvas {
  width: number;
  height: number;
  /** Width over height of one sample, so that circles can be drawn round. */
  pixelAspect: number;
  light: Float32Array;
}

export type Light = readonly [number, number, number];

export function newCanvas(width: number, height: number, pixelAspect: number): Canvas {
  return { width, height, pixelAspect, light: new Float32Array(width * height * 3) };
}

/** Calls for every sample in a rectangle given in shares of the picture's height; x runs to the display aspect. */
export function overArea(
  c: Canvas,
  x0: number,
  y0: number,
  x1: number,
  y1: number,
  paint: (x: number, y: number, at: number) => void,
): void {
  const scaleX = c.height / c.pixelAspect;
  const [left, right] = [Math.max(0, Math.floor(x0 * scaleX)), Math.min(c.width, Math.ceil(x1 * scaleX))];
  const [top, bottom] = [Math.max(0, Math.floor(y0 * c.height)), Math.min(c.height, Math.ceil(y1 * c.height))];
  for (let py = top; py < bottom; py += 1) {
    for (let px = left; px < right; px += 1) paint((px + 0.5) / scaleX, (py + 0.5) / c.height, (py * c.width + px) * 3);
  }
}

export function set(c: Canvas, at: number, light: Light): void {
  c.light[at] = light[0];
  c.light[at + 1] = light[1];
  c.light[at + 2] = light[2];
}

/** Laid over what is there, `share` of it. */
export function blend(c: Canvas, at: number, light: Light, share: number): void {
  for (let k = 0; k < 3; k += 1)
    c.light[at + k] = (c.light[at + k] as number) * (1 - share) + (light[k] as number) * share;
}

export function add(c: Canvas, at: number, light: Light, share: number): void {
  for (let k = 0; k < 3; k += 1) c.light[at + k] = (c.light[at + k] as number) + (light[k] as number) * share;
}

export function rectangle(c: Canvas, x0: number, y0: number, x1: number, y1: number, light: Light, share = 1): void {
  overArea(c, x0, y0, x1, y1, (x, y, at) => {
    if (x >= x0 && x < x1 && y >= y0 && y < y1) blend(c, at, light, share);
  });
}

/** A soft light: its sum falls off like a lens's halo. */
export function glow(c: Canvas, cx: number, cy: number, radius: number, light: Light, strength: number): void {
  const reach = radius * 3.2;
  overArea(c, cx - reach, cy - reach, cx + reach, cy + reach, (x, y, at) => {
    const d2 = ((x - cx) ** 2 + (y - cy) ** 2) / (radius * radius);
    if (d2 < 10.24) add(c, at, light, strength * (Math.exp(-d2 * 3) + 0.12 * Math.exp(-d2 * 0.55)));
  });
}

/** Text with its top left corner at x, y; `dotSize` is the side of one dot in shares of the height. */
export function text(c: Canvas, words: string, x: number, y: number, dotSize: number, light: Light): void {
  [...words].forEach((character, index) => {
    for (let row = 0; row < 7; row += 1) {
      for (let column = 0; column < 5; column += 1) {
        if (!dot(character, column, row)) continue;
        const [dx, dy] = [x + (index * 6 + column) * dotSize, y + row * dotSize];
        rectangle(c, dx, dy, dx + dotSize * 1.02, dy + dotSize * 1.02, light);
      }
    }
  });
}

/** A rectangle of a canvas kept for laying over others: columns and rows in samples. */
export interface Stamp {
  left: number;
  top: number;
  width: number;
  rows: Float32Array[];
}

/** What `draw` leaves in the rectangle x0–x1, y0–y1 of an empty canvas of the same kind; it must fill it. */
export function stampOf(
  like: Canvas,
  x0: number,
  y0: number,
  x1: number,
  y1: number,
  draw: (c: Canvas) => void,
): Stamp {
  const c = newCanvas(like.width, like.height, like.pixelAspect);
  draw(c);
  const scaleX = c.height / c.pixelAspect;
  const [left, right] = [Math.ceil(x0 * scaleX), Math.min(c.width, Math.floor(x1 * scaleX))];
  const [top, bottom] = [Math.ceil(y0 * c.height), Math.min(c.height, Math.floor(y1 * c.height))];
  const row = (y: number): Float32Array => c.light.slice((y * c.width + left) * 3, (y * c.width + right) * 3);
  return { left, top, width: right - left, rows: Array.from({ length: bottom - top }, (_, y) => row(top + y)) };
}

export function press(c: Canvas, stamp: Stamp): void {
  stamp.rows.forEach((row, y) => c.light.set(row, ((stamp.top + y) * c.width + stamp.left) * 3));
}
