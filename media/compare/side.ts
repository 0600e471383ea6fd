import type { ClipDescription, VideoDescription } from '@relay/core/clip/description';
import { readingOf, readingOfOutput, type Reading } from '@relay/core/proof/reading';
import { hasPicture } from '@relay/core/recipe/codecs';
import type { OutputPlan, PictureStep } from '@relay/core/recipe/legPlan';
import { fittedWithin, turned, type Raster } from '@relay/core/shape/raster';
import type { FrameMap } from '@relay/core/time/frameMap';
import { betweenOutputs } from '@relay/core/time/betweenOutputs';
import { divide, invert, toNumber, type Rational } from '@relay/core/time/rational';
import type { Sampled } from '../leg/filters.ts';
import { firstInput, type Opened } from '../leg/open.ts';
import type { FileTime } from './inStep.ts';

/** A sound track as FFmpeg is told of it: its stream among a side's own inputs. */
export interface HeardTrack {
  /** As `0:a:1`: input, kind, number. */
  stream: string;
  channels: number;
}

/** What is played or shown beside something else, in step with the frames of an output. */
export interface Side {
  /** FFmpeg's arguments that open the pictures: one input. */
  picture: readonly string[];
  /** Arguments that open what is heard, and its tracks, counted from the first of these inputs. */
  sound: { input: readonly string[]; tracks: readonly HeardTrack[] };
  /** Pinned paths that no argument names. */
  hands: readonly string[];
  time: FileTime;
  /** Seconds from the beginning of the file to its first picture, or to a part's. */
  startSeconds: number;
  /** The file begins before it: it cannot be counted to from there. */
  isPart?: boolean;
  /** Seconds of the file that go by in one of the output's. */
  pace: number;
  /** The samples as they are decoded. */
  samples: Sampled;
  matrix: string;
  /** Turns beyond what the file asks for, which decoders make. */
  turn: { quarters: number; across: boolean; down: boolean };
  /** As it stands upright, every sample kept. */
  raster: Raster;
  /** As it is played. */
  light: Raster;
}

const noTurn = { quarters: 0, across: false, down: false };

/** No larger than this are pictures played: what two cores decode, make and draw in time. */
const playedWithin: Raster = { width: 960, height: 540 };

function lightOf(raster: Raster, aspect: Rational): Raster {
  return fittedWithin(raster, aspect, playedWithin, { widthStep: 2, heightStep: 2 }).raster;
}

function sampledOf(reading: Reading, scan: VideoDescription['scan'], alpha: boolean): Sampled {
  const { rgb, bitDepth, range, matrix, centred } = reading;
  const made = rgb || range === 'full';
  return {
    scan,
    ...(alpha ? { alpha: true } : {}),
    samplesIn: {
      matrix,
      range,
      ...(made ? { from: { rgb, bitDepth, ...(centred ? { centred: true as const } : {}) } } : {}),
    },
  };
}

type Deinterlacing = Extract<PictureStep, { kind: 'deinterlace' }>;
type PulldownOut = Extract<PictureStep, { kind: 'pulldown-out' }>;

/** A clip held open: its description, or a part's, and how FFmpeg is given all of its files. */
export interface OpenClip {
  clip: ClipDescription;
  input: readonly string[];
  hands: readonly string[];
}

/** A clip's own picture at somebody else's times, upright and whole; null where it has none. */
export function clipSide(
  { clip: { video, audio, part }, input, hands }: OpenClip,
  { map, rate, pace }: { map: FrameMap; rate: Rational; pace: number },
): Side | null {
  if (!video) return null;
  const reading = readingOf(video);
  const raster = turned(video.raster, video.quarterTurns);
  const { pixelAspect } = video;
  return {
    picture: input,
    sound: {
      input: audio.length > 0 ? input : [],
      tracks: audio.map(({ channels }, index) => ({ stream: `0:a:${index}`, channels })),
    },
    hands,
    time: {
      fileRate: video.rate,
      frames: video.frames,
      map,
      rate,
      topFieldFirst: video.scan !== 'bottom-field-first',
      longestSeconds: 1 / toNumber(video.rateVaries?.slowest ?? video.rate),
    },
    startSeconds: toNumber(video.start) + (part ? toNumber(part.at) : 0),
    ...(part ? { isPart: true } : {}),
    pace,
    samples: sampledOf(reading, video.scan, video.alpha),
    matrix: reading.matrix,
    turn: noTurn,
    raster,
    light: lightOf(raster, video.quarterTurns % 2 === 0 ? pixelAspect : invert(pixelAspect)),
  };
}

/** An original, as it stands beside an output: its own picture at the output's times, turned as it is, nothing cropped. */
export function originalSide(open: OpenClip, { video: planned }: OutputPlan): Side | null {
  const { video } = open.clip;
  const { map, rate, stretch, steps, geometry } = planned;
  const side = clipSide(open, { map, rate, pace: 1 / toNumber(stretch) });
  if (!video || !side) return null;
  const turn = geometry?.turn ?? noTurn;
  const turns = video.quarterTurns + turn.quarters;
  const raster = turned(video.raster, turns);
  const wide = geometry?.stages[0]?.pixelAspect ?? video.pixelAspect;
  return {
    ...side,
    time: {
      ...side.time,
      deinterlace: steps.find((step): step is Deinterlacing => step.kind === 'deinterlace'),
      topFieldFirst: steps.find((step): step is PulldownOut => step.kind === 'pulldown-out')?.topFieldFirst ?? true,
    },
    turn,
    raster,
    light: lightOf(raster, turns % 2 === 0 ? wide : invert(wide)),
  };
}

/** An output in step with another of the same original, or with itself. */
export function outputSide(opened: Opened, output: OutputPlan, { video: { map, rate } }: OutputPlan): Side | null {
  if (!hasPicture(output)) return null;
  const { video, sound } = output;
  const reading = readingOfOutput(output);
  const there = betweenOutputs({ map, rate }, video);
  const ratio = there.kind === 'hold' ? there.ratio : { num: 1, den: 1 };
  return {
    picture: firstInput(opened.input),
    sound: {
      input: sound.tracks.length > 0 ? opened.input : [],
      tracks: sound.tracks.map(({ channels }, index) => ({ stream: opened.sound(index), channels })),
    },
    hands: [],
    time: {
      fileRate: video.rate,
      frames: video.frames,
      map: there,
      rate,
      // What is made comes evenly, and goes through no pattern of fields any more.
      topFieldFirst: true,
      longestSeconds: 1 / toNumber(video.rate),
    },
    startSeconds: 0,
    pace: toNumber(divide(divide(rate, ratio), video.rate)),
    samples: sampledOf(reading, video.scan, video.alpha === true),
    matrix: reading.matrix,
    turn: noTurn,
    raster: video.raster,
    light: lightOf(video.raster, video.pixelAspect),
  };
}

/** Channels that can be heard of a side, over all its tracks. */
export function channelsOf({ sound }: Side): number {
  return sound.tracks.reduce((sum, { channels }) => sum + channels, 0);
}
