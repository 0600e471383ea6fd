import type { LegPlan } from '@relay/core/recipe/legPlan';
import { hasPicture } from '@relay/core/recipe/codecs';
import { formatFraction, toNumber } from '@relay/core/time/rational';
import { encoderArguments, type Tuning } from '../leg/encoders.ts';
import { pictureFilters, pixelFormat } from '../leg/filters.ts';
import { ffmpeg } from '../process/ffmpeg.ts';
import { withInput, type Source } from '../process/joined.ts';
import { legMemory } from '../leg/memory.ts';
import { run } from '../process/run.ts';

/** Frames of the short and of the long try: what both take to start falls out of their difference. */
const [short, long] = [2, 12];

/**
 * Seconds that one frame of a leg takes to be decoded and encoded for all its outputs together, with the machine to
 * itself: the difference of two tries in the middle of the clip. Null where nothing came of it. What looks at the whole
 * clip first is left out.
 */
export async function secondsPerFrame(
  plan: LegPlan,
  source: Source,
  tunings: readonly Tuning[],
  signal?: AbortSignal,
): Promise<number | null> {
  const { video } = plan.original;
  if (!video || video.frames < long) return null;
  const wanted = plan.outputs
    .map((output, index) => ({ output, tuning: tunings[index] ?? {} }))
    .filter(
      ({ output, tuning }) =>
        hasPicture(output) &&
        !output.burn &&
        (output.video.steps.every(({ kind }) => kind !== 'stabilise') || tuning.shake),
    );
  if (wanted.length === 0) return null;
  const at = Math.max(0, (toNumber(video.duration) * (video.frames - long - 1)) / video.frames / 2);
  const took = async (frames: number): Promise<number | null> => {
    const begun = performance.now();
    const ended = await withInput(
      source,
      (input, hands) =>
        run(
          ffmpeg,
          [
            '-v',
            'error',
            ...input,
            ...wanted.flatMap(({ output, tuning }) => [
              '-map',
              '0:v:0',
              '-filter:v',
              pictureFilters(output, tuning),
              '-r',
              formatFraction(output.video.rate),
              ...encoderArguments(output, tuning, null),
              '-pix_fmt',
              pixelFormat(output),
              '-frames:v',
              String(frames),
              '-f',
              'null',
              '-',
            ]),
          ],
          { timeoutMs: 300_000, signal, hands, memoryBytes: legMemory(plan) },
        ),
      { at },
    );
    return ended.code === 0 ? (performance.now() - begun) / 1000 : null;
  };
  const [few, many] = [await took(short), await took(long)];
  return few === null || many === null ? null : Math.max(0, many - few) / (long - short);
}
