import type { OutputResult } from '@relay/contract/run';
import { planMark } from '@relay/core/recipe/mark';
import { membersOf } from '@relay/core/recipe/members';
import type { LegPlan, OutputPlan } from '@relay/core/recipe/legPlan';
import type { Problem } from '@relay/core/result';
import { legBytesAtMost } from '@relay/core/size/forecast';
import { hashOutput } from '../disk/hash.ts';
import { pathOf } from '../disk/held.ts';
import { discard, discardLeftovers, exists, freeBytes, partBeside, setBeside, type Part } from '../disk/place.ts';
import type { LegSurroundings } from './outcome.ts';
import { byDisk, rootOf, type OutRoots } from './outputPlace.ts';
import { proveAgain } from './proving.ts';
import type { LegOpened } from './underWay.ts';

/** An output that is to be made. */
export interface Target {
  plan: OutputPlan;
  /** A name in a held folder. */
  finalPath: string;
  /** What it is made in, once it is begun. */
  part: Part | null;
  /** What lies there is our own, made to another plan: it is set aside once the new one is proved. */
  supersedes: boolean;
}

/** What a target is made in; it was begun before anything was made. */
export function partOf({ part, plan }: Target): Part {
  if (!part) throw new Error(`${plan.path} was not begun`);
  return part;
}

/** Removes what was begun and has no name of its own. */
export async function discardAll(targets: readonly Target[]): Promise<void> {
  await Promise.all(targets.flatMap(({ part }) => (part ? [discard(part).catch(() => undefined)] : [])));
}

/**
 * Whether what lies at an output's place is what an earlier run made and wrote down, unchanged since, but to another
 * plan.
 */
export async function isSuperseded(
  plan: LegPlan,
  output: OutputPlan,
  finalPath: string,
  at: LegSurroundings,
): Promise<boolean> {
  const recorded = await at.recorded(output.path, output.place);
  return (
    Boolean(recorded?.planMark) &&
    recorded?.planMark !== planMark(plan, output) &&
    recorded?.xxh3 === (await hashOutput(finalPath).catch(() => ''))
  );
}

/** What is there already is proved again; the rest is to be made. */
export async function sortOutTargets(leg: LegOpened): Promise<{ done: OutputResult[]; targets: Target[] }> {
  const { plan, at, held } = leg;
  const done: OutputResult[] = [];
  const targets: Target[] = [];
  for (const output of plan.outputs) {
    const finalPath = await held.place(rootOf(at, output), output.path, true);
    const there = await exists(finalPath);
    const supersedes = there && (await isSuperseded(plan, output, finalPath, at));
    if (there && !supersedes) done.push(await proveAgain(leg, output));
    else targets.push({ plan: output, finalPath, part: null, supersedes });
  }
  return { done, targets };
}

/** Why there is too little room for what is to be made; null where there is enough. */
export async function roomProblem(plan: LegPlan, at: OutRoots): Promise<Problem | null> {
  const gigabytes = (bytes: number): string => `${(bytes / 1e9).toFixed(1)} GB`;
  for (const { root, outputs } of await byDisk(plan.outputs, at)) {
    const need = legBytesAtMost({ ...plan, outputs });
    const free = await freeBytes(pathOf(root));
    if (free < need)
      return {
        kind: 'disk full',
        what: `Too little space for ${plan.original.path}: it may need ${gigabytes(need)}, ${gigabytes(free)} are free${outputs.length < plan.outputs.length ? ` for ${outputs.map(({ deliverable }) => deliverable).join(', ')}` : ''}`,
        remedy: 'Free space or choose another store, then retry',
      };
  }
  return null;
}

/** Begins each target's file under a name that nobody takes for an output; what an earlier try left goes. */
export async function beginTargets(targets: Target[], at: LegSurroundings): Promise<void> {
  for (const { plan } of targets) await discardLeftovers(rootOf(at, plan), [plan.path], at.owner);
  for (const target of targets)
    target.part = await (membersOf(target.plan) ? setBeside : partBeside)(target.finalPath, at.owner);
}
