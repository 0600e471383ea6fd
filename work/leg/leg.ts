import type { EndState } from '@relay/contract/run';
import type { LegPlan } from '@relay/core/recipe/legPlan';
import type { Problem, Result } from '@relay/core/result';
import { fail, ok } from '@relay/core/result';
import { timesOfPart } from '@relay/core/clip/part';
import { mapByTimes } from '@relay/core/time/frameMap';
import { toNumber } from '@relay/core/time/rational';
import { frameTimes } from '@relay/media/look/packets';
import type { Source } from '@relay/media/process/joined';
import { setMaxListeners } from 'node:events';
import { diskProblem } from '../disk/diskProblem.ts';
import { hashFiles } from '../disk/hash.ts';
import { type Held, holding, NotAsItShould } from '../disk/held.ts';
import type { FileFacts } from '../disk/place.ts';
import { legColour } from './colour.ts';
import { makeTargets } from './make.ts';
import { gravest, resultOf, type LegResult, type LegSurroundings } from './outcome.ts';
import { beginTargets, discardAll, roomProblem, sortOutTargets } from './targets.ts';
import { originalFacts, type LegOpened } from './underWay.ts';

const mostLogLines = 400;

/**
 * Carries out one leg: makes what is not there yet, flushes it, proves it, and only then gives it its name.
 * Never throws for what is in the files or on the disks; what went wrong is in the result.
 */
export async function runLeg(plan: LegPlan, surroundings: LegSurroundings): Promise<LegResult> {
  const log: string[] = [];
  const note = (line: string): void => {
    if (log.length < mostLogLines) log.push(`${new Date().toISOString().slice(11, 19)} ${line.slice(0, 4_000)}`);
  };
  // Every process of every output listens for the one stop.
  if (surroundings.signal) setMaxListeners(0, surroundings.signal);
  const at: LegSurroundings = {
    ...surroundings,
    note,
    onState: (state) => {
      note(state);
      surroundings.onState?.(state);
    },
  };
  const result = await holding((held) => carryOut(plan, at, held));
  for (const { path, state, alreadyThere, problem, proof } of result.outputs) {
    note(`${path}: ${state}${alreadyThere ? ', was there already' : ''}${problem ? `. ${problem.what}` : ''}`);
    for (const comparison of proof?.comparisons ?? [])
      if (!comparison.holds) note(`  ${comparison.name}: planned ${comparison.planned}, found ${comparison.found}`);
  }
  if (result.problem && result.outputs.length === 0) note(result.problem.what);
  return { ...result, log, stalled: result.problem?.kind === 'stalled' };
}

type LegOutcome = Omit<LegResult, 'log' | 'stalled'>;

/** Every output with the same end. */
function allWith(plan: LegPlan, state: EndState, problem: Problem): LegOutcome {
  const outputs = plan.outputs.map((output) => resultOf(output, state, { problem }));
  return { state, problem, originalXxh3: null, outputs };
}

/** The original's files below the folder that was read: itself, or its chapters. */
function filesOf({ original: { chapters, path } }: LegPlan): string[] {
  return chapters.length === 0 ? [path] : chapters.map((chapter) => chapter.path);
}

function originalGone(path: string): { ok: false; problem: Problem } {
  const remedy = 'See that its store is mounted, then retry';
  return { ok: false, problem: { kind: 'original gone', what: `${path} is no longer there`, remedy } };
}

/** Opens the original's files, and sees that they are what was described. */
async function openOriginal(
  plan: LegPlan,
  at: LegSurroundings,
  held: Held,
): Promise<Result<{ source: Source; before: FileFacts }>> {
  const paths: string[] = [];
  for (const path of filesOf(plan)) {
    try {
      paths.push(await held.file(at.sourceRoot, path));
    } catch (error) {
      // Of several files, the one it is.
      const gone = (error as NodeJS.ErrnoException).code === 'ENOENT';
      if (gone) return originalGone(path);
      const what = `${path} cannot be opened: ${(error as Error).message}`;
      const remedy = 'See that its store is mounted and the file may be read, then retry';
      // A link in its place says something of it; a disk that does not answer, or a right that is missing, does not.
      return error instanceof NotAsItShould
        ? fail(what, remedy)
        : { ok: false, problem: { kind: 'original gone', what, remedy } };
    }
  }
  const before = await originalFacts(paths);
  if (!before) return originalGone(plan.original.path);
  if (before.sizeBytes !== plan.original.sizeBytes)
    return {
      ok: false,
      problem: {
        kind: 'original changed',
        what: `${plan.original.path} has changed since it was read`,
        remedy: 'Wait until its copy is complete, read it again and run it again',
      },
    };
  return ok({ source: { clip: plan.original, paths }, before });
}

/** The plan with the map of each output whose rate was made constant: that needs the time of every frame. */
async function withTimes(plan: LegPlan, source: Source): Promise<LegPlan> {
  if (!plan.outputs.some(({ video }) => video.map?.kind === 'times')) return plan;
  const all = await frameTimes(
    source.paths,
    plan.original.chapters.map((chapter) => toNumber(chapter.duration)),
  );
  const times = timesOfPart(plan.original, all);
  return {
    ...plan,
    outputs: plan.outputs.map((output) =>
      output.video.map.kind === 'times'
        ? { ...output, video: { ...output.video, map: mapByTimes(times, output.video.rate) } }
        : output,
    ),
  };
}

async function carryOut(planned: LegPlan, at: LegSurroundings, held: Held): Promise<LegOutcome> {
  const opened = await openOriginal(planned, at, held);
  if (!opened.ok) return allWith(planned, 'failed', opened.problem);
  const { source, before } = opened.value;
  const plan = await withTimes(planned, source);
  let colour: LegOpened['colour'];
  try {
    colour = await legColour(plan.outputs, at.lutText ?? (async () => null));
  } catch (error) {
    return allWith(plan, 'failed', {
      what: `${plan.original.path}: ${(error as Error).message}`,
      remedy: 'Look at its chain on the bench, then retry',
    });
  }
  try {
    return await proveAndMake({ plan, source, colour, at, held, before });
  } finally {
    await colour.discard().catch(() => undefined);
  }
}

/** Proves what is there already, and makes the rest. */
async function proveAndMake(leg: LegOpened): Promise<LegOutcome> {
  const { plan, at } = leg;
  const { done, targets } = await sortOutTargets(leg).catch((error: unknown) => ({ done: error, targets: null }));
  if (targets === null) return allWith(plan, 'failed', diskProblem(done, plan.outputs[0]?.path ?? plan.original.path));
  try {
    const room = await roomProblem({ ...plan, outputs: targets.map((target) => target.plan) }, at);
    if (room) return allWith(plan, 'failed', room);
    await beginTargets(targets, at);
  } catch (error) {
    await discardAll(targets);
    return allWith(plan, 'failed', diskProblem(error, plan.outputs[0]?.path ?? plan.original.path));
  }
  try {
    // The checksum reads the file that FFmpeg is decoding, so it comes out of the page cache.
    const hashing = hashFiles(leg.source.paths, at.signal).catch(() => null);
    const made = targets.length > 0 ? await makeTargets({ ...leg, hashing }, targets) : [];
    const results = new Map([...done, ...made].map((result) => [result.path, result]));
    const outputs = plan.outputs.map((output) => results.get(output.path) ?? resultOf(output, 'failed'));
    const state = gravest(outputs.map((output) => output.state));
    const problem = outputs.find((output) => output.state === state)?.problem ?? null;
    return { state, outputs, problem, originalXxh3: await hashing };
  } finally {
    await discardAll(targets);
  }
}
