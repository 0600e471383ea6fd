import type { EndState, OutputResult } from '@relay/contract/run';
import type { SourceFacts } from '@relay/core/proof/proof';
import { hasPicture } from '@relay/core/recipe/codecs';
import { planMark } from '@relay/core/recipe/mark';
import { membersOf } from '@relay/core/recipe/members';
import type { LegPlan, OutputPlan } from '@relay/core/recipe/legPlan';
import { relinkRow } from '@relay/core/relink/sheet';
import type { Problem } from '@relay/core/result';
import { legBytesAtMost } from '@relay/core/size/forecast';
import { mapByTimes } from '@relay/core/time/frameMap';
import { toNumber } from '@relay/core/time/rational';
import type { Tuning } from '@relay/media/leg/encoders';
import { firstPass, needsFirstPass } from '@relay/media/leg/firstPass';
import { performLeg, type Performed } from '@relay/media/leg/perform';
import { tuneLeg } from '@relay/media/leg/tune';
import { frameTimes } from '@relay/media/look/packets';
import type { Source } from '@relay/media/process/joined';
import { asShown } from '@relay/media/process/pinned';
import { scratchFolder } from '@relay/media/process/scratch';
import { Stalled, stalledWords } from '@relay/media/process/watched';
import { takeOriginal, type Evidence } from '@relay/media/proof/evidence';
import { setMaxListeners } from 'node:events';
import { rm } from 'node:fs/promises';
import { diskProblem } from '../disk/diskProblem.ts';
import { hashFiles, hashOutput, outputBytes } from '../disk/hash.ts';
import { type Held, holding, pathOf } from '../disk/held.ts';
import {
  bringBack,
  discard,
  discardLeftovers,
  exists,
  fileFacts,
  flush,
  freeBytes,
  giveName,
  NameTaken,
  partBeside,
  setAside,
  setBeside,
  type FileFacts,
  type Part,
} from '../disk/place.ts';
import { legColour, type LegColour } from './colour.ts';
import { gravest, resultOf, takenProblem, type LegResult, type LegSurroundings } from './outcome.ts';
import { layLutBeside, proofOf, proveAgain } from './proving.ts';
import { makeReady, type LegReady } from './ready.ts';
import { performInSegments, segmentsWanted } from './segments.ts';

interface Target {
  plan: OutputPlan;
  /** A name in a held folder. */
  finalPath: string;
  /** What it is made in, once it is begun. */
  part: Part | null;
  /** What was made ready for it. */
  tuning: Tuning;
  /** What lies there is our own, made to another plan: it is set aside once the new one is proved. */
  supersedes: boolean;
}

/**
 * Carries out one leg: makes what is not there yet, flushes it, proves it, and only then gives it its name.
 * Never throws for what is in the files or on the disks; what went wrong is in the result.
 */
export async function runLeg(plan: LegPlan, surroundings: LegSurroundings): Promise<LegResult> {
  const log: string[] = [];
  const note = (line: string): void => {
    if (log.length < mostLogLines) log.push(`${new Date().toISOString().slice(11, 19)} ${line.slice(0, 4_000)}`);
  };
  const result = await carryOutLeg(plan, {
    ...surroundings,
    note,
    onState: (state) => {
      note(state);
      surroundings.onState?.(state);
    },
  });
  for (const output of result.outputs) {
    note(
      `${output.path}: ${output.state}${output.alreadyThere ? ', was there already' : ''}${output.problem ? `. ${output.problem.what}` : ''}`,
    );
    for (const comparison of output.proof?.comparisons ?? [])
      if (!comparison.holds) note(`  ${comparison.name}: planned ${comparison.planned}, found ${comparison.found}`);
  }
  if (result.problem && result.outputs.length === 0) note(result.problem.what);
  return { ...result, log, stalled: result.problem?.what.endsWith(stalledWords) ?? false };
}

const mostLogLines = 400;
const stalledRemedy = 'Look at the original and its log; retry, perhaps on another machine';
type LegOutcome = Omit<LegResult, 'log' | 'stalled'>;

async function carryOutLeg(plan: LegPlan, at: LegSurroundings): Promise<LegOutcome> {
  // Every process of every output listens for the one stop.
  if (at.signal) setMaxListeners(0, at.signal);
  return holding((held) => carryOutHeld(plan, at, held));
}

/** The same with a leg's files and folders held open. */
async function carryOutHeld(plan: LegPlan, at: LegSurroundings, held: Held): Promise<LegOutcome> {
  const allWith = (state: EndState, problem: Problem): LegOutcome => ({
    state,
    problem,
    originalXxh3: null,
    outputs: plan.outputs.map((output) => resultOf(output, state, { problem })),
  });
  const source: Source = { clip: plan.original, paths: [] };
  for (const path of filesOf(plan)) {
    try {
      source.paths = [...source.paths, await held.file(at.sourceRoot, path)];
    } catch (error) {
      // Of several files, the one it is.
      const gone = (error as NodeJS.ErrnoException).code === 'ENOENT';
      return allWith('failed', {
        what: gone ? `${path} is no longer there` : `${path} cannot be opened: ${(error as Error).message}`,
        remedy: 'See that its store is mounted, then retry',
      });
    }
  }
  const before = await originalFacts(source.paths);
  if (!before)
    return allWith('failed', {
      what: `${plan.original.path} is no longer there`,
      remedy: 'See that its store is mounted, then retry',
    });
  if (before.sizeBytes !== plan.original.sizeBytes) {
    return allWith('failed', {
      what: `${plan.original.path} has changed since it was read`,
      remedy: 'Wait until its copy is complete, read it again and run it again',
    });
  }
  plan = await withTimes(plan, source);
  let colour: LegColour;
  try {
    colour = await legColour(plan.outputs, at.lutText ?? (async () => null));
  } catch (error) {
    return allWith('failed', {
      what: `${plan.original.path}: ${(error as Error).message}`,
      remedy: 'Look at its chain on the bench, then retry',
    });
  }
  try {
    return await withColour(plan, source, colour, before, at, held);
  } finally {
    await colour.discard().catch(() => undefined);
  }
}

/** Makes the outputs that are not there yet: readied, performed, proved. */
async function makeMissing(
  plan: LegPlan,
  files: Source,
  targets: Target[],
  colour: LegColour,
  at: LegSurroundings,
  modifiedBefore: string,
  hashing: Promise<string | null>,
): Promise<OutputResult[]> {
  let ready: LegReady;
  at.onState?.('running');
  try {
    ready = await makeReady(
      { ...plan, outputs: targets.map((target) => target.plan) },
      files,
      at.imageBytes ?? (async () => null),
      at.signal,
    );
  } catch (error) {
    return targets.map((target) =>
      resultOf(target.plan, 'failed', {
        problem: {
          what: `${plan.original.path}: ${(error as Error).message}`,
          remedy:
            error instanceof Stalled
              ? stalledRemedy
              : "Mend the recipe's burn-in or the clip's repair, then run it again",
        },
      }),
    );
  }
  try {
    return await make(
      plan,
      files,
      targets.map((target, index) => ({
        ...target,
        tuning: { ...ready.tunings[index], ...lutOf(colour, plan, target.plan) },
      })),
      colour,
      at,
      modifiedBefore,
      hashing,
    );
  } finally {
    await ready.discard().catch(() => undefined);
  }
}

function lutOf(colour: LegColour, plan: LegPlan, output: OutputPlan): Tuning {
  const lut = colour.luts[plan.outputs.indexOf(output)];
  return lut ? { lut } : {};
}

/** The plan with the map of each output whose rate was made constant: that needs the time of every frame. */
async function withTimes(plan: LegPlan, source: Source): Promise<LegPlan> {
  if (!plan.outputs.some(({ video }) => video.map?.kind === 'times')) return plan;
  const times = await frameTimes(
    source.paths,
    plan.original.chapters.map((chapter) => toNumber(chapter.duration)),
  );
  return {
    ...plan,
    outputs: plan.outputs.map((output) =>
      output.video.map.kind === 'times'
        ? { ...output, video: { ...output.video, map: mapByTimes(times, output.video.rate) } }
        : output,
    ),
  };
}

/** The rest of a leg, once its chains are baked. */
async function withColour(
  plan: LegPlan,
  source: Source,
  colour: LegColour,
  before: FileFacts,
  at: LegSurroundings,
  held: Held,
): Promise<LegOutcome> {
  const allWith = (state: EndState, problem: Problem): LegOutcome => ({
    state,
    problem,
    originalXxh3: null,
    outputs: plan.outputs.map((output) => resultOf(output, state, { problem })),
  });
  const done: OutputResult[] = [];
  const targets: Target[] = [];
  try {
    for (const output of plan.outputs) {
      const finalPath = await held.place(at.outRoot, output.path, true);
      const there = await exists(finalPath);
      const supersedes = there && (await isSuperseded(plan, output, finalPath, at));
      if (there && !supersedes) done.push(await proveAgain(output, held, plan, source, colour, at));
      else targets.push({ plan: output, finalPath, part: null, tuning: {}, supersedes });
    }
    await discardLeftovers(
      at.outRoot,
      targets.map((target) => target.plan.path),
      at.owner,
    );
    const need = legBytesAtMost({ ...plan, outputs: targets.map((target) => target.plan) });
    const free = await freeBytes(pathOf(at.outRoot));
    if (targets.length > 0 && free < need) {
      const gigabytes = (bytes: number): string => `${(bytes / 1e9).toFixed(1)} GB`;
      return allWith('failed', {
        what: `Too little space for ${plan.original.path}: it may need ${gigabytes(need)}, ${gigabytes(free)} are free`,
        remedy: 'Free space or choose another store, then retry',
      });
    }
    for (const target of targets)
      target.part = await (membersOf(target.plan) ? setBeside : partBeside)(target.finalPath, at.owner);
  } catch (error) {
    await discardAll(targets);
    return allWith('failed', diskProblem(error, plan.outputs[0]?.path ?? plan.original.path));
  }

  try {
    // The checksum reads the file that FFmpeg is decoding, so it comes out of the page cache.
    const hashing = hashFiles(source.paths, at.signal).catch(() => null);
    const made =
      targets.length > 0 ? await makeMissing(plan, source, targets, colour, at, before.modifiedAt, hashing) : [];
    const outputs = plan.outputs.map(
      (output) => [...done, ...made].find((result) => result.path === output.path) ?? resultOf(output, 'failed'),
    );
    const state = gravest(outputs.map((output) => output.state));
    return {
      state,
      outputs,
      problem: outputs.find((output) => output.state === state)?.problem ?? null,
      originalXxh3: await hashing,
    };
  } finally {
    await discardAll(targets);
  }
}

/**
 * Whether what lies at an output's place is what an earlier run made and wrote down, unchanged since, but to another
 * plan.
 */
async function isSuperseded(
  plan: LegPlan,
  output: OutputPlan,
  finalPath: string,
  at: LegSurroundings,
): Promise<boolean> {
  const recorded = await at.recorded(output.path);
  return (
    Boolean(recorded?.planMark) &&
    recorded?.planMark !== planMark(plan, output) &&
    recorded?.xxh3 === (await hashOutput(finalPath).catch(() => ''))
  );
}

/** The original's files below the folder that was read: itself, or its chapters. */
function filesOf({ original: { chapters, path } }: LegPlan): string[] {
  return chapters.length === 0 ? [path] : chapters.map((chapter) => chapter.path);
}

/** Removes what was begun and has no name of its own. */
async function discardAll(targets: readonly Target[]): Promise<void> {
  await Promise.all(targets.flatMap(({ part }) => (part ? [discard(part).catch(() => undefined)] : [])));
}

/** What a target is made in; it was begun before anything was made. */
function partOf({ part, plan }: Target): Part {
  if (!part) throw new Error(`${plan.path} was not begun`);
  return part;
}

/** Size of all files together, and their times; null when one is not there. */
async function originalFacts(paths: readonly string[]): Promise<FileFacts | null> {
  const facts = await Promise.all(paths.map(fileFacts));
  if (facts.some((one) => one === null)) return null;
  return {
    sizeBytes: facts.reduce((sum, one) => sum + (one?.sizeBytes ?? 0), 0),
    modifiedAt: facts.map((one) => one?.modifiedAt ?? '').join(' '),
  };
}

async function make(
  plan: LegPlan,
  files: Source,
  targets: Target[],
  colour: LegColour,
  at: LegSurroundings,
  modifiedBefore: string,
  hashing: Promise<string | null>,
): Promise<OutputResult[]> {
  const part: LegPlan = { ...plan, outputs: targets.map((target) => target.plan) };
  const stopped = (): OutputResult[] =>
    targets.map((target) =>
      resultOf(target.plan, 'stopped', {
        problem: { what: 'Stopped before it was finished', remedy: 'Retry when it should be made' },
      }),
    );
  const tunings = await tuneLeg(
    part,
    files,
    at.signal,
    targets.map((target) => target.tuning),
  );
  if (at.signal?.aborted) return stopped();
  // Helpers know the leg as it stands in the database: all of it is to be made, or it is made here. What an earlier try
  // dealt out is not wanted any more.
  await at.helpers?.drop();
  const segments = targets.length === plan.outputs.length ? await segmentsWanted(part, at.helpers, at.outRoot) : 1;
  const passes = part.outputs.some(needsFirstPass) ? await scratchFolder() : null;
  const taking = await takeOriginal(part, tunings);
  let performed: Performed;
  let evidence: Evidence;
  try {
    const inSegments =
      segments > 1 && at.helpers
        ? await performInSegments(
            { plan: part, files, outRoot: at.outRoot, owner: at.owner, tunings },
            segments,
            targets.map(partOf),
            at.helpers,
            at.note ?? ((): void => undefined),
            at.onProgress ?? ((): void => undefined),
            at.signal,
          )
        : null;
    if (passes)
      await Promise.all(
        part.outputs.map(async (output, index) => {
          if (needsFirstPass(output))
            tunings[index] = {
              ...tunings[index],
              firstPass: await firstPass(output, files, tunings[index] ?? {}, passes, String(index), at.signal),
            };
        }),
      );
    if (at.signal?.aborted) return stopped();
    if (inSegments) ({ performed, evidence } = inSegments);
    else {
      performed = await performLeg(
        part,
        files,
        targets.map((target) => partOf(target).path),
        tunings,
        at.onProgress ?? ((): void => undefined),
        at.signal,
        taking.args,
      );
      evidence = await taking.read();
    }
  } catch (error) {
    return targets.map((target) =>
      resultOf(target.plan, 'failed', {
        problem: { what: `${plan.original.path}: ${(error as Error).message}`, remedy: 'Look at the original; retry' },
      }),
    );
  } finally {
    await taking.discard();
    if (passes) await rm(passes, { recursive: true, force: true });
  }
  at.note?.(`ffmpeg ${asShown(performed.command.join(' '))}`);
  for (const line of performed.errors) at.note?.(line);
  if (performed.outcome === 'stopped') return stopped();
  if (performed.outcome === 'stalled') {
    return targets.map((target) =>
      resultOf(target.plan, 'failed', {
        problem: { what: `${plan.original.path} ${stalledWords}`, remedy: stalledRemedy },
      }),
    );
  }
  if (performed.outcome === 'failed') {
    const said = performed.errors.at(-1) ?? 'FFmpeg gave no reason';
    const problem = /No space left/.test(performed.errors.join(' '))
      ? diskProblem({ code: 'ENOSPC', message: '' }, targets[0]?.plan.path ?? '')
      : {
          what: `${plan.original.path} could not be converted: ${said}`,
          remedy: 'Look at the original; if it plays elsewhere, send us its description',
        };
    return targets.map((target) => resultOf(target.plan, 'failed', { problem }));
  }
  at.onState?.('proving');
  const after = await originalFacts(files.paths);
  const changed = after?.sizeBytes !== plan.original.sizeBytes || after.modifiedAt !== modifiedBefore;
  if (changed) {
    const problem = {
      what: `${plan.original.path} changed while it was read`,
      remedy: 'Wait until its copy is complete, read it again and run it again',
    };
    return targets.map((target) => resultOf(target.plan, 'failed', { problem }));
  }
  const source: SourceFacts = { errors: performed.errors, cutShort: plan.original.cutShort };
  return Promise.all(targets.map((target) => finish(target, plan, colour, at, source, evidence, hashing)));
}

/** Flushes, proves and names one output. */
async function finish(
  target: Target,
  plan: LegPlan,
  colour: LegColour,
  at: LegSurroundings,
  source: SourceFacts,
  evidence: Evidence,
  hashing: Promise<string | null>,
): Promise<OutputResult> {
  let aside: string | null = null;
  try {
    const part = partOf(target);
    await flush(part);
    const proof = await proofOf(plan, target.plan, part.path, colour, source, evidence, at.signal);
    if (at.signal?.aborted)
      return resultOf(target.plan, 'stopped', {
        problem: { what: 'Stopped before it was proved', remedy: 'Retry when it should be made' },
      });
    if (proof.verdict === 'failed') {
      return resultOf(target.plan, 'failed', {
        proof,
        problem: {
          what: `${target.plan.path} is not what was planned: ${proof.reasons.join('; ')}`,
          remedy: "Nothing was left under its name; retry, and send us the original's description if it fails again",
        },
      });
    }
    const xxh3 = await hashOutput(part.path);
    const sizeBytes = await outputBytes(part.path);
    const frames = hasPicture(target.plan)
      ? Number(proof.comparisons.find((comparison) => comparison.name === 'frames')?.found ?? 0)
      : target.plan.video.frames;
    const lutProblem = await layLutBeside(target.plan, colour, at);
    if (lutProblem) return resultOf(target.plan, 'failed', { proof, problem: lutProblem });
    // Looked at once more, so that nothing is written down of a file that is somebody else's.
    if (target.supersedes && (await isSuperseded(plan, target.plan, target.finalPath, at)))
      aside = await setAside(at.outRoot, target.plan.path);
    if (await exists(target.finalPath)) throw new NameTaken(target.finalPath);
    await at.record(
      relinkRow(
        plan,
        target.plan,
        { state: proof.verdict, frames, outputBytes: sizeBytes, outputXxh3: xxh3, originalXxh3: (await hashing) ?? '' },
        at.whole,
      ),
    );
    await giveName(part, target.finalPath);
    const problem =
      proof.verdict === 'needs eyes'
        ? {
            what: `${plan.original.path}: ${proof.reasons.join('; ')}`,
            remedy: 'Look at the end of the output; copy the original from the card again if more was shot',
          }
        : null;
    return resultOf(target.plan, proof.verdict, { proof, sizeBytes, xxh3, problem });
  } catch (error) {
    // What was set aside for an output that did not come goes back under its name.
    if (aside !== null && !(await exists(target.finalPath)))
      await bringBack(at.outRoot, aside, target.finalPath).catch(() => undefined);
    if (error instanceof Stalled)
      return resultOf(target.plan, 'failed', {
        problem: { what: `${target.plan.path}, while it was proved, ${stalledWords}`, remedy: stalledRemedy },
      });
    if (error instanceof NameTaken) return resultOf(target.plan, 'failed', { problem: takenProblem(target.plan.path) });
    return resultOf(target.plan, 'failed', { problem: diskProblem(error, target.plan.path) });
  }
}
