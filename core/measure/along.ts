import { csvLine } from '../identity/csv.ts';
import type { Rational } from '../time/rational.ts';
import { toNumber } from '../time/rational.ts';

/** What was measured of an output along its length, beside what it was made of. */
export interface Along {
  version: 1;
  /** Of the output. */
  rate: Rational;
  frames: number;
  /** Every so many frames one was measured, from the first on. */
  every: number;
  /**
   * By FFmpeg's psnr and ssim filters over all planes, against the original brought through the plan's own steps to
   * what the encoder was given. PSNR in dB, null where both are equal; SSIM 0 to 1.
   */
  psnr: (number | null)[];
  ssim: number[];
  /** Frames of the output that should have been measured and had no counterpart. */
  missing: number;
  /** ΔE ITP (ITU-R BT.2124) between the chain, not baked, and the output, of some frames; null where no chain is baked in. */
  seen: { frame: number; mean: number; p99: number }[] | null;
  /** Of each of the output's sound tracks; what it was made of is the original by the plan's own mix. */
  sound: SoundAlong[];
  /** Bits in each second of the picture; null where its packets say nothing. */
  flow: { output: number[] | null; original: number[] | null };
}

export interface SoundAlong {
  track: number;
  /** Seconds from one value to the next. */
  step: number;
  output: Heard;
  original: Heard;
}

/** Along time: the highest sample in dBFS, and momentary loudness in LUFS (EBU R 128, 400 ms). Null for silence. */
export interface Heard {
  peak: (number | null)[];
  loudness: (number | null)[];
}

/** PSNR of many frames is that of their mean error, as FFmpeg takes it too; null where all are equal. */
export function meanPsnr(frames: readonly (number | null)[]): number | null {
  const errors = frames.map((psnr) => (psnr === null ? 0 : 10 ** (-psnr / 10)));
  const mean = errors.reduce((sum, value) => sum + value, 0) / Math.max(1, errors.length);
  return mean === 0 ? null : -10 * Math.log10(mean);
}

/** A frame that is little like its original: less of either is worse, and null is equal. */
export interface WorstFrame {
  frame: number;
  psnr: number | null;
  ssim: number;
}

/** So many frames at most that SSIM is lowest at, the worst first, none within half a second of a worse one. */
export function worstFrames({ psnr, ssim, every, rate }: Along, most: number): WorstFrame[] {
  const apart = toNumber(rate) / 2;
  const order = ssim.map((_, index) => index).sort((a, b) => (ssim[a] as number) - (ssim[b] as number) || a - b);
  const taken: WorstFrame[] = [];
  for (const index of order) {
    const frame = index * every;
    if (taken.length >= most) break;
    if (taken.some((one) => Math.abs(one.frame - frame) < apart)) continue;
    taken.push({ frame, psnr: psnr[index] ?? null, ssim: ssim[index] as number });
  }
  return taken;
}

/** Values in at most so many equal stretches: the largest of each, null where there is none. */
export function inStretches(values: readonly (number | null)[], most: number): (number | null)[] {
  if (values.length <= most) return [...values];
  const bins = new Array<number | null>(most).fill(null);
  for (const [index, value] of values.entries()) {
    const bin = Math.floor((index * most) / values.length);
    const before = bins[bin] ?? null;
    if (value !== null && (before === null || value > before)) bins[bin] = value;
  }
  return bins;
}

/** A table of all measured frames: a frame a line, with its label where one is known. */
export function alongCsv(along: Along, labelOf: (frame: number) => string): string {
  const seen = new Map(along.seen?.map((one) => [one.frame, one]));
  const head = ['frame', 'timecode', 'psnr_db', 'ssim', ...(along.seen ? ['de_itp_mean', 'de_itp_p99'] : [])];
  const lines = along.ssim.map((ssim, index) => {
    const frame = index * along.every;
    const psnr = along.psnr[index] ?? null;
    const colours = seen.get(frame);
    return csvLine([
      frame + 1,
      labelOf(frame),
      psnr === null ? 'equal' : psnr,
      ssim,
      ...(along.seen ? [colours?.mean ?? null, colours?.p99 ?? null] : []),
    ]);
  });
  return `${[csvLine(head), ...lines].join('\r\n')}\r\n`;
}
