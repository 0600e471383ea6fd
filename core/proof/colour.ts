import { compile } from '../colour/ops/compile.ts';
import type { ColourOp } from '../colour/ops/op.ts';
import { fromCodes, toHeldCodes } from '../colour/ycbcr.ts';
import { blocksOf, evenBlocks } from './evenBlocks.ts';
import type { Comparison } from './proof.ts';

/**
 * One frame, twice: the original's as it came to the LUT, and the output's as it was decoded. Both of the output's
 * raster, 16 bits, legal range.
 */
export interface ColourSample {
  width: number;
  height: number;
  frame: number;
  /** Planes of Y', Cb, Cr, chroma as dense as luma. */
  before: Uint16Array;
  after: Uint16Array;
  /** What room the output's own samples have; legal codes where absent. */
  room?: 'legal' | 'full' | 'rgb';
  /** What lies over the output's picture, in samples of these planes, so that it is no colour of the chain. */
  covered?: (x: number, y: number, width: number, height: number) => boolean;
}

/** Means are taken over blocks this wide and high, so that noise, which encoders thin out, does not count as colour. */
const block = 8;

/**
 * Blocks of nearly one colour are taken together: what a chain gets wrong, it gets wrong for every block of a colour
 * alike, while what an encoder leaves of grain, or of an edge, goes either way. A block's colour is taken from its left
 * half and its difference from its right: by the same samples, grain would sort the blocks, and what it made of them be
 * taken for colour. 16 steps of luma and 32 of chroma over all codes; none holds both sides of neutral.
 */
function colourKey(luma: number, blue: number, red: number): number {
  const step = (value: number, bits: number): number => Math.min(65_535, Math.max(0, value)) >> (16 - bits);
  return (step(luma, 4) << 10) | (step(blue, 5) << 5) | step(red, 5);
}

/** Blocks compared at most, evenly spread. */
const mostBlocks = 4096;

/** What lies between a chain and what became of it. */
export interface ColourDifference {
  /** Mean difference of Y', Cb, Cr, in codes; not a number where everything is covered. */
  means: readonly [number, number, number];
  /**
   * Whether there were even places to tell by; else it was taken from patterns and edges too, of which encoders leave
   * less.
   */
  even: boolean;
}

/**
 * Codes 0 to 3 and 1020 to 1023 of ten bits are kept for synchronisation (ITU-R BT.1120): encoders leave them out, so
 * they count as their neighbours.
 */
function kept(code: number): number {
  return Math.max(4 << 6, Math.min(1019 << 6, code));
}

/** Even blocks that a frame must have at least, and their share of it, for the others to be left out. */
const [fewestEven, leastEven] = [8, 0.01];

/** Differences of blocks of one colour, summed, for each of Y', Cb, Cr. */
interface ColourSums {
  count: number;
  sums: [number, number, number];
  squares: [number, number, number];
}

/** The sum of a colour's differences, less what blocks that go either way add up to by chance. */
function beyondChance({ count, sums }: ColourSums, c: 0 | 1 | 2, variance: number): number {
  return Math.sqrt(Math.max(0, sums[c] ** 2 - 2 * count * variance));
}

/**
 * Mean difference between what core makes of the original's frame and what is in the output, for each of Y', Cb, Cr, in
 * codes of `bitDepth`, over blocks of a colour together. `ops` are the chain itself, not baked; the matrices are those
 * of the samples before and after.
 */
export function colourDifference(
  sample: ColourSample,
  ops: readonly ColourOp[],
  [matrixIn, matrixOut]: readonly [string, string],
  bitDepth: number,
): ColourDifference {
  const transform = compile([fromCodes(matrixIn), ...ops, ...toHeldCodes(matrixOut, sample.room)]);
  const { width, height, before, after } = sample;
  const blocks = blocksOf(before, width, height, block);
  const { across } = blocks;
  const isEven = evenBlocks(blocks);
  const uncovered = [...isEven.keys()].filter(
    (n) => !sample.covered?.((n % across) * block, Math.floor(n / across) * block, block, block),
  );
  const inEvenPlaces = uncovered.filter((n) => isEven[n] === 1);
  const even = inEvenPlaces.length >= Math.max(fewestEven, leastEven * uncovered.length);
  const held = even ? inEvenPlaces : uncovered;
  if (held.length === 0) return { means: [Number.NaN, Number.NaN, Number.NaN], even };
  const stride = Math.max(1, Math.ceil(held.length / mostBlocks));
  const plane = width * height;
  const unit = 2 ** bitDepth / 65_536;
  const work = new Float64Array(3);
  let seen = 0;
  const byColour = new Map<number, ColourSums>();
  for (let at = 0; at < held.length; at += stride) {
    const n = held[at] as number;
    const left = (n % across) * block;
    const top = Math.floor(n / across) * block;
    seen += 1;
    const means: [number, number, number] = [0, 0, 0];
    const wanted: [number, number, number] = [0, 0, 0];
    for (let y = top; y < top + block; y += 1) {
      for (let x = left; x < left + block; x += 1) {
        const i = y * width + x;
        for (let c = 0; c < 3; c += 1) work[c] = (before[c * plane + i] as number) / 65_535;
        transform(work);
        for (const c of [0, 1, 2] as const) {
          if (x < left + block / 2) wanted[c] += ((work[c] as number) * 65_535) / (block ** 2 / 2);
          else
            means[c] += (kept((work[c] as number) * 65_535) - kept(after[c * plane + i] as number)) / (block ** 2 / 2);
        }
      }
    }
    const key = colourKey(...wanted);
    const colour = byColour.get(key) ?? { count: 0, sums: [0, 0, 0], squares: [0, 0, 0] };
    colour.count += 1;
    for (const c of [0, 1, 2] as const) {
      colour.sums[c] += means[c];
      colour.squares[c] += means[c] ** 2;
    }
    byColour.set(key, colour);
  }
  const colours = [...byColour.values()];
  const mean = (c: 0 | 1 | 2): number => {
    // How far blocks of one colour go apart, over all colours.
    const apart = colours.reduce((sum, { count, sums, squares }) => sum + squares[c] - sums[c] ** 2 / count, 0);
    const variance = apart / Math.max(1, seen - colours.length);
    return (colours.reduce((sum, colour) => sum + beyondChance(colour, c, variance), 0) / seen) * unit;
  };
  return { means: [mean(0), mean(1), mean(2)], even };
}

/** Half floats are no finer than this near white, nor are baked chains much: deeper samples are held to it. */
const finestDepth = 12;

/** The depth in whose codes an output is held against its chain. */
export function provedDepth({ bitDepth, encodedDepth }: { bitDepth: number; encodedDepth?: number }): number {
  return Math.min(finestDepth, encodedDepth ?? bitDepth);
}

/**
 * What is allowed of 1023 where nothing is even: seen by trying, 14.6 of it at most, of a picture of every colour in
 * the lightest ProRes. A wrong chain is off by hundreds.
 */
const ofPatterns = 20 / 1023;

/** The comparison that a proof holds: under one code value of the output's depth in even places. */
export function colourComparison({ means, even }: ColourDifference, bitDepth: number, frame: number): Comparison {
  const worst = Math.max(...means);
  const codes = 2 ** bitDepth - 1;
  const most = even ? 1 : Math.round(ofPatterns * codes);
  const planned = `mean error under ${most} of ${codes}${even ? '' : ', of patterns and edges alone'}`;
  if (Number.isNaN(worst))
    return {
      name: 'colour by the chain',
      planned,
      found: `frame ${frame + 1} is covered whole: not seen`,
      holds: true,
    };
  return {
    name: 'colour by the chain',
    planned,
    found: `${worst.toFixed(2)} of ${codes} at frame ${frame + 1} (Y ${means[0].toFixed(2)}, Cb ${means[1].toFixed(2)}, Cr ${means[2].toFixed(2)})`,
    holds: worst < most,
  };
}
