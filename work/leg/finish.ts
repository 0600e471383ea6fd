import type { OutputResult } from '@relay/contract/run';
import type { Proof, SourceFacts } from '@relay/core/proof/proof';
import { hasPicture } from '@relay/core/recipe/codecs';
import type { OutputPlan } from '@relay/core/recipe/legPlan';
import { relinkRow } from '@relay/core/relink/sheet';
import type { Problem } from '@relay/core/result';
import { Stalled, stalledWords } from '@relay/media/process/watched';
import type { Evidence } from '@relay/media/proof/evidence';
import { diskProblem } from '../disk/diskProblem.ts';
import { hashOutput, outputBytes } from '../disk/hash.ts';
import { bringBack, setAside } from '../disk/moved.ts';
import { exists, flush, giveName, NameTaken } from '../disk/place.ts';
import { resultOf, stalledRemedy, takenProblem } from './outcome.ts';
import { rootOf } from './outputPlace.ts';
import { layLutBeside, proofOf } from './proving.ts';
import { isSuperseded, partOf, type Target } from './targets.ts';
import type { LegUnderWay } from './underWay.ts';

/** What an output whose proof failed is answered with: nothing lies under its name. */
function notAsPlanned({ path }: OutputPlan, { reasons }: Proof): Problem {
  return {
    what: `${path} is not what was planned: ${reasons.join('; ')}`,
    remedy: "Nothing was left under its name; retry, and send us the original's description if it fails again",
  };
}

/** What went wrong with an output, as its person is told. */
function finishProblem(error: unknown, path: string): Problem {
  if (error instanceof Stalled)
    return { kind: 'stalled', what: `${path}, while it was proved, ${stalledWords}`, remedy: stalledRemedy };
  return error instanceof NameTaken ? takenProblem(path) : diskProblem(error, path);
}

/** Writes an output down and gives it its name; what it supersedes is set aside, and noted in `replacing`. */
async function nameOutput(
  { plan, at, hashing }: LegUnderWay,
  target: Target,
  proof: Proof,
  replacing: { aside: string | null },
): Promise<OutputResult> {
  const part = partOf(target);
  const xxh3 = await hashOutput(part.path);
  const sizeBytes = await outputBytes(part.path);
  // Looked at once more, so that nothing is written down of a file that is somebody else's.
  if (target.supersedes && (await isSuperseded(plan, target.plan, target.finalPath, at)))
    replacing.aside = await setAside(rootOf(at, target.plan), target.plan.path);
  if (await exists(target.finalPath)) throw new NameTaken(target.finalPath);
  const frames = hasPicture(target.plan) ? (proof.frames ?? 0) : target.plan.video.frames;
  const originalXxh3 = (await hashing) ?? '';
  await at.record(
    relinkRow(
      plan,
      target.plan,
      { state: proof.verdict, frames, outputBytes: sizeBytes, outputXxh3: xxh3, originalXxh3 },
      at.whole,
    ),
    target.plan.place,
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
}

/** Flushes, proves and names one output. Never throws; what went wrong is in the result. */
export async function finishOutput(
  leg: LegUnderWay,
  target: Target,
  source: SourceFacts,
  evidence: Evidence,
): Promise<OutputResult> {
  const { at } = leg;
  const replacing = { aside: null as string | null };
  try {
    const part = partOf(target);
    await flush(part);
    const proof = await proofOf(leg, target.plan, part.path, { source, evidence });
    if (at.signal?.aborted)
      return resultOf(target.plan, 'stopped', {
        problem: { what: 'Stopped before it was proved', remedy: 'Retry when it should be made' },
      });
    if (proof.verdict === 'failed')
      return resultOf(target.plan, 'failed', { proof, problem: notAsPlanned(target.plan, proof) });
    const lutProblem = await layLutBeside(target.plan, leg.colour, at);
    if (lutProblem) return resultOf(target.plan, 'failed', { proof, problem: lutProblem });
    return await nameOutput(leg, target, proof, replacing);
  } catch (error) {
    // What was set aside for an output that did not come goes back under its name.
    if (replacing.aside !== null && !(await exists(target.finalPath)))
      await bringBack(rootOf(at, target.plan), replacing.aside, target.finalPath).catch(() => undefined);
    return resultOf(target.plan, 'failed', { problem: finishProblem(error, target.plan.path) });
  }
}
