import { shownAs } from '../colour/bake/error.ts';
import { deltaEItp } from '../colour/ictcp.ts';
import { compile } from '../colour/ops/compile.ts';
import type { ColourOp } from '../colour/ops/op.ts';
import type { ColourState } from '../colour/states.ts';
import { fromCodes } from '../colour/ycbcr.ts';

/** A picture: planes of Y', Cb, Cr, 16 bits each in legal range, chroma as dense as luma. */
export interface CodedPicture {
  width: number;
  height: number;
  planes: Uint16Array;
  /** By the names of ITU-T H.273. */
  matrix: string;
  /** What is done to its signals before they are shown; nothing where absent. */
  ops?: readonly ColourOp[];
}

/** How far apart two pictures are seen, by ΔE ITP (ITU-R BT.2124): about 1 is the least that is seen. */
export interface SeenApart {
  mean: number;
  /** Of a hundred samples only one differs more. */
  p99: number;
}

/** Samples looked at of a picture, evenly spread. */
const most = 60_000;

/**
 * Compares two pictures of one size as the display of `state` shows them, sample by sample; by BT.709's where nothing is
 * said. Both are held between black and white, as a display holds them. Samples that are `covered` do not count; not
 * numbers where all are.
 * @throws RangeError where their sizes differ
 */
export function seenApart(
  a: CodedPicture,
  b: CodedPicture,
  state: ColourState | null,
  covered?: (x: number, y: number) => boolean,
): SeenApart {
  if (a.width !== b.width || a.height !== b.height)
    throw new RangeError(`${a.width}×${a.height} and ${b.width}×${b.height} cannot be compared sample by sample`);
  const [one, other] = [signalsOf(a), signalsOf(b)];
  const show = shownAs(state);
  const count = a.width * a.height;
  const step = Math.max(1, Math.ceil(count / most));
  const found = new Float64Array(Math.ceil(count / step));
  const [here, there] = [new Float64Array(3), new Float64Array(3)];
  let at = 0;
  for (let i = 0; i < count; i += step) {
    if (covered?.(i % a.width, Math.floor(i / a.width))) continue;
    one(i, here);
    other(i, there);
    show(here);
    show(there);
    found[at++] = deltaEItp(here, there);
  }
  const all = found.subarray(0, at).sort();
  return {
    mean: all.reduce((sum, value) => sum + value, 0) / all.length,
    p99: all[Math.min(all.length - 1, Math.floor(all.length * 0.99))] ?? NaN,
  };
}

/** Reads a sample's signals, as they are shown. */
function signalsOf({ planes, matrix, ops = [], width, height }: CodedPicture): (i: number, into: Float64Array) => void {
  const transform = compile([fromCodes(matrix), ...ops]);
  const plane = width * height;
  return (i, into) => {
    for (let c = 0; c < 3; c += 1) into[c] = (planes[c * plane + i] as number) / 65_535;
    transform(into);
    for (let c = 0; c < 3; c += 1) into[c] = Math.min(1, Math.max(0, into[c] as number));
  };
}
