import { sayTag } from '../colour/tagNames.ts';
import type { ClipDescription } from '../clip/description.ts';
import { codecRow, hasPicture } from '../recipe/codecs.ts';
import { unnamedLayouts } from '../recipe/sound.ts';
import { timeReference } from '../recipe/timeReference.ts';
import { wrappers } from '../recipe/wrappers.ts';
import type { OutputPlan } from '../recipe/legPlan.ts';
import { formatRaster } from '../shape/raster.ts';
import { rateAsked } from '../size/asked.ts';
import { formatRate } from '../time/rate.ts';
import { equal, formatFraction, toNumber } from '../time/rational.ts';

/** One measured comparison of an output with what was planned for it. */
export interface Comparison {
  name: string;
  planned: string;
  found: string;
  holds: boolean;
}

/** What decoding the whole output showed. */
export interface DecodedFacts {
  frames: number;
  /** Samples decoded per sound track, in the file's order. */
  samples: number[];
  /** First lines of what the decoder complained of; empty when it was content. */
  errors: string[];
}

export type Verdict = 'proved' | 'needs eyes' | 'failed';

/** An output held against its plan. */
export interface Proof {
  verdict: Verdict;
  /** Pictures that came out of the decoder; absent in proofs from before it was kept as a number. */
  frames?: number;
  comparisons: Comparison[];
  /** Why it is not proved, in plain words; empty when it is. */
  reasons: string[];
}

/** How decoding the original went, where that excuses an output. */
export interface SourceFacts {
  /** Errors that the decoder reported while the leg ran. */
  errors: string[];
  /** The description's own suspicion that the file is cut short. */
  cutShort: string | null;
}

function compareText(name: string, planned: string | null, found: string | null): Comparison {
  return { name, planned: planned ?? 'none', found: found ?? 'none', holds: (planned ?? 'none') === (found ?? 'none') };
}

/** A colour tag as its standard writes it. */
function sayOf(tag: string | null | undefined): string | null {
  return tag ? sayTag(tag) : null;
}

/** Sound may differ from the picture's end by this many samples: one sample each for rounding at both ends. */
const sampleTolerance = 2;
/** AAC comes in packets of 1024 samples: the last is filled up. */
const aacTolerance = 1024 + sampleTolerance;

/** What an original that is cut short or damaged may bring about: too little at the end. */
function lengthComparisons(plan: OutputPlan, found: ClipDescription, decoded: DecodedFacts): Comparison[] {
  const sound = plan.sound.tracks.map((track, index): Comparison => {
    const samples = decoded.samples[index] ?? 0;
    const over = samples - plan.sound.samples;
    return {
      name: `samples, track ${(track.mix ? index : track.from) + 1}`,
      planned: String(plan.sound.samples),
      found: String(samples),
      holds: over >= -sampleTolerance && over <= (plan.sound.coding ? aacTolerance : sampleTolerance),
    };
  });
  if (!hasPicture(plan)) return sound;

  const rate = toNumber(plan.video.rate);
  const planned = plan.video.frames / rate;
  const seconds = found.video ? toNumber(found.video.duration) : 0;
  return [
    {
      name: 'frames',
      planned: String(plan.video.frames),
      found: String(decoded.frames),
      holds: decoded.frames === plan.video.frames,
    },
    {
      name: 'duration',
      planned: `${planned.toFixed(4)} s`,
      found: `${seconds.toFixed(4)} s`,
      holds: Math.abs(seconds - planned) < 0.5 / rate,
    },
    ...sound,
  ];
}

/** What the file says of its picture: form, clock, names and colour tags. */
// eslint-disable-next-line complexity -- a list of facts, each of which a file may lack
function pictureFacts(plan: OutputPlan, found: ClipDescription, decoded: DecodedFacts): Comparison[] {
  if (!hasPicture(plan)) return [];
  const { video } = found;
  const planned = plan.video;
  const row = codecRow(plan.codec);
  const isCodec =
    video?.codecId === row.codecId && (row.profiles.length === 0 || row.profiles.includes(video.profile ?? ''));
  return [
    {
      name: 'frames in the index',
      planned: String(decoded.frames),
      found: String(video?.frames ?? 0),
      holds: video?.frames === decoded.frames,
    },
    compareText('codec', row.name, isCodec ? row.name : `${video?.codec ?? 'none'} ${video?.profile ?? ''}`.trim()),
    compareText('chroma and depth', `${row.chroma} ${row.bitDepth}`, video && `${video.chroma} ${video.bitDepth}`),
    compareText('rate', formatRate(planned.rate), video && formatRate(video.rate)),
    compareText('constant rate', 'yes', video?.rateConstant ? 'yes' : 'no'),
    compareText('raster', formatRaster(planned.raster), video && formatRaster(video.raster)),
    {
      name: 'pixel aspect',
      planned: formatFraction(planned.pixelAspect, ':'),
      found: video ? formatFraction(video.pixelAspect, ':') : 'none',
      holds: video !== null && equal(video.pixelAspect, planned.pixelAspect),
    },
    compareText('scan', planned.scan, video && video.scan),
    compareText('start timecode', plan.timecode?.start ?? null, found.timecode?.start ?? null),
    compareText('reel', plan.reel, found.reel),
    ...colourTags(plan, video),
    ...(planned.alpha ? [compareText('alpha', 'kept', video?.alpha ? 'kept' : 'left out')] : []),
    ...sizeAsked(plan, found),
  ];
}

function colourTags({ video: { colour } }: OutputPlan, video: ClipDescription['video']): Comparison[] {
  return [
    compareText('primaries', sayOf(colour.primaries), sayOf(video?.colour.primaries)),
    compareText('transfer', sayOf(colour.transfer), sayOf(video?.colour.transfer)),
    compareText('matrix', sayOf(colour.matrix), sayOf(video?.colour.matrix)),
    // A wrapper without a range tag means legal range, so only a claim of full range is wrong.
    compareText('range', colour.range ?? 'legal', video?.colour.range ?? 'legal'),
  ];
}

function sizeAsked(plan: OutputPlan, found: ClipDescription): Comparison[] {
  const most = plan.rate?.wholeBytes;
  const { sizeBytes } = found;
  return [
    ...(most
      ? [{ name: 'size', planned: `${most} bytes at most`, found: `${sizeBytes} bytes`, holds: sizeBytes <= most }]
      : []),
    ...rateAsked(plan, found),
  ];
}

/** The wrapper, and where sound lies in a Broadcast Wave file when it says that it begins. */
function wrapperFacts(plan: OutputPlan, found: ClipDescription): Comparison[] {
  const { name, wrapperId } = wrappers[plan.wrapper];
  const wrapper = compareText('wrapper', name, found.wrapperId === wrapperId ? name : found.wrapper);
  const reference = timeReference(plan);
  const isWave = plan.sound.tracks.length > 0 && (plan.wrapper === 'wav' || plan.wrapper === 'pictures');
  if (reference === null || !isWave) return [wrapper];
  const said = found.timeReference === undefined ? null : String(found.timeReference);
  return [wrapper, compareText('first sample since midnight', String(reference), said)];
}

/** Tracks as the file says that they are. */
function soundFacts({ sound }: OutputPlan, { audio }: ClipDescription): Comparison[] {
  const channels = (tracks: readonly { channels: number }[]): string =>
    tracks.map((track) => track.channels).join(' ') || 'none';
  const rates = [...new Set(audio.map((track) => track.sampleRate))].join(' ') || 'none';
  return [
    compareText('channels by track', channels(sound.tracks), channels(audio)),
    compareText('sample rate', sound.tracks.length > 0 ? '48000' : 'none', rates),
    ...sound.tracks.flatMap((track, index) => {
      const named = track.layout && !(sound.coding && unnamedLayouts.has(track.layout));
      const place = (track.mix ? index : track.from) + 1;
      return named ? [compareText(`layout, track ${place}`, track.layout, audio[index]?.layout ?? null)] : [];
    }),
  ];
}

/** What is wrong with the original, and what of its pictures is missing therefore. */
function damageOf(source: SourceFacts, missing: number, frames: number): string[] {
  return [
    source.cutShort,
    missing > 0 ? `${missing} of ${frames} frames are missing at the end` : null,
    source.errors.length > 0 ? `the original does not decode cleanly: ${source.errors[0]}` : null,
  ].filter((line): line is string => line !== null);
}

/**
 * Holds what came out against the plan. Too few frames from an original that is itself cut short or damaged need a
 * person's eyes; any other difference is a failure. `compared` are comparisons of decoded pictures and sound with the
 * original's.
 */
export function prove(
  plan: OutputPlan,
  found: ClipDescription,
  decoded: DecodedFacts,
  source: SourceFacts,
  compared: readonly Comparison[] = [],
): Proof {
  const lengths = lengthComparisons(plan, found, decoded);
  const others: Comparison[] = [
    ...pictureFacts(plan, found, decoded),
    ...wrapperFacts(plan, found),
    ...compared,
    ...soundFacts(plan, found),
    {
      name: 'decodes to the last frame',
      planned: 'no errors',
      found: decoded.errors[0] ?? 'no errors',
      holds: decoded.errors.length === 0,
    },
  ];
  const comparisons = [...lengths, ...others];
  const { frames } = decoded;
  const wrong = comparisons.filter((one) => !one.holds);
  const isSuspect = source.errors.length > 0 || source.cutShort !== null;
  const isEmpty = hasPicture(plan) && decoded.frames === 0;

  if (isEmpty || others.some((one) => !one.holds) || (wrong.length > 0 && !isSuspect)) {
    const reasons = wrong.map((one) => `${one.name}: ${one.found}, planned ${one.planned}`);
    return { verdict: 'failed', frames, comparisons, reasons };
  }
  if (!isSuspect) return { verdict: 'proved', frames, comparisons, reasons: [] };
  const missing = hasPicture(plan) ? plan.video.frames - decoded.frames : 0;
  return { verdict: 'needs eyes', frames, comparisons, reasons: damageOf(source, missing, plan.video.frames) };
}
