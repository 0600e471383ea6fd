import { createHash } from 'node:crypto';
import { rm } from 'node:fs/promises';
import { folderAndName, under } from '@relay/core/naming/under';
import type { LegPlan, OutputPlan } from '@relay/core/recipe/legPlan';
import { canBeCut, cutInto, segmentCount, shortestSegment, type Segment } from '@relay/core/recipe/segments';
import { legBytesAtMost } from '@relay/core/size/forecast';
import type { Tuning } from '@relay/media/leg/encoders';
import type { LegProgress, Material, Performed } from '@relay/media/leg/perform';
import { frameSums, joinSegments, makeSegment, readFrameSums } from '@relay/media/leg/segment';
import { scratchFolder } from '@relay/media/process/scratch';
import { originalEvidence, type Evidence } from '@relay/media/proof/evidence';
import { Held, holding, pathOf, type Root } from '../disk/held.ts';
import { discard, discardPart, flush, freeBytes, leavePart, partBeside, type Part } from '../disk/place.ts';
import { legColour, type LutText } from './colour.ts';
import { byDisk, rootOf, type OutRoots } from './outputPlace.ts';
import { beating } from '../heart.ts';

/**
 * What came of a segment: its files below the outputs' places, in the order of the outputs, and a digest of the frames
 * that it took; or why nothing did.
 */
export type SegmentEnd =
  | { state: 'done'; parts: readonly string[]; seen: string }
  | { state: 'waiting' }
  | { state: 'failed'; problem: string };

export interface SegmentNow {
  place: number;
  state: 'waiting' | 'running' | 'done' | 'failed';
  worker: string | null;
  framesDone: number;
  parts: string[];
  seen: string | null;
  problem: string | null;
}

/** Workers that stand idle, as a leg asks for their help. */
export interface Helpers {
  idle: () => Promise<number>;
  deal: (segments: readonly Segment[], tunings: readonly Tuning[]) => Promise<void>;
  /** A segment that nobody makes, for the leg's own worker. */
  claim: () => Promise<number | null>;
  beat: (place: number, framesDone: number) => Promise<boolean>;
  end: (place: number, end: SegmentEnd) => Promise<boolean>;
  now: () => Promise<SegmentNow[]>;
  /** Takes all segments back; the files that were made of each, in the order of the outputs, below their places. */
  drop: () => Promise<string[][]>;
}

/** What segments are made of, and where they lie until they are joined. */
interface Making extends Material {
  roots: OutRoots;
  /** Marks temporary files as the leg's. */
  owner: string;
}

function digestOf(sums: readonly string[]): string {
  return createHash('sha256').update(sums.join('\n')).digest('hex');
}

/** Makes the files of one segment, flushed; what could not be made is cleared up. */
async function makePart(
  making: Making,
  segment: Segment,
  onFrames: (done: number) => void,
  signal: AbortSignal,
): Promise<{ end: SegmentEnd; performed: Performed }> {
  const { plan, roots, owner } = making;
  const folder = await scratchFolder();
  const held = new Held();
  const targets: Part[] = [];
  let kept = false;
  try {
    for (const output of plan.outputs)
      targets.push(await partBeside(await held.place(rootOf(roots, output), output.path, true), owner));
    const sums = under(folder, 'sums');
    const performed = await makeSegment(
      making,
      segment,
      targets.map(({ path }) => path),
      sums,
      { onFrames, signal },
    );
    if (performed.outcome === 'stopped') return { end: { state: 'waiting' }, performed };
    const seen = await readFrameSums(sums);
    // A complaint may be of a damaged original: whole, it is made and judged as ever.
    const wrong =
      performed.outcome !== 'done' || performed.errors.length > 0
        ? (performed.errors.at(-1) ?? performed.outcome)
        : seen.length !== segment.frames
          ? `${seen.length} frames were taken for ${segment.frames}`
          : null;
    if (wrong !== null) return { end: { state: 'failed', problem: wrong }, performed };
    for (const target of targets) await flush(target);
    kept = true;
    return {
      end: {
        state: 'done',
        parts: targets.map(({ name }, index) => under(folderAndName(plan.outputs[index]?.path ?? '').folder, name)),
        seen: digestOf(seen),
      },
      performed,
    };
  } finally {
    await rm(folder, { recursive: true, force: true });
    await Promise.all(targets.map((target) => (kept ? leavePart(target) : discard(target)).catch(() => undefined)));
    await held.close();
  }
}

/** Tests set it lower. */
const shortest = Number(process.env.RELAY_SEGMENT_FRAMES ?? shortestSegment);

/**
 * In how many segments a leg is cut now; 1 where it is made whole. Until they are joined, segments and outputs lie on
 * the store together.
 */
export async function segmentsWanted(plan: LegPlan, helpers: Helpers | undefined, roots: OutRoots): Promise<number> {
  if (!helpers || !canBeCut(plan)) return 1;
  const frames = plan.original.video?.frames ?? 0;
  if (segmentCount(frames, 1, shortest) < 2 || !(await hasRoomTwice(plan, roots))) return 1;
  return segmentCount(frames, await helpers.idle(), shortest);
}

/** Whether segments and outputs have room together on every disk that they go to. */
async function hasRoomTwice(plan: LegPlan, roots: OutRoots): Promise<boolean> {
  for (const { root, outputs } of await byDisk(plan.outputs, roots))
    if ((await freeBytes(pathOf(root))) < 2 * legBytesAtMost({ ...plan, outputs })) return false;
  return true;
}

/** Who watches a leg that is made in segments. */
export interface SegmentWatch {
  note: (line: string) => void;
  onProgress: (progress: LegProgress) => void;
  signal: AbortSignal | undefined;
}

/**
 * Makes a leg's outputs in segments, with whoever helps, and joins them. Meanwhile the original is decoded once for
 * evidence, and for a checksum of every frame, by which it is seen that the segments took each frame once and in order.
 * Null, with the reason in the log, where that did not come off: then the leg is made whole.
 */
// eslint-disable-next-line max-lines-per-function -- segments from dealing to joining, with one place to clear up
export async function performInSegments(
  making: Making,
  count: number,
  targets: readonly Part[],
  helpers: Helpers,
  { note, onProgress, signal }: SegmentWatch,
): Promise<{ performed: Performed; evidence: Evidence } | null> {
  const { plan, source, roots, tunings } = making;
  const rootOfPart = (index: number): Root => rootOf(roots, plan.outputs[index] as OutputPlan);
  const frames = plan.original.video?.frames ?? 0;
  const segments = cutInto(frames, count);
  const folder = await scratchFolder();
  const stop = signal ?? new AbortController().signal;
  const begun = performance.now();
  const tell = beating(700, async () => {
    const now = await helpers.now();
    const framesDone = now.reduce((sum, one) => sum + one.framesDone, 0);
    const seconds = (performance.now() - begun) / 1000;
    onProgress({
      framesDone,
      framesTotal: frames,
      speed: framesDone > 0 ? (framesDone / frames) * (durationOf(plan) / seconds) : null,
    });
  });
  const stopped: Performed = { outcome: 'stopped', errors: [], command: [] };
  let evidence: Evidence | null = null;
  try {
    note(`cut in ${count} segments`);
    await helpers.deal(
      segments,
      tunings.map(({ quantiser }) => (quantiser === undefined ? {} : { quantiser })),
    );
    const sums = under(folder, 'sums');
    evidence = await originalEvidence(plan, source, tunings, stop, frameSums(sums));
    const seen = await readFrameSums(sums);
    if (stop.aborted) return { performed: stopped, evidence };
    const whole = (why: string): null => {
      note(`made whole after all: ${why}`);
      return null;
    };
    if (seen.length !== frames)
      return whole(`the original decodes to ${seen.length} frames where ${frames} are stated`);
    for (;;) {
      if (stop.aborted) return { performed: stopped, evidence };
      const place = await helpers.claim();
      if (place !== null) {
        let done = 0;
        const heart = beating(700, () => helpers.beat(place, done));
        const { end } = await makePart(
          making,
          segments[place] as Segment,
          (now) => {
            done = now;
          },
          stop,
        ).finally(() => heart.stop());
        await helpers.end(place, end);
        continue;
      }
      const now = await helpers.now();
      const failed = now.find((one) => one.state === 'failed');
      if (failed) return whole(`segment ${failed.place + 1}: ${failed.problem ?? 'it failed'}`);
      if (now.length !== count) return whole('its segments were dealt out anew');
      if (now.every((one) => one.state === 'done')) break;
      await new Promise((resolve) => setTimeout(resolve, 400));
    }
    const made = await helpers.now();
    const odd = segments.findIndex(
      ({ from, frames: length }, place) => made[place]?.seen !== digestOf(seen.slice(from, from + length)),
    );
    if (odd >= 0) return whole(`segment ${odd + 1} took other frames than it should`);
    const makers = new Set(made.map((one) => one.worker)).size;
    note(`made by ${makers === 1 ? 'one worker' : `${makers} workers`}`);
    // Where segments lie is what the database says: below the outputs' places, or nowhere.
    const performed = await holding(async (held) => {
      const parts = await Promise.all(
        made.map((one) => Promise.all(one.parts.map((part, index) => held.file(rootOfPart(index), part)))),
      );
      return joinSegments(
        making,
        segments,
        parts,
        targets.map(({ path }) => path),
        stop,
      );
    });
    if (performed.outcome !== 'failed') return { performed, evidence };
    return whole(`they could not be joined: ${performed.errors.at(-1) ?? 'FFmpeg gave no reason'}`);
  } finally {
    tell.stop();
    const parts = await helpers.drop().catch((): string[][] => []);
    await Promise.all(
      parts.flatMap((ofOne) => ofOne.map((part, index) => discardPart(rootOfPart(index), part).catch(() => undefined))),
    );
    await rm(folder, { recursive: true, force: true });
  }
}

function durationOf({ original: { video } }: LegPlan): number {
  return video ? video.duration.num / video.duration.den : 0;
}

/** A segment of a leg that another worker holds, and what that worker found for each output. */
export interface SegmentToMake extends Segment {
  leg: string;
  plan: LegPlan;
  tunings: readonly Tuning[];
}

/** Whoever keeps count of a leg's segments. */
export interface SegmentKeeper {
  /** Says that it is still worked on; false where nobody wants it any more. */
  beat: (framesDone: number) => Promise<boolean>;
  /** Says what came of it; false where nobody waits for it any more. */
  end: (end: SegmentEnd) => Promise<boolean>;
}

/** Makes a segment of a leg that another worker holds. */
export async function helpWith(
  segment: SegmentToMake,
  places: OutRoots & { sourceRoot: Root },
  lutText: LutText,
  keeper: SegmentKeeper,
  leaving: AbortSignal,
): Promise<void> {
  const { leg, plan } = segment;
  const stop = new AbortController();
  const onLeave = (): void => stop.abort();
  leaving.addEventListener('abort', onLeave, { once: true });
  let done = 0;
  const heart = beating(700, async () => {
    if (!(await keeper.beat(done))) stop.abort();
  });
  try {
    const colour = await legColour(plan.outputs, lutText);
    try {
      const tunings = plan.outputs.map((_, index): Tuning => ({
        ...segment.tunings[index],
        ...(colour.luts[index] ? { lut: colour.luts[index] } : {}),
      }));
      const { end } = await holding(async (held) => {
        const source = { clip: plan.original, paths: [await held.file(places.sourceRoot, plan.original.path)] };
        return makePart(
          { plan, source, roots: places, owner: leg, tunings },
          segment,
          (now) => {
            done = now;
          },
          stop.signal,
        );
      });
      const kept = await keeper.end(end);
      // Nobody waits for it any more.
      if (!kept && end.state === 'done')
        await Promise.all(
          end.parts.map((part, index) =>
            discardPart(rootOf(places, plan.outputs[index] as OutputPlan), part).catch(() => undefined),
          ),
        );
    } finally {
      await colour.discard().catch(() => undefined);
    }
  } catch (error) {
    await keeper.end({ state: 'failed', problem: (error as Error).message });
  } finally {
    heart.stop();
    leaving.removeEventListener('abort', onLeave);
  }
}
