import type { RunResult } from '@relay/contract/run';
import type { Refusal } from '@relay/core/clip/description';
import { LikeClips } from '@relay/core/size/likeClips';
import { planBatch } from '@relay/core/recipe/batch';
import { sayPlan } from '@relay/core/recipe/sentence';
import { inLanes } from '@relay/work/lanes';
import { runLeg } from '@relay/work/leg/leg';
import { ownMark } from './ownMark.ts';
import { stopSignal } from './interrupt.ts';
import { complain, endProgress, eventLine, printJson, progressLine } from './output.ts';
import { sayPace } from './pace.ts';
import { outFolder, outPlaces } from './places.ts';
import {
  imagesBeside,
  lutsBeside,
  readSource,
  recipeFrom,
  rulesFrom,
  sourceFolder,
  type SourceOptions,
} from './source.ts';

/** Legs at a time: FFmpeg's filters and one of its encoders keep one core busy, so two fill two cores. */
const slots = 2;

/** A file that looks like a clip but cannot be one is somebody's loss; what merely lies beside the clips is not. */
function isLoss(refusal: Refusal): boolean {
  const { kind } = refusal.problem;
  if (kind === 'sidecar' || kind === 'chapter') return false;
  return kind !== 'not-media' || /\.(mov|mp4|m4v|mxf|mts|m2ts|ts|avi|mkv|3gp|mpg|wav)$/i.test(refusal.path);
}

/** `relay run --source DIR --out DIR [--recipe FILE] [--place STORE=DIR]… [--corrections FILE] [--production NAME] --json`. */

export async function runCommand(values: SourceOptions & { out: string; place?: string[] }): Promise<number> {
  const source = await sourceFolder(values.source);
  const recipe = await recipeFrom(values.recipe);
  const rules = await rulesFrom(values.corrections);

  const out = await outFolder(values.out, source, '--out');
  const places = await outPlaces({ recipe, source, out, given: values.place ?? [] });

  const signal = stopSignal();

  const { clips, batch: wanted, refusals, whole } = await readSource(source, values.production);
  const plans = planBatch(wanted, recipe, rules);
  const batch = await ownMark(places.folders);

  const likeClips = new LikeClips();
  const shares = new Map<number, string>();
  const began = performance.now();
  let ended = 0;
  const say = (): void =>
    progressLine(
      [
        `${ended} of ${clips.length}${sayPace(ended, clips.length, performance.now() - began, { unit: 'a minute', per: 1 / 60 })}`,
        ...shares.values(),
      ].join('  '),
    );
  const tellEnd = (path: string, state: string): void => {
    ended += 1;
    eventLine(`${path}: ${state}, ${ended} of ${clips.length}`);
  };
  const results: RunResult[] = await inLanes(clips, slots, async (clip, index) => {
    const plan = plans[index];
    if (!plan?.ok) {
      tellEnd(clip.path, 'failed');
      return { original: clip.path, state: 'failed' as const, said: [], outputs: [], problem: plan?.problem ?? null };
    }
    const said = sayPlan(plan.value);
    const leg = await runLeg(plan.value, {
      sourceRoot: source,
      outRoot: out,
      owner: `${batch}.${index}`,
      whole,
      signal,
      likeClips,
      lutText: lutsBeside(values.corrections),
      imageBytes: imagesBeside(values.recipe),
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
  for (const refusal of refusals) {
    if (isLoss(refusal))
      results.push({
        original: refusal.path,
        state: 'failed',
        said: [],
        outputs: [],
        problem: { what: refusal.problem.what, remedy: refusal.problem.remedy },
      });
    else if (refusal.problem.kind !== 'sidecar' && refusal.problem.kind !== 'chapter') complain(refusal.problem.what);
  }
  results.sort((a, b) => (a.original < b.original ? -1 : 1));
  if (values.json) printJson(results);
  else {
    for (const result of results) {
      process.stdout.write(
        `${result.original}: ${result.state}${result.problem ? `. ${result.problem.what}. ${result.problem.remedy}` : ''}\n`,
      );
    }
  }
  return results.every((result) => result.state === 'proved') ? 0 : 1;
}
