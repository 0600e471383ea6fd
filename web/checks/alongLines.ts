import type { Along, SoundAlong } from '@relay/core/measure/along';
import { inStretches } from '@relay/core/measure/along';
import { toNumber } from '@relay/core/time/rational';
import type { TimeLine } from './timePlot.tsx';

/** Points that a line has at most: more than a screen is wide. */
const most = 2_400;

/** The seconds of values that stand evenly, `step` apart, once they are in at most {@link most} stretches. */
function seconds(count: number, step: number): number[] {
  const drawn = Math.min(count, most);
  return Array.from({ length: drawn }, (_, index) => (index * step * count) / Math.max(1, drawn));
}

/** Values so that the lowest of each stretch is kept: what is worst is not drawn away. */
function lowest(values: readonly (number | null)[]): (number | null)[] {
  return inStretches(
    values.map((value) => (value === null ? null : -value)),
    most,
  ).map((value) => (value === null ? null : -value));
}

/** How like its original an output is, along its length. */
export function likenessLines({ psnr, ssim, every, rate }: Along): TimeLine[] {
  const x = seconds(ssim.length, every / toNumber(rate));
  return [
    { name: 'PSNR', x, y: lowest(psnr) },
    { name: 'SSIM', x, y: lowest(ssim), right: true },
  ];
}

/** How far its colours are seen from its chain's. */
export function colourLines({ seen, rate }: Along): TimeLine[] {
  const x = (seen ?? []).map(({ frame }) => frame / toNumber(rate));
  return [
    { name: 'mean', x, y: (seen ?? []).map(({ mean }) => mean) },
    { name: '1 of 100 above', x, y: (seen ?? []).map(({ p99 }) => p99), broken: true },
  ];
}

/** Level or loudness of a track, of both. */
export function soundLines({ step, output, original }: SoundAlong, what: 'peak' | 'loudness'): TimeLine[] {
  const line = (name: string, values: readonly (number | null)[], broken: boolean): TimeLine => ({
    name,
    x: seconds(values.length, step),
    y: inStretches(values, most),
    broken,
  });
  return [line('original', original[what], true), line('output', output[what], false)];
}

/** Millions of bits in each second of both. */
export function flowLines({ flow }: Along): TimeLine[] {
  const line = (name: string, bits: readonly number[] | null, broken: boolean): TimeLine[] =>
    bits === null
      ? []
      : [
          {
            name,
            x: seconds(bits.length, 1),
            y: inStretches(
              bits.map((one) => one / 1e6),
              most,
            ),
            broken,
          },
        ];
  return [...line('original', flow.original, true), ...line('output', flow.output, false)];
}
