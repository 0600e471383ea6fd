import { checkLayout } from '../burn/layout.ts';
import { planBurn, type BurnFacts, type BurnPlan } from '../burn/plan.ts';
import { canRun, type Running } from '../burn/running.ts';
import { correctionsOfPart, partMark } from '../clip/part.ts';
import type { ClipDescription, StartTimecode } from '../clip/description.ts';
import type { Chain } from '../colour/chain/chain.ts';
import { chainProblem } from '../colour/chain/end.ts';
import { chainActs } from '../colour/chain/say.ts';
import type { ClipCorrections } from '../corrections/corrections.ts';
import { applyPathPattern, mirrored, type PathFacts } from '../naming/pathPattern.ts';
import { folderName, pathProblem } from '../naming/paths.ts';
import { dayOfPath, rollOf } from '../clip/roll.ts';
import { codecRow, hasPicture } from './codecs.ts';
import { fail, ok, type Problem, type Result } from '../result.ts';
import { conformTimecode } from '../time/conform.ts';
import type { FrameMap } from '../time/frameMap.ts';
import { formatRate } from '../time/rate.ts';
import { equal, rational, type Rational } from '../time/rational.ts';
import { framesToTimecode, timecodeToFrames } from '../time/timecode.ts';
import type { Deliverable, Recipe } from './recipe.ts';
import { longestPath } from './members.ts';
import { planOutputRate } from './rate.ts';
import { wrapperProblem, wrappers } from './wrappers.ts';
import { planSound } from './sound.ts';
import { soundKeptOut, timeOfSound } from './soundAlone.ts';
import { planVideo } from './video.ts';
import type { LegPlan, OutputColour, OutputPlan, VideoPlan } from './legPlan.ts';

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
function planOver({
  clip,
  deliverable,
  video,
  timecode,
  facts,
  recipient,
}: Pick<Wanted, 'clip' | 'deliverable' | 'facts'> & {
  video: VideoPlan;
  timecode: StartTimecode | null;
  recipient: string | undefined;
}): BurnPlan | undefined {
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
    stem: `${clip.stem}${partMark(clip)}`,
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

/** A deliverable and what it is to be made of, for one clip. */
interface Wanted {
  clip: ClipDescription;
  deliverable: Deliverable;
  corrections: ClipCorrections;
  facts: LegFacts;
}

/** All that an output has alike with its other recipients' copies. */
type Planned = Omit<OutputPlan, 'path' | 'burn' | 'recipient'>;

/** The output of one deliverable, as far as it is alike for everybody; null where the clip has nothing to give to it. */
function planOutput({ clip, deliverable, corrections }: Wanted): Result<Planned | null> {
  const wrapper = wrappers[deliverable.wrapper];
  const colour = planColour(deliverable, corrections.colour ?? null);
  const planned = clip.video ? planVideo(clip, deliverable, corrections, colour) : timeOfSound(clip);
  if (!planned.ok) return planned;
  const video = planned.value;
  const sound = planSound(clip, deliverable, video, corrections);
  if (!sound.ok) return sound;
  // A mute clip has nothing to give to a deliverable of sound alone, and all to the others.
  if (!hasPicture(deliverable) && sound.value.tracks.length === 0) return ok(null);
  const rate = planOutputRate(clip, deliverable, video, sound.value);
  if (!rate.ok) return rate;
  const known = wrapper.timecode ? planTimecode(clip, video, corrections) : null;
  const timecode = known ?? (wrapper.alwaysTimecode ? midnight(video.rate) : null);
  return ok({
    deliverable: deliverable.name,
    role: deliverable.role,
    wrapper: deliverable.wrapper,
    codec: deliverable.codec,
    ...(rate.value ? { rate: rate.value } : {}),
    video,
    colour,
    sound: sound.value,
    timecode,
    // MOV keeps the reel in the timecode track: without one it has no place, and stands in the relink sheet alone.
    reel: timecode && wrapper.reel ? joinedCopyOf(clip, corrections) : null,
  });
}

function joinedCopyOf(clip: ClipDescription, { identity }: ClipCorrections): string | null {
  return identity?.reel ?? clip.reel;
}

/** Path of an output below the run's folder, in the folder of its recipient where it has one. */
function planPath(
  { clip, deliverable, corrections, facts }: Wanted,
  video: VideoPlan,
  recipient?: string,
): Result<string> {
  const folders = [deliverable.folder, recipient === undefined ? '' : folderName(recipient)];
  const { ending } = wrappers[deliverable.wrapper];
  const made = applyPathPattern(
    deliverable.path ?? mirrored,
    pathFacts(clip, deliverable, video, joinedCopyOf(clip, corrections), facts),
  );
  if (!made.ok) return made;
  const path = [...folders, made.value].filter((part) => part !== '').join('/');
  return ok(ending === '' ? path : `${path}.${ending}`);
}

/** Who gets a copy of a deliverable; one nameless one where nobody is named. */
function recipientsOf(deliverable: Deliverable): readonly (string | undefined)[] {
  const named = (hasPicture(deliverable) ? deliverable.burn?.mark?.recipients : undefined) ?? [];
  return named.length > 0 ? named : [undefined];
}

/** All outputs that one deliverable is made into; problems speak of the clip by name. */
function planOutputs(wanted: Wanted): Result<OutputPlan[]> {
  const { clip, deliverable, facts } = wanted;
  const named = ({ what, remedy }: Problem): Result<OutputPlan[]> => fail(`${clip.path}: ${what}`, remedy);
  const unheld = wrapperProblem(deliverable.wrapper, deliverable.codec.id, deliverable.sound.codec);
  if (unheld) return fail(`${deliverable.name}: ${unheld}`, 'Choose another wrapper or codec in the recipe');
  const planned = planOutput(wanted);
  if (!planned.ok) return named(planned.problem);
  if (planned.value === null) return ok([]);
  const { video, timecode } = planned.value;
  const layout = deliverable.burn && hasPicture(deliverable) ? checkLayout(deliverable.burn) : null;
  if (layout && !layout.ok) return named(layout.problem);
  const outputs: OutputPlan[] = [];
  for (const recipient of recipientsOf(deliverable)) {
    const path = planPath(wanted, video, recipient);
    if (!path.ok) return named(path.problem);
    const burn = planOver({ clip, deliverable, video, timecode, facts, recipient });
    const output: OutputPlan = {
      ...planned.value,
      path: path.value,
      ...(deliverable.place ? { place: deliverable.place } : {}),
      ...(burn ? { burn } : {}),
      ...(recipient === undefined ? {} : { recipient }),
    };
    const problem = pathProblem(longestPath(output));
    if (problem) return { ok: false, problem };
    outputs.push(output);
  }
  return ok(outputs);
}

/** What keeps a clip from being made into anything at all. */
function clipProblem(clip: ClipDescription, recipe: Recipe, { colour }: ClipCorrections): Problem | null {
  const keptOut = soundKeptOut(clip, recipe);
  if (keptOut)
    return {
      what: `${clip.path} is ${keptOut}`,
      remedy: 'Leave it out of the run, or add a Broadcast Wave deliverable to the recipe',
    };
  if (clip.video && clip.video.frames < 1)
    return {
      what: `${clip.path} holds no pictures`,
      remedy: 'Copy it from the card again, or leave it out of the run',
    };
  const wrong = colour ? chainProblem(colour) : null;
  return wrong && { ...wrong, what: `${clip.path}: ${wrong.what}` };
}

/**
 * The plan of one clip's leg, or of a part's (`partOfClip`); `facts` are what burn-ins tell beyond the clip's own. Fails for clips that no deliverable
 * of the recipe can be made from.
 */
export function planLeg(
  clip: ClipDescription,
  recipe: Recipe,
  said: ClipCorrections = {},
  facts: LegFacts = {},
): Result<LegPlan> {
  const corrections = correctionsOfPart(said, clip.part);
  const problem = clipProblem(clip, recipe, corrections);
  if (problem) return { ok: false, problem };
  const outputs: OutputPlan[] = [];
  for (const deliverable of recipe.deliverables) {
    if (!clip.video && hasPicture(deliverable)) continue;
    const planned = planOutputs({ clip, deliverable, corrections, facts });
    if (!planned.ok) return planned;
    outputs.push(...planned.value);
  }
  if (recipe.deliverables.length === 0)
    return fail(`${recipe.name} has no deliverables`, 'Add a deliverable to the recipe');
  if (outputs.length === 0)
    return fail(
      `${clip.path} has no sound`,
      'Leave it out of the run, or add a deliverable with pictures to the recipe',
    );
  return ok({
    version: 1,
    original: clip,
    corrections,
    // A part is entered where its pictures begin.
    pictureStart: clip.part ? rational(0) : (clip.video?.start ?? rational(0)),
    outputs,
  });
}
