import type { OutputResult } from '@relay/contract/run';
import type { ClipDescription, ReadEntry } from '@relay/core/clip/description';
import { isRefusal } from '@relay/core/clip/description';
import { burnComparison } from '@relay/core/proof/burn';
import { coloursComparison, coloursMost } from '@relay/core/proof/colours';
import { pictureComparisons } from '@relay/core/proof/picture';
import type { Sampled } from '@relay/core/proof/smalls';
import { prove, type Comparison, type Proof, type SourceFacts } from '@relay/core/proof/proof';
import { soundComparisons, type Excerpt } from '@relay/core/proof/sound';
import { hasPicture } from '@relay/core/recipe/codecs';
import type { LegPlan, OutputPlan } from '@relay/core/recipe/legPlan';
import { readingOf } from '@relay/core/proof/reading';
import type { Problem } from '@relay/core/result';
import { turned } from '@relay/core/shape/raster';
import { describeOutput } from '@relay/media/describe/output';
import { openOutput } from '@relay/media/leg/open';
import { burnSample } from '@relay/media/proof/burn';
import { colourSample } from '@relay/media/proof/colour';
import { decodeWhole } from '@relay/media/proof/decode';
import { originalEvidence, takeOutput, type Evidence } from '@relay/media/proof/evidence';
import { diskProblem } from '../disk/diskProblem.ts';
import { hashOutput, outputBytes } from '../disk/hash.ts';
import { placeText } from '../disk/place.ts';
import { outputIn, rootOf } from './outputPlace.ts';
import type { LegColour } from './colour.ts';
import { resultOf, takenProblem, type LegSurroundings } from './outcome.ts';
import { makeReady } from './ready.ts';
import type { LegOpened } from './underWay.ts';

/** As much of a leg as a proof needs. */
export interface ProvedIn {
  plan: LegPlan;
  colour: LegColour;
  at: Pick<LegSurroundings, 'signal'>;
}

/** What was seen of the original: how its decoding went, and what was taken of it on the way. */
export interface OriginalSeen {
  source: SourceFacts;
  evidence: Evidence;
}

/** A part of an original that is cut short, all of whose pictures came, is whole: what is missing comes after it. */
function asMet({ original: { part } }: LegPlan, source: SourceFacts, all: boolean): SourceFacts {
  return part?.goesOn && all && source.errors.length === 0 ? { ...source, cutShort: null } : source;
}

/** Describes and decodes one output, and holds it against its plan and its original. */
export async function proofOf(
  { plan, colour, at: { signal } }: ProvedIn,
  output: OutputPlan,
  path: string,
  original: OriginalSeen,
): Promise<Proof> {
  const { evidence } = original;
  const found: ReadEntry = await describeOutput(output, path);
  if (isRefusal(found)) return { verdict: 'failed', comparisons: [], reasons: [found.problem.what] };
  const taking = await takeOutput(plan, output, path, found.audio);
  try {
    const decoded = await decodeWhole(openOutput(output, path), found.audio.length, signal, taking.args);
    const made = await taking.read();
    const source = asMet(plan, original.source, decoded.frames >= output.video.frames);
    const [before, after] = [evidence.frames.get(output.path), made.frames.get('colour')];
    const sample = before && after ? colourSample(output, before, after) : null;
    // Of what is cut short before the frame that would be looked at, nothing is seen; that it is short is said.
    const short = decoded.frames < output.video.frames && source.cutShort !== null;
    const byChain = short && !sample ? [] : await colour.prove(output, sample);
    const overIt =
      output.burn && !(short && !made.frames.has('burn'))
        ? burnComparison(output.burn, output.video.colour.transfer, burnSample(output, made.frames.get('burn')))
        : [];
    return prove(output, found, decoded, source, [
      ...byChain,
      ...overIt,
      ...compareWith(plan, output, found, { source, evidence }, made),
    ]);
  } finally {
    await taking.discard();
  }
}

/**
 * Pictures and sound held against the original's. A damaged original proves nothing: its frames cannot be counted to.
 */
function compareWith(
  plan: LegPlan,
  output: OutputPlan,
  found: ClipDescription,
  { source, evidence: original }: OriginalSeen,
  made: Evidence,
): Comparison[] {
  const { video, audio } = plan.original;
  if (source.errors.length > 0 || source.cutShort !== null) return [];
  const windows = original.sound[0] ?? [];
  // One row of channels over all tracks, window by window, as the plan counts them.
  const rows = windows.map((window, w): Excerpt => ({
    first: window.first,
    channels: original.sound.flatMap((track) => track[w]?.channels ?? []),
  }));
  const heard = soundComparisons(
    output.sound,
    audio.map((track) => track.channels),
    rows,
    made.sound,
  );
  if (!video) return heard;
  const sampled: Sampled = {
    video: output.video,
    upright: turned(video.raster, video.quarterTurns),
    frames: video.frames,
    outputs: made.pictures,
    originals: original.pictures,
    burn: output.burn ?? null,
  };
  const asShot = output.colour === undefined || output.colour.kind === 'as-shot' || output.colour.kind === 'beside';
  const colours =
    asShot && hasPicture(output) && found.video
      ? coloursComparison(sampled, { made: readingOf(found.video), shot: readingOf(video) }, coloursMost(output))
      : null;
  return [...(hasPicture(output) ? pictureComparisons(sampled, asShot) : []), ...(colours ? [colours] : []), ...heard];
}

/** Lays an output's LUT where the relink sheet will say that it lies; it may lie there from an earlier leg. */
export async function layLutBeside(
  output: OutputPlan,
  colour: LegColour,
  at: LegSurroundings,
): Promise<Problem | null> {
  const { colour: wanted } = output;
  const lut = wanted?.kind === 'beside' ? colour.beside.find((one) => one.path === wanted.path) : undefined;
  if (!lut) return null;
  try {
    await placeText(rootOf(at, output), lut.path, lut.text, at.owner);
    return null;
  } catch (error) {
    return diskProblem(error, lut.path);
  }
}

/**
 * What lies under the final name already: kept and proved again if it is what an earlier run recorded, else left alone.
 */
export async function proveAgain(leg: LegOpened, output: OutputPlan): Promise<OutputResult> {
  const { held, plan, source: files, colour, at } = leg;
  const recorded = await at.recorded(output.path, output.place);
  const finalPath = await outputIn(held, output, rootOf(at, output), output.path).catch(() => null);
  if (recorded === null || finalPath === null || recorded.xxh3 !== (await hashOutput(finalPath).catch(() => '')))
    return resultOf(output, 'failed', { problem: takenProblem(output.path) });
  // What was stabilised can be held against its chain only along the same way.
  const ready = await makeReady(
    { ...plan, outputs: output.video.steps.some((step) => step.kind === 'stabilise') ? [output] : [] },
    files,
    at.imageBytes ?? (async () => null),
    at.signal,
  );
  const facts: SourceFacts = {
    errors: recorded.state === 'needs eyes' ? ['an earlier run found it damaged'] : [],
    cutShort: plan.original.cutShort,
  };
  const proof = await originalEvidence({ ...plan, outputs: [output] }, files, ready.tunings, at.signal)
    .then((evidence) => proofOf(leg, output, finalPath, { source: facts, evidence }))
    .finally(() => ready.discard());
  const sizeBytes = await outputBytes(finalPath);
  if (proof.verdict === 'failed') {
    return resultOf(output, 'failed', {
      proof,
      xxh3: recorded.xxh3,
      sizeBytes,
      problem: {
        what: `${output.path} is there already but was made to another plan: ${proof.reasons.join('; ')}`,
        remedy: 'Move it away or choose another folder, then retry',
      },
    });
  }
  const lutProblem = await layLutBeside(output, colour, at);
  if (lutProblem) return resultOf(output, 'failed', { proof, xxh3: recorded.xxh3, sizeBytes, problem: lutProblem });
  const problem =
    proof.verdict === 'needs eyes'
      ? { what: `${plan.original.path}: ${proof.reasons.join('; ')}`, remedy: 'Look at the end of the output' }
      : null;
  return resultOf(output, proof.verdict, { proof, xxh3: recorded.xxh3, sizeBytes, alreadyThere: true, problem });
}
