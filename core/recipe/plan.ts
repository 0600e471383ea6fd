import { isInterlaced, type ClipDescription, type ColourTags, type Scan, type StartTimecode } from '../clip/description.ts';
import type { Chain } from '../colour/chain/chain.ts';
import { chainEnd, chainProblem } from '../colour/chain/end.ts';
import { chainActs } from '../colour/chain/say.ts';
import { tagsOf } from '../colour/tags.ts';
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

/** What is done to an output's colour, from the samples as they come to the state that its tags then state. */
export type OutputColour =
  | { kind: 'as-shot' }
  /** The picture goes through the chain, baked. */
  | { kind: 'baked' | 'brought'; chain: Chain }
  /** The picture stays, and the chain lies beside it as a LUT at this path below the run's folder. */
  | { kind: 'beside'; chain: Chain; path: string };

export interface OutputPlan {
  deliverable: string;
  role: Role;
  /** Path below the folder chosen for the run. */
  path: string;
  wrapper: 'mov';
  codec: VideoCodec;
  video: VideoPlan;
  /** Absent in plans from before there were chains: as shot. */
  colour?: OutputColour;
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
export function matrixOf(colour: ColourTags, raster: Raster, rgb: boolean): string {
  if (colour.matrix && colour.matrix !== 'gbr') return colour.matrix;
  return !rgb && raster.height <= 576 ? 'smpte170m' : 'bt709';
}

/** Where a chain's LUT lies beside outputs: named for the chain, with a mark of its content, so that two chains never share a name. */
function besidePath(chain: Chain): string {
  const text = JSON.stringify(chain);
  // FNV-1a, 32 bits: enough to tell a production's chains apart.
  let mark = 0x811c9dc5;
  for (let i = 0; i < text.length; i += 1) mark = Math.imul(mark ^ text.charCodeAt(i), 0x01000193) >>> 0;
  const name = (chain.steps.findLast((step) => !step.muted)?.name ?? `${chain.input ?? 'chain'}-to-${chain.output ?? 'as-it-is'}`).toLowerCase().replace(/[^a-z0-9]+/g, '-').replace(/^-|-$/g, '').slice(0, 60);
  return `luts/${name || 'chain'}-${mark.toString(16).padStart(8, '0')}.cube`;
}

function planColour(deliverable: Deliverable, chain: Chain | null): OutputColour {
  const wish = deliverable.colour ?? { kind: 'as-shot' };
  if (!chain || wish.kind === 'as-shot') return { kind: 'as-shot' };
  if (wish.kind === 'brought') {
    return chain.input === null || chain.input === wish.state ? { kind: 'as-shot' } : { kind: 'brought', chain: { ...chain, steps: [], output: wish.state, rendering: null } };
  }
  if (!chainActs(chain)) return { kind: 'as-shot' };
  return wish.kind === 'beside' ? { kind: 'beside', chain, path: besidePath(chain) } : { kind: 'baked', chain };
}

/** Tags that say what the picture is after its colour was changed; unknown where the chain does not say. */
function tagsAfter(colour: OutputColour, before: ColourTags): ColourTags {
  if (colour.kind === 'as-shot' || colour.kind === 'beside') return before;
  const state = chainEnd(colour.chain);
  return state ? tagsOf(state) : { primaries: null, transfer: null, matrix: 'bt709', range: 'legal' };
}

function planVideo(clip: ClipDescription, deliverable: Deliverable, corrections: ClipCorrections, colour: OutputColour): VideoPlan | null {
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
    colour: tagsAfter(colour, { ...source.colour, matrix: source.chroma === 'rgb' ? matrix : source.colour.matrix, range: 'legal' }),
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
  const wrong = corrections.colour ? chainProblem(corrections.colour) : null;
  if (wrong) return { ok: false, problem: { ...wrong, what: `${clip.path}: ${wrong.what}` } };
  const outputs: OutputPlan[] = [];
  for (const deliverable of recipe.deliverables) {
    const colour = planColour(deliverable, corrections.colour ?? null);
    const video = planVideo(clip, deliverable, corrections, colour);
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
      colour,
      sound: planSound(clip, video),
      timecode,
      // MOV keeps the reel in the timecode track: without one it has no place, and stands in the relink sheet alone.
      reel: timecode ? (corrections.identity?.reel ?? clip.reel) : null,
    });
  }
  if (outputs.length === 0) return fail(`${recipe.name} has no deliverables`, 'Add a deliverable to the recipe');
  return ok({ version: 1, original: clip, corrections, pictureStart: clip.video.start, outputs });
}
