import { checkLayout } from '../burn/layout.ts';
import { planBurn, type BurnFacts, type BurnPlan } from '../burn/plan.ts';
import { canRun, type Running } from '../burn/running.ts';
import type { ClipDescription, ColourTags, Scan, StartTimecode } from '../clip/description.ts';
import type { Chain } from '../colour/chain/chain.ts';
import { chainProblem } from '../colour/chain/end.ts';
import { chainActs } from '../colour/chain/say.ts';
import type { ClipCorrections } from '../corrections/corrections.ts';
import { applyPathPattern, mirrored, type PathFacts } from '../naming/pathPattern.ts';
import { folderName, pathProblem } from '../naming/paths.ts';
import { dayOfPath, rollOf } from '../clip/roll.ts';
import { codecRow, hasPicture } from './codecs.ts';
import type { Stabilising } from '../repair/stabilise.ts';
import { fail, ok, type Problem, type Result } from '../result.ts';
import type { Geometry, PadColour, Window } from '../shape/geometry.ts';
import type { Raster } from '../shape/raster.ts';
import type { Feed } from '../sound/map.ts';
import { conformTimecode } from '../time/conform.ts';
import type { FrameMap } from '../time/frameMap.ts';
import { formatRate } from '../time/rate.ts';
import { equal, rational, type Rational } from '../time/rational.ts';
import { framesToTimecode, timecodeToFrames } from '../time/timecode.ts';
import type { Deliverable, Recipe, Role, VideoCodec, WrapperId } from './recipe.ts';
import { longestPath } from './members.ts';
import { planOutputRate } from './rate.ts';
import { wrapperProblem, wrappers } from './wrappers.ts';
import type { PlannedRate } from '../size/target.ts';
import { planSound } from './sound.ts';
import { soundKeptOut, timeOfSound } from './soundAlone.ts';
import { planVideo } from './video.ts';

/** What is done to the picture, in this order. */
export type PictureStep =
  /** Both fields become one whole picture, at the frame rate; `double`: a picture of each, at twice that. */
  | { kind: 'deinterlace'; topFieldFirst: boolean; double?: boolean }
  /**
   * Frames dropped or repeated so that an uneven rate becomes an even one of the same duration. `frames` is absent in
   * plans from before conforms.
   */
  | { kind: 'steady'; rate: Rational; frames?: number }
  | { kind: 'resample'; from: Rational; rate: Rational; how: 'hold' | 'blend'; frames: number }
  | { kind: 'pulldown-out'; phase: number; topFieldFirst: boolean; from: Rational; frames: number }
  | { kind: 'pulldown-in'; from: Rational; frames: number }
  | { kind: 'denoise'; strength: 1 | 2 | 3 }
  /** A shaken camera's way evened out, in two passes; in 8 bits, which is what FFmpeg's filter takes. */
  | ({ kind: 'stabilise' } & Stabilising)
  /** A window of the picture as decoders give it, turned as the file asks. */
  | { kind: 'crop'; window: Window }
  | { kind: 'turn'; quarters: number; across: boolean; down: boolean }
  | { kind: 'scale'; raster: Raster; fieldwise: boolean }
  /** The part of the scaled picture that is kept. */
  | { kind: 'view'; window: Window }
  | { kind: 'pad'; raster: Raster; at: { x: number; y: number }; colour: PadColour }
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
  /** The matrix of the samples as made, where the file cannot state it. */
  samplesOut?: string;
  /** Matrix and range of the samples that come in, as far as known, for the scaler to be told. */
  samplesIn: {
    matrix: string;
    range: 'legal' | 'full';
    /** Of R'G'B', or of full range: what they are brought to legal luma and chroma from, once and first. */ from?: {
      rgb: boolean;
      bitDepth: number;
      /** Chroma lies between luma samples, as JPEG has it. */ centred?: true;
    };
  };
  steps: PictureStep[];
  /**
   * The whole way of the picture. This and what follows is absent in plans from before there were corrections of shape
   * and time.
   */
  geometry?: Geometry;
  /** Which frames of the original are shown. */
  map: FrameMap;
  /** The output's duration over the original's where frames were relabelled, else 1. */
  stretch: Rational;
  /** Seconds by which the output is longer. */
  driftSeconds: number;
  /** The original's alpha is kept. */
  alpha?: true;
}

/**
 * One sound track as it will be: a copy, channel by channel, of the original's track `from`, unless a matrix says
 * otherwise.
 */
export interface SoundTrackPlan {
  from: number;
  channels: number;
  layout: string | null;
  bitDepth: 16 | 24;
  /**
   * For each channel what is fed into it, counted over all the original's channels, and the tracks that those lie in.
   */
  mix?: Feed[][];
  sources?: number[];
  label?: string;
}

export interface SoundPlan {
  sampleRate: 48_000;
  /** Samples in every track: as long as the picture, to the sample. */
  samples: number;
  tracks: SoundTrackPlan[];
  /** PCM where absent. Bits a second are of each channel. */
  coding?: { codec: 'aac'; bitsPerSecond: number };
  /** Samples from midnight to the first, of a recorder's file that says so. */
  timeReference?: number;
  /** Sound that follows relabelled pictures: longer by this factor, its pitch kept or moving with it. */
  stretch?: { by: Rational; pitch: 'kept' | 'moves' };
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
  wrapper: WrapperId;
  codec: VideoCodec;
  /** The rate that was asked for, reckoned out; absent where quality is constant or the codec has rates of its own. */
  rate?: PlannedRate;
  video: VideoPlan;
  /** Absent in plans from before there were chains: as shot. */
  colour?: OutputColour;
  /** What is drawn over the pictures; absent where nothing is. */
  burn?: BurnPlan;
  /** Whose copy this is, where each recipient gets one. */
  recipient?: string;
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

/**
 * Where a chain's LUT lies beside outputs: named for the chain, with a mark of its content, so that two chains never
 * share a name.
 */
function besidePath(chain: Chain): string {
  const text = JSON.stringify(chain);
  // FNV-1a, 32 bits: enough to tell a production's chains apart.
  let mark = 0x811c9dc5;
  for (let i = 0; i < text.length; i += 1) mark = Math.imul(mark ^ text.charCodeAt(i), 0x01000193) >>> 0;
  const name = (
    chain.steps.findLast((step) => !step.muted)?.name ?? `${chain.input ?? 'chain'}-to-${chain.output ?? 'as-it-is'}`
  )
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, '-')
    .replace(/^-|-$/g, '')
    .slice(0, 60);
  return `luts/${name || 'chain'}-${mark.toString(16).padStart(8, '0')}.cube`;
}

function planColour(deliverable: Deliverable, chain: Chain | null): OutputColour {
  if (!hasPicture(deliverable)) return { kind: 'as-shot' };
  const wish = deliverable.colour ?? { kind: 'as-shot' };
  if (!chain || wish.kind === 'as-shot') return { kind: 'as-shot' };
  if (wish.kind === 'brought') {
    return chain.input === null || chain.input === wish.state
      ? { kind: 'as-shot' }
      : { kind: 'brought', chain: { ...chain, steps: [], output: wish.state, rendering: null } };
  }
  if (!chainActs(chain)) return { kind: 'as-shot' };
  return wish.kind === 'beside' ? { kind: 'beside', chain, path: besidePath(chain) } : { kind: 'baked', chain };
}

/** The start timecode of an output; null where there is none, or none that exists at its rate. */
function planTimecode(clip: ClipDescription, video: VideoPlan, { time }: ClipCorrections): StartTimecode | null {
  if (!clip.timecode || !clip.video) return null;
  const from = clip.video.rate;
  const made =
    time && 'timecode' in time
      ? conformTimecode(clip.timecode, from, video.rate, time.timecode, time.kind === 'relabel')
      : equal(from, video.rate)
        ? clip.timecode
        : conformTimecode(clip.timecode, from, video.rate, 'as labelled', false);
  // A label that does not exist at the output's rate would be written as another one.
  return made && timecodeToFrames(made.start, video.rate).ok ? { start: made.start, dropFrame: made.dropFrame } : null;
}

/** Midnight as a rate writes it: above a hundred frames a second with three digits. */
function midnight(rate: Rational): StartTimecode {
  const label = framesToTimecode(0, rate);
  return { start: label.ok ? label.value.text : '00:00:00:00', dropFrame: false };
}

/** A start timecode as text that runs with the frames; null where there is none. */
function runningFrom(timecode: StartTimecode | null, rate: Rational, map: FrameMap, frames: number): Running | null {
  if (!timecode || !canRun(map)) return null;
  const start = timecodeToFrames(timecode.start, rate);
  return start.ok ? { kind: 'timecode', start: start.value, rate, dropFrame: timecode.dropFrame, map, frames } : null;
}

/** The burn-in of one output, or of one recipient's copy. */
function planOver(
  clip: ClipDescription,
  deliverable: Deliverable,
  video: VideoPlan,
  timecode: StartTimecode | null,
  facts: BurnFacts,
  recipient: string | undefined,
): BurnPlan | undefined {
  if (!deliverable.burn || !clip.video || !hasPicture(deliverable)) return undefined;
  const known: BurnFacts = {
    name: clip.stem,
    reel: clip.reel,
    ...facts,
    deliverable: deliverable.name,
    rate: formatRate(video.rate),
    recipient: recipient ?? null,
  };
  return planBurn(
    deliverable.burn,
    video.raster,
    known,
    {
      source: runningFrom(clip.timecode, clip.video.rate, video.map, clip.video.frames),
      record: runningFrom(timecode, video.rate, { kind: 'every' }, video.frames),
      frame: { kind: 'count', digits: Math.max(5, String(video.frames).length) },
    },
    video.colour.transfer,
  );
}

/** What is known of a clip beyond its file: what burn-ins tell, and what paths are made of. */
export interface LegFacts extends BurnFacts {
  roll?: string;
  day?: string | null;
  /** Place among the clips of the run, from 1. */
  counter?: number;
}

function pathFacts(
  clip: ClipDescription,
  deliverable: Deliverable,
  video: VideoPlan,
  reel: string | null,
  facts: LegFacts,
): PathFacts {
  return {
    path: clip.path,
    stem: clip.stem,
    reel,
    roll: facts.roll ?? rollOf(clip.path, ''),
    day: facts.day === undefined ? dayOfPath(clip.path) : facts.day,
    camera: facts.camera ?? null,
    scene: facts.scene ?? null,
    take: facts.take ?? null,
    production: facts.production ?? null,
    deliverable: deliverable.name,
    raster: clip.video ? `${video.raster.width}x${video.raster.height}` : 'sound',
    rate: clip.video ? formatRate(video.rate) : '48000',
    codec: codecRow(deliverable.codec)
      .name.toLowerCase()
      .replace(/[^a-z0-9.]+/g, '-'),
    date: clip.modifiedAt.slice(0, 10),
    counter: facts.counter ?? 1,
  };
}

/**
 * The plan of one clip's leg; `facts` are what burn-ins tell beyond the clip's own. Fails for clips that no deliverable
 * of the recipe can be made from.
 */
export function planLeg(
  clip: ClipDescription,
  recipe: Recipe,
  corrections: ClipCorrections = {},
  facts: LegFacts = {},
): Result<LegPlan> {
  const keptOut = soundKeptOut(clip, recipe);
  if (keptOut)
    return fail(
      `${clip.path} is ${keptOut}`,
      'Leave it out of the run, or add a Broadcast Wave deliverable to the recipe',
    );
  if (clip.video && clip.video.frames < 1) {
    return fail(`${clip.path} holds no pictures`, 'Copy it from the card again, or leave it out of the run');
  }
  const wrong = corrections.colour ? chainProblem(corrections.colour) : null;
  if (wrong) return { ok: false, problem: { ...wrong, what: `${clip.path}: ${wrong.what}` } };
  const outputs: OutputPlan[] = [];
  const reel = corrections.identity?.reel ?? clip.reel;
  for (const deliverable of recipe.deliverables) {
    if (!clip.video && hasPicture(deliverable)) continue;
    const colour = planColour(deliverable, corrections.colour ?? null);
    const named = (problem: Problem): Result<LegPlan> => fail(`${clip.path}: ${problem.what}`, problem.remedy);
    const wrapper = wrappers[deliverable.wrapper];
    const unheld = wrapperProblem(deliverable.wrapper, deliverable.codec.id, deliverable.sound.codec);
    if (unheld) return fail(`${deliverable.name}: ${unheld}`, 'Choose another wrapper or codec in the recipe');
    const planned = clip.video ? planVideo(clip, deliverable, corrections, colour) : timeOfSound(clip);
    if (!planned.ok) return named(planned.problem);
    const video = planned.value;
    const sound = planSound(clip, deliverable, video, corrections);
    if (!sound.ok) return named(sound.problem);
    // A mute clip has nothing to give to a deliverable of sound alone, and all to the others.
    if (!hasPicture(deliverable) && sound.value.tracks.length === 0) continue;
    const known = wrapper.timecode ? planTimecode(clip, video, corrections) : null;
    const timecode = known ?? (wrapper.alwaysTimecode ? midnight(video.rate) : null);
    const rate = planOutputRate(clip, deliverable, video, sound.value);
    if (!rate.ok) return named(rate.problem);
    const layout = deliverable.burn && hasPicture(deliverable) ? checkLayout(deliverable.burn) : null;
    if (layout && !layout.ok) return named(layout.problem);
    const recipients = (hasPicture(deliverable) ? deliverable.burn?.mark?.recipients : undefined) ?? [];
    for (const recipient of recipients.length > 0 ? recipients : [undefined]) {
      const folder =
        recipient === undefined
          ? deliverable.folder
          : [deliverable.folder, folderName(recipient)].filter((part) => part !== '').join('/');
      const made = applyPathPattern(deliverable.path ?? mirrored, pathFacts(clip, deliverable, video, reel, facts));
      if (!made.ok) return named(made.problem);
      const path = `${[folder, made.value].filter((part) => part !== '').join('/')}${wrapper.ending === '' ? '' : `.${wrapper.ending}`}`;
      const burn = planOver(clip, deliverable, video, timecode, facts, recipient);
      const output: OutputPlan = {
        deliverable: deliverable.name,
        role: deliverable.role,
        path,
        wrapper: deliverable.wrapper,
        codec: deliverable.codec,
        ...(rate.value ? { rate: rate.value } : {}),
        video,
        colour,
        ...(burn ? { burn } : {}),
        ...(recipient === undefined ? {} : { recipient }),
        sound: sound.value,
        timecode,
        // MOV keeps the reel in the timecode track: without one it has no place, and stands in the relink sheet alone.
        reel: timecode && wrapper.reel ? reel : null,
      };
      const problem = pathProblem(longestPath(output));
      if (problem) return { ok: false, problem };
      outputs.push(output);
    }
  }
  if (recipe.deliverables.length === 0)
    return fail(`${recipe.name} has no deliverables`, 'Add a deliverable to the recipe');
  if (outputs.length === 0)
    return fail(
      `${clip.path} has no sound`,
      'Leave it out of the run, or add a deliverable with pictures to the recipe',
    );
  return ok({ version: 1, original: clip, corrections, pictureStart: clip.video?.start ?? rational(0), outputs });
}
