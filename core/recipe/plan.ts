import { isInterlaced, type ClipDescription, type ColourTags, type Scan, type StartTimecode } from '../clip/description.ts';
import type { ClipCorrections } from '../corrections/corrections.ts';
import { outputPath, pathProblem } from '../naming/paths.ts';
import { fail, ok, type Result } from '../result.ts';
import { fittedWithin, squared, turned, type FittedRaster, type Raster } from '../shape/raster.ts';
import { steadied } from '../time/cadence.ts';
import { timecodeToFrames } from '../time/timecode.ts';
import { invert, multiply, rational, scaleToInteger, type Rational } from '../time/rational.ts';
import { codecRow } from './codecs.ts';
import type { Deliverable, Recipe, Role, VideoCodec } from './recipe.ts';

/** What is done to the picture, in this order. */
export type PictureStep =
  /** Both fields become one whole picture, at the frame rate. */
  | { kind: 'deinterlace'; topFieldFirst: boolean }
  /** Frames dropped or repeated so that an uneven rate becomes an even one of the same duration. */
  | { kind: 'steady'; rate: Rational }
  | { kind: 'scale'; raster: Raster; fieldwise: boolean }
  /** Full-range samples brought to legal range. */
  | { kind: 'to-legal-range' };

export interface VideoPlan {
  raster: Raster;
  /** Shape error from whole samples; see FittedRaster. */
  aspectError: number;
  pixelAspect: Rational;
  rate: Rational;
  /** Frames that the output must have. */
  frames: number;
  scan: Scan;
  colour: ColourTags;
  /** Matrix and range of the samples that come in, as far as known, for the scaler to be told. */
  samplesIn: { matrix: string; range: 'legal' | 'full' };
  steps: PictureStep[];
}

/** One sound track as it will be: a copy, channel by channel, of the original's track `from`. */
export interface SoundTrackPlan {
  from: number;
  channels: number;
  layout: string | null;
  bitDepth: 16 | 24;
}

export interface SoundPlan {
  sampleRate: 48_000;
  /** Samples in every track: as long as the picture, to the sample. */
  samples: number;
  tracks: SoundTrackPlan[];
}

export interface OutputPlan {
  deliverable: string;
  role: Role;
  /** Path below the folder chosen for the run. */
  path: string;
  wrapper: 'mov';
  codec: VideoCodec;
  video: VideoPlan;
  sound: SoundPlan;
  timecode: StartTimecode | null;
  reel: string | null;
}

/** Everything that one clip's leg will do and make. Forecast, preview, run and proof all read this. */
export interface LegPlan {
  version: 1;
  original: ClipDescription;
  corrections: ClipCorrections;
  /** Seconds by which sound must be moved to begin with the first picture. */
  pictureStart: Rational;
  outputs: OutputPlan[];
}

const square: Rational = { num: 1, den: 1 };

function pixelAspectOf(original: Rational, shape: ClipCorrections['shape']): Rational {
  const base = shape?.pixelAspect ?? original;
  return shape?.squeeze ? multiply(base, shape.squeeze) : base;
}

/** The matrix that a file's samples have: as tagged, else by raster, as ITU-R BT.601 and BT.709 divide them. */
function matrixOf(colour: ColourTags, raster: Raster, rgb: boolean): string {
  if (colour.matrix && colour.matrix !== 'gbr') return colour.matrix;
  return !rgb && raster.height <= 576 ? 'smpte170m' : 'bt709';
}

function planVideo(clip: ClipDescription, deliverable: Deliverable, corrections: ClipCorrections): VideoPlan | null {
  const source = clip.video;
  if (!source) return null;
  const row = codecRow(deliverable.codec);
  const steps: PictureStep[] = [];
  const interlaced = isInterlaced(source.scan);
  const keepsFields = interlaced && deliverable.interlaced === 'keep' && row.canHoldFields && source.rateConstant;
  if (interlaced && !keepsFields) steps.push({ kind: 'deinterlace', topFieldFirst: source.scan === 'top-field-first' });

  const even = source.rateConstant ? { rate: source.rate, frames: source.frames } : steadied(source.rate, source.duration);
  if (!source.rateConstant) steps.push({ kind: 'steady', rate: even.rate });

  const upright = turned(source.raster, source.quarterTurns);
  const taggedAspect = pixelAspectOf(source.pixelAspect, corrections.shape);
  const aspect = source.quarterTurns % 2 === 0 ? taggedAspect : invert(taggedAspect);
  const fitted: FittedRaster = deliverable.raster.kind === 'source'
    ? squared(upright, aspect, row.steps, keepsFields)
    : fittedWithin(upright, aspect, deliverable.raster, row.steps);
  if (fitted.raster.width !== upright.width || fitted.raster.height !== upright.height) {
    steps.push({ kind: 'scale', raster: fitted.raster, fieldwise: keepsFields });
  }
  const range = source.colour.range ?? 'legal';
  if (range === 'full') steps.push({ kind: 'to-legal-range' });

  const matrix = matrixOf(source.colour, source.raster, source.chroma === 'rgb');
  return {
    raster: fitted.raster,
    aspectError: fitted.aspectError,
    pixelAspect: square,
    rate: even.rate,
    frames: even.frames,
    scan: keepsFields ? source.scan : 'progressive',
    colour: { ...source.colour, matrix: source.chroma === 'rgb' ? matrix : source.colour.matrix, range: 'legal' },
    samplesIn: { matrix, range },
    steps,
  };
}

function planSound(clip: ClipDescription, video: VideoPlan): SoundPlan {
  return {
    sampleRate: 48_000,
    samples: scaleToInteger(video.frames, multiply(rational(48_000), invert(video.rate))),
    tracks: clip.audio.map((track, from) => ({
      from,
      channels: track.channels,
      layout: track.layout,
      bitDepth: track.bitDepth !== null && track.bitDepth <= 16 ? 16 : 24,
    })),
  };
}

/** The plan of one clip's leg. Fails for clips that no deliverable of the recipe can be made from. */
export function planLeg(clip: ClipDescription, recipe: Recipe, corrections: ClipCorrections = {}): Result<LegPlan> {
  if (!clip.video) {
    return fail(`${clip.path} has no picture`, 'Sound files have no deliverable in this recipe: leave the clip out of the run');
  }
  const aspect = pixelAspectOf(clip.video.pixelAspect, corrections.shape);
  if (aspect.num <= 0 || aspect.num > aspect.den * 4 || aspect.den > aspect.num * 4) {
    return fail(`${clip.path} would have pixels of ${aspect.num}:${aspect.den}`, 'State a pixel aspect between 1:4 and 4:1');
  }
  if (clip.video.frames < 1) {
    return fail(`${clip.path} holds no pictures`, 'Copy it from the card again, or leave it out of the run');
  }
  const outputs: OutputPlan[] = [];
  for (const deliverable of recipe.deliverables) {
    const video = planVideo(clip, deliverable, corrections);
    if (!video) continue;
    const path = outputPath(deliverable.folder, clip.path, clip.stem, deliverable.wrapper);
    const problem = pathProblem(path);
    if (problem) return { ok: false, problem };
    // A label that does not exist at the output's rate would be written as another one.
    const timecode = clip.timecode && timecodeToFrames(clip.timecode.start, video.rate).ok ? clip.timecode : null;
    outputs.push({
      deliverable: deliverable.name,
      role: deliverable.role,
      path,
      wrapper: deliverable.wrapper,
      codec: deliverable.codec,
      video,
      sound: planSound(clip, video),
      timecode,
      // MOV keeps the reel in the timecode track: without one it has no place, and stands in the relink sheet alone.
      reel: timecode ? (corrections.identity?.reel ?? clip.reel) : null,
    });
  }
  if (outputs.length === 0) return fail(`${recipe.name} has no deliverables`, 'Add a deliverable to the recipe');
  return ok({ version: 1, original: clip, corrections, pictureStart: clip.video.start, outputs });
}
