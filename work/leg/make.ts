import type { OutputResult } from '@relay/contract/run';
import type { SourceFacts } from '@relay/core/proof/proof';
import { under } from '@relay/core/naming/under';
import { soundBytes } from '@relay/core/recipe/rate';
import { besideRange } from '@relay/core/size/forecast';
import type { LegPlan, OutputPlan } from '@relay/core/recipe/legPlan';
import type { Problem } from '@relay/core/result';
import type { Tuning } from '@relay/media/leg/encoders';
import { firstPass, needsFirstPass } from '@relay/media/leg/firstPass';
import { performLeg, type Performed } from '@relay/media/leg/perform';
import { doesNotFit, tuneLeg } from '@relay/media/leg/tune';
import { asShown } from '@relay/media/process/pinned';
import { scratchFolder } from '@relay/media/process/scratch';
import { Stalled, stalledWords } from '@relay/media/process/watched';
import { takeOriginal, type Evidence } from '@relay/media/proof/evidence';
import { rm } from 'node:fs/promises';
import { diskProblem } from '../disk/diskProblem.ts';
import { outputBytes } from '../disk/hash.ts';
import type { LegColour } from './colour.ts';
import { finishOutput } from './finish.ts';
import { resultOf, stalledRemedy } from './outcome.ts';
import { makeReady, type LegReady } from './ready.ts';
import { performInSegments, segmentsWanted } from './segments.ts';
import { partOf, type Target } from './targets.ts';
import { hasChanged, type LegUnderWay } from './underWay.ts';

/** What came off one decode: what FFmpeg said, and what was taken of the original meanwhile. */
interface Made {
  performed: Performed;
  evidence: Evidence;
}

function allFailed(targets: readonly Target[], problem: Problem): OutputResult[] {
  return targets.map((target) => resultOf(target.plan, 'failed', { problem }));
}

function allStopped(targets: readonly Target[]): OutputResult[] {
  const problem = { what: 'Stopped before it was finished', remedy: 'Retry when it should be made' };
  return targets.map((target) => resultOf(target.plan, 'stopped', { problem }));
}

/** What a leg's process ended with that is no success, in words for its person. */
function performProblem(plan: LegPlan, { outcome, errors }: Performed): Problem | null {
  switch (outcome) {
    case 'done':
    case 'stopped':
      return null;
    case 'stalled':
      return { kind: 'stalled', what: `${plan.original.path} ${stalledWords}`, remedy: stalledRemedy };
    case 'full':
      return diskProblem({ code: 'ENOSPC', message: '' }, plan.outputs[0]?.path ?? '');
    case 'failed':
      return {
        what: `${plan.original.path} could not be converted: ${errors.at(-1) ?? 'FFmpeg gave no reason'}`,
        remedy: 'Look at the original; if it plays elsewhere, send us its description',
      };
  }
}

function lutOf(colour: LegColour, plan: LegPlan, output: OutputPlan): Tuning {
  const lut = colour.luts[plan.outputs.indexOf(output)];
  return lut ? { lut } : {};
}

/** The first passes of those encoders that look twice; their notes lie in `folder`. */
async function withFirstPasses(
  { source, at }: LegUnderWay,
  outputs: readonly OutputPlan[],
  tunings: readonly Tuning[],
  folder: string,
): Promise<Tuning[]> {
  return Promise.all(
    outputs.map(async (output, index) => {
      const tuning = tunings[index] ?? {};
      if (!needsFirstPass(output)) return tuning;
      const file = under(folder, `${index}.pass`);
      await firstPass(output, source, tuning, file, at.signal);
      return { ...tuning, firstPass: file };
    }),
  );
}

/** Makes the targets whole, in one process, which takes evidence of the original on its way. */
async function performWhole(
  { source, at }: LegUnderWay,
  plan: LegPlan,
  targets: readonly Target[],
  tunings: readonly Tuning[],
): Promise<Made> {
  const taking = await takeOriginal(plan, tunings);
  try {
    const performed = await performLeg(
      { plan, source, tunings },
      targets.map((target) => partOf(target).path),
      { onProgress: at.onProgress, signal: at.signal, alsoTake: taking.args },
    );
    return { performed, evidence: await taking.read() };
  } finally {
    await taking.discard();
  }
}

/** Bytes of a mean frame of an output that was made: what is not sound or wrapper. */
async function frameBytes(output: OutputPlan, path: string): Promise<number> {
  const all = await outputBytes(path);
  return Math.max(0, all - soundBytes(output.sound) - besideRange(output).likely) / Math.max(1, output.video.frames);
}

/**
 * Looks at what came out, and keeps it for like clips; the tunings to make all with once more, where what was taken over
 * from those that went before did not fit and sampling finds another, else null.
 */
async function tuningsAgain(
  { source, at }: LegUnderWay,
  plan: LegPlan,
  targets: readonly Target[],
  { tunings, performed }: { tunings: readonly Tuning[]; performed: Performed },
): Promise<Tuning[] | null> {
  if (performed.outcome !== 'done') return null;
  const { likeClips } = at;
  // What is damaged or cut short takes too little, and tells nothing of its like.
  if (!likeClips || performed.errors.length > 0 || plan.original.cutShort !== null) return null;
  const unfit = await Promise.all(
    plan.outputs.map(async (output, index) => {
      const tuning = tunings[index] ?? {};
      const bytes = tuning.chosenBy ? await frameBytes(output, partOf(targets[index] as Target).path) : 0;
      return doesNotFit(output, tuning, bytes, likeClips);
    }),
  );
  if (!unfit.some(Boolean)) return null;
  const sampled = await tuneLeg(plan, source, at.signal, tunings);
  const other = sampled.filter(({ quantiser }, index) => unfit[index] && quantiser !== tunings[index]?.quantiser);
  for (const { quantiser } of other)
    at.note?.(`${plan.original.path}: unlike the clips before it; made again at quantiser ${quantiser ?? ''}`);
  return other.length > 0 ? tunings.map((tuning, index) => (unfit[index] ? (sampled[index] ?? {}) : tuning)) : null;
}

/** Makes the targets whole; a second time where quantisers of like clips did not fit this one. */
async function performFitting(
  leg: LegUnderWay,
  plan: LegPlan,
  targets: readonly Target[],
  tunings: readonly Tuning[],
): Promise<Made> {
  const made = await performWhole(leg, plan, targets, tunings);
  const again = await tuningsAgain(leg, plan, targets, { tunings, performed: made.performed });
  if (!again || leg.at.signal?.aborted) return made;
  const second = await performWhole(leg, plan, targets, again);
  await tuningsAgain(leg, plan, targets, { tunings: again, performed: second.performed });
  return second;
}

/** Makes the targets with whoever helps; null where nobody does, or where it did not come off. */
async function performHelped(
  { plan: whole, source, at }: LegUnderWay,
  plan: LegPlan,
  targets: readonly Target[],
  tunings: readonly Tuning[],
): Promise<Made | null> {
  // Helpers know the leg as it stands in the database: all of it is to be made, or it is made here. What an earlier try
  // dealt out is not wanted any more.
  await at.helpers?.drop();
  const segments = plan.outputs.length === whole.outputs.length ? await segmentsWanted(plan, at.helpers, at) : 1;
  if (segments < 2 || !at.helpers) return null;
  return performInSegments(
    { plan, source, roots: at, owner: at.owner, tunings },
    segments,
    targets.map(partOf),
    at.helpers,
    {
      note: at.note ?? (() => undefined),
      onProgress: at.onProgress ?? (() => undefined),
      signal: at.signal,
    },
  );
}

/** Decodes the original once and makes every target of it; null where it was stopped before that. */
async function perform(leg: LegUnderWay, targets: readonly Target[], ready: LegReady): Promise<Made | null> {
  const { plan: whole, source, at, colour } = leg;
  const plan: LegPlan = { ...whole, outputs: targets.map((target) => target.plan) };
  const tunings = await tuneLeg(
    plan,
    source,
    at.signal,
    plan.outputs.map((output, index) => ({ ...ready.tunings[index], ...lutOf(colour, whole, output) })),
    at.likeClips,
  );
  for (const [index, { quantiser, chosenBy }] of tunings.entries())
    if (quantiser !== undefined && chosenBy?.likeOnes)
      at.note?.(`${plan.outputs[index]?.path ?? ''}: quantiser ${quantiser}, as for the clips like it`);
  if (at.signal?.aborted) return null;
  const helped = await performHelped(leg, plan, targets, tunings);
  if (helped || at.signal?.aborted) return helped;
  if (!plan.outputs.some(needsFirstPass)) return performFitting(leg, plan, targets, tunings);
  const folder = await scratchFolder();
  try {
    const informed = await withFirstPasses(leg, plan.outputs, tunings, folder);
    return at.signal?.aborted ? null : await performFitting(leg, plan, targets, informed);
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
}

/** Performs, and finishes each target: proved, and named. */
async function makeReadied(leg: LegUnderWay, targets: Target[], ready: LegReady): Promise<OutputResult[]> {
  const { plan, at } = leg;
  let made: Made | null;
  try {
    made = await perform(leg, targets, ready);
  } catch (error) {
    return allFailed(targets, {
      ...(error instanceof Stalled ? { kind: 'stalled' as const } : {}),
      what: `${plan.original.path}: ${(error as Error).message}`,
      remedy: 'Look at the original; retry',
    });
  }
  if (!made) return allStopped(targets);
  const { performed, evidence } = made;
  at.note?.(`ffmpeg ${asShown(performed.command.join(' '))}`);
  for (const line of performed.errors) at.note?.(line);
  if (performed.outcome === 'stopped') return allStopped(targets);
  const problem = performProblem({ ...plan, outputs: targets.map((target) => target.plan) }, performed);
  if (problem) return allFailed(targets, problem);
  at.onState?.('proving');
  if (await hasChanged(leg))
    return allFailed(targets, {
      kind: 'original changed',
      what: `${plan.original.path} changed while it was read`,
      remedy: 'Wait until its copy is complete, read it again and run it again',
    });
  const source: SourceFacts = { errors: performed.errors, cutShort: plan.original.cutShort };
  return Promise.all(targets.map((target) => finishOutput(leg, target, source, evidence)));
}

/** Makes the targets: burn-ins and repairs readied, everything performed in one decode, each output proved and named. */
export async function makeTargets(leg: LegUnderWay, targets: Target[]): Promise<OutputResult[]> {
  const { plan, source, at } = leg;
  let ready: LegReady;
  at.onState?.('running');
  try {
    ready = await makeReady(
      { ...plan, outputs: targets.map((target) => target.plan) },
      source,
      at.imageBytes ?? (async () => null),
      at.signal,
    );
  } catch (error) {
    const stalled = error instanceof Stalled;
    return allFailed(targets, {
      ...(stalled ? { kind: 'stalled' as const } : {}),
      what: `${plan.original.path}: ${(error as Error).message}`,
      remedy: stalled ? stalledRemedy : "Mend the recipe's burn-in or the clip's repair, then run it again",
    });
  }
  try {
    return await makeReadied(leg, targets, ready);
  } finally {
    await ready.discard().catch(() => undefined);
  }
}
