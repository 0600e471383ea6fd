import { bitsPerPixel } from '../recipe/codecs.ts';
import type { OutputPlan } from '../recipe/legPlan.ts';
import { soundBytes } from '../recipe/rate.ts';
import { toNumber } from '../time/rational.ts';
import { besideBytes, besideRange, exactBytes, exactFrameBytes } from './forecast.ts';
import { proResTargetFrameBytes } from './prores.ts';

/** Bytes as a range that is meant to hold nine times in ten. */
export interface ByteRange {
  least: number;
  likely: number;
  most: number;
}

/**
 * How an estimate is known, the surest first. *Exact* means to the byte; *by frame sizes* leaves open only what a
 * wrapper takes.
 */
export type Known = 'exact' | 'by frame sizes' | 'by sampled pictures' | 'by published rates' | 'roughly';
export const knownOrder: readonly Known[] = [
  'exact',
  'by frame sizes',
  'by sampled pictures',
  'by published rates',
  'roughly',
];

export interface Estimate {
  bytes: ByteRange;
  known: Known;
}

/** What sampled pictures of an output took: bytes of a frame, a mean for each place in the clip that was sampled. */
export interface SizeSamples {
  bytesPerFrame: readonly number[];
  /** Every frame was encoded. */
  whole?: boolean;
}

/**
 * Half widths, relative, where nothing was sampled: chosen. Clean pictures keep well below ProRes's target, none goes
 * above its ceiling.
 */
const published = { below: 0.45, above: 0.13 };
const rough = { below: 0.75, above: 2 };

/**
 * How far the mean of a few places lies from that of the whole clip: Student's t, nine times in ten, for so many places
 * less one.
 */
export const t90: readonly number[] = [6.31, 6.31, 2.92, 2.35, 2.13, 2.02, 1.94, 1.89, 1.86, 1.83];
/** However alike the places are, so much is left open; and what is made so wide that it says nothing is not said. */
const [narrowest, widest] = [0.08, 0.2];
/** What is left open where every frame was encoded: a run may cut a clip in parts. */
const wholeHalf = 0.03;
/**
 * Share of its rate that coded sound may stay below and pass: of silence and of tones there is little to keep. Seen by
 * trying.
 */
const codedSound = { below: 0.5, above: 0.06 };

/** What an output takes beside its pictures, sound and wrapper, as a range. */
function besidePictures(output: OutputPlan): ByteRange {
  const sound = soundBytes(output.sound);
  const around = besideRange(output);
  const { below, above } = output.sound.coding ? codedSound : { below: 0, above: 0 };
  return {
    least: sound * (1 - below) + around.least,
    likely: sound + around.likely,
    most: sound * (1 + above) + around.most,
  };
}

function range(likely: number, below: number, above: number): ByteRange {
  return { least: Math.floor(likely * (1 - below)), likely: Math.round(likely), most: Math.ceil(likely * (1 + above)) };
}

function plus(bytes: ByteRange, more: number): ByteRange {
  return { least: bytes.least + more, likely: bytes.likely + more, most: bytes.most + more };
}

/**
 * What one output will take. `samples` make it surer where the codec's rate follows the picture; `correction` is what
 * this site's own finished outputs of the kind took over what was said of them.
 */
export function estimateOutput(output: OutputPlan, samples: SizeSamples | null = null, correction = 1): Estimate {
  const { video, codec, rate } = output;
  const seconds = video.frames / toNumber(video.rate);
  const beside = soundBytes(output.sound) + Math.round(besideBytes(output, seconds) * 0.8);
  const whole = exactBytes(output);
  if (whole !== null) return { bytes: { least: whole, likely: whole, most: whole }, known: 'exact' };
  const each = exactFrameBytes(output);
  if (each !== null) {
    const [known, around] = [each * video.frames + soundBytes(output.sound), besideRange(output)];
    return {
      bytes: { least: known + around.least, likely: known + around.likely, most: known + around.most },
      known: 'by frame sizes',
    };
  }
  if (rate?.wholeBytes)
    return {
      bytes: {
        least: Math.floor(rate.wholeBytes * 0.88),
        likely: Math.round(rate.wholeBytes * 0.96),
        most: rate.wholeBytes,
      },
      known: 'by published rates',
    };
  if (rate)
    return { bytes: plus(range((rate.bitsPerSecond * seconds) / 8, 0.15, 0.1), beside), known: 'by published rates' };
  if (samples && samples.bytesPerFrame.length > 0) {
    const { bytesPerFrame } = samples;
    const mean = bytesPerFrame.reduce((a, b) => a + b, 0) / bytesPerFrame.length;
    const spread =
      bytesPerFrame.length < 2
        ? widest
        : (Math.sqrt(bytesPerFrame.reduce((sum, one) => sum + (one - mean) ** 2, 0) / (bytesPerFrame.length - 1)) /
            mean /
            Math.sqrt(bytesPerFrame.length)) *
          (t90[bytesPerFrame.length - 1] ?? 1.8);
    const half = samples.whole ? wholeHalf : Math.min(widest, Math.max(narrowest, spread));
    const pictures = range(mean * video.frames * (samples.whole ? 1 : correction), half, half);
    const more = besidePictures(output);
    return {
      bytes: {
        least: Math.floor(pictures.least + more.least),
        likely: Math.round(pictures.likely + more.likely),
        most: Math.ceil(pictures.most + more.most),
      },
      known: 'by sampled pictures',
    };
  }
  if (codec.id === 'prores')
    return {
      bytes: plus(
        range(
          proResTargetFrameBytes(codec.profile, video.raster) * video.frames * 0.95,
          published.below,
          published.above,
        ),
        beside,
      ),
      known: 'by published rates',
    };
  const bits = bitsPerPixel(codec).likely * video.raster.width * video.raster.height * video.frames * correction;
  return { bytes: plus(range(bits / 8, rough.below, rough.above), beside), known: 'roughly' };
}

/**
 * Several estimates together. What each is off by is its own only in part, so ranges are added half as if they erred
 * together and half as if apart.
 */
export function addEstimates(estimates: readonly Estimate[]): Estimate {
  const sum = (of: (bytes: ByteRange) => number): number => estimates.reduce((all, { bytes }) => all + of(bytes), 0);
  const likely = sum((bytes) => bytes.likely);
  const apart = (side: (bytes: ByteRange) => number): number =>
    Math.sqrt(estimates.reduce((all, { bytes }) => all + side(bytes) ** 2, 0));
  const [below, above] = [
    (bytes: ByteRange): number => bytes.likely - bytes.least,
    (bytes: ByteRange): number => bytes.most - bytes.likely,
  ];
  const known = knownOrder[Math.max(0, ...estimates.map((one) => knownOrder.indexOf(one.known)))] as Known;
  return {
    bytes: {
      least: Math.floor(likely - (sum(below) + apart(below)) / 2),
      likely,
      most: Math.ceil(likely + (sum(above) + apart(above)) / 2),
    },
    known,
  };
}
