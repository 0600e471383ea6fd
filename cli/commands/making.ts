import type { RunResult } from '@relay/contract/run';
import type { ClipDescription } from '@relay/core/clip/description';
import type { LegPlan } from '@relay/core/recipe/legPlan';
import { sayPlan } from '@relay/core/recipe/sentence';
import type { Result } from '@relay/core/result';
import { LikeClips } from '@relay/core/size/likeClips';
import { inLanes } from '@relay/work/lanes';
import type { LutText } from '@relay/work/leg/colour';
import { runLeg } from '@relay/work/leg/leg';
import type { ImageBytes } from '@relay/work/leg/ready';
import { stopSignal } from './interrupt.ts';
import { endProgress, eventLine, progressLine } from './output.ts';
import { ownMark } from './ownMark.ts';
import { sayPace } from './pace.ts';
import type { OutPlaces } from './places.ts';

/** Legs at a time: FFmpeg's filters and one of its encoders keep one core busy, so two fill two cores. */
const slots = 2;

/** A clip, or a part of one, with its plan. */
export interface Job {
  clip: ClipDescription;
  plan: Result<LegPlan>;
  /** The folder that it was read from, and that folder's name. */
  source: string;
  whole: string;
}

export interface Making {
  out: string;
  places: OutPlaces;
  lutText: LutText;
  imageBytes: ImageBytes;
}

/** Makes every job's outputs, so many at a time, saying on standard error how far it is; the results in the jobs' order. */
export async function makeAll(
  jobs: readonly Job[],
  { out, places, lutText, imageBytes }: Making,
): Promise<RunResult[]> {
  const signal = stopSignal();
  const batch = await ownMark(places.folders);
  const likeClips = new LikeClips();
  const shares = new Map<number, string>();
  const began = performance.now();
  let ended = 0;
  const say = (): void =>
    progressLine(
      [
        `${ended} of ${jobs.length}${sayPace(ended, jobs.length, performance.now() - began, { unit: 'a minute', per: 1 / 60 })}`,
        ...shares.values(),
      ].join('  '),
    );
  const tellEnd = (path: string, state: string): void => {
    ended += 1;
    eventLine(`${path}: ${state}, ${ended} of ${jobs.length}`);
  };
  const results = await inLanes(jobs, slots, async ({ clip, plan, source, whole }, index): Promise<RunResult> => {
    if (!plan.ok) {
      tellEnd(clip.path, 'failed');
      return { original: clip.path, state: 'failed', said: [], outputs: [], problem: plan.problem };
    }
    const said = sayPlan(plan.value);
    const leg = await runLeg(plan.value, {
      sourceRoot: source,
      outRoot: out,
      owner: `${batch}.${index}`,
      whole,
      signal,
      likeClips,
      lutText,
      imageBytes,
      elsewhere: places.elsewhere,
      recorded: places.recorded,
      record: places.record,
      onProgress: ({ framesDone, framesTotal, speed }) => {
        shares.set(
          index,
          `${clip.stem} ${Math.floor((100 * framesDone) / Math.max(1, framesTotal))} %${speed ? ` ${speed.toFixed(1)}×` : ''}`,
        );
        say();
      },
    });
    shares.delete(index);
    tellEnd(clip.path, leg.state);
    return { original: clip.path, state: leg.state, said, outputs: leg.outputs, problem: leg.problem };
  });
  endProgress();
  return results;
}

/** A line of a result, for a terminal. */
export function sayResult({ original, state, problem }: RunResult): string {
  return `${original}: ${state}${problem ? `. ${problem.what}. ${problem.remedy}` : ''}`;
}
