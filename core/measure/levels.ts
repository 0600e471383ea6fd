import type { PictureMeasure } from './measured.ts';

/**
 * One sampled picture: luma and colour differences as 16-bit codes, all planes of one size, samples picked and never
 * mixed.
 */
export interface SampledPicture {
  y: Uint16Array;
  u: Uint16Array;
  v: Uint16Array;
}

const codes = 1024;
const legal = { black: 64, white: 940 };

/** Levels over all sampled pictures together, as 10-bit code values. */
export function measureLevels(pictures: readonly SampledPicture[]): Omit<PictureMeasure, 'bars' | 'scans'> | null {
  const counts = new Float64Array(codes);
  let samples = 0;
  let distance = 0;
  for (const { y, u, v } of pictures) {
    for (let i = 0; i < y.length; i += 1) {
      (counts[(y[i] as number) >> 6] as number) += 1;
      distance += Math.hypot((u[i] as number) - 32_768, (v[i] as number) - 32_768);
    }
    samples += y.length;
  }
  if (samples === 0) return null;
  const share = (from: number, to: number): number => counts.subarray(from, to).reduce((a, b) => a + b, 0) / samples;
  return {
    pictures: pictures.length,
    low: percentile(counts, samples * 0.005),
    high: percentile(counts, samples * 0.995),
    belowLegal: share(0, legal.black),
    aboveLegal: share(legal.white + 1, codes),
    saturation: distance / samples / 64,
  };
}

function percentile(counts: Float64Array, wanted: number): number {
  let sum = 0;
  for (let code = 0; code < counts.length; code += 1) {
    sum += counts[code] as number;
    if (sum >= wanted) return code;
  }
  return counts.length - 1;
}

/**
 * Whether levels look like a camera's log curve rather than a picture for a display: black is lifted well off its
 * place, white never comes near its own, and colours are faint, all at once. Log curves put black at 7 to 12 % of
 * the range (S-Log3: 95 of 1023) and a bright sky at two thirds of it. Common practice, no source: fog, a fade or a
 * flat grade can look so too, which is why a person is asked.
 */
export function looksLog(measured: PictureMeasure): boolean {
  const scale = (code: number): number => (code - legal.black) / (legal.white - legal.black);
  return scale(measured.low) > 0.025 && scale(measured.high) < 0.76 && measured.saturation < 30;
}
