import type { OutputPlan } from '@relay/core/recipe/legPlan';
import { complaints } from '../process/ffmpeg.ts';
import { withInput, type Source } from '../process/joined.ts';
import { runWatched, Stalled } from '../process/watched.ts';
import { pictureMemory } from './memory.ts';
import { encoderArguments, type Tuning } from './encoders.ts';
import { pictureFilters, pixelFormat } from './filters.ts';

/** Whether an output's encoder looks at all pictures first. */
export function needsFirstPass(output: OutputPlan): boolean {
  return output.rate?.passes === 2;
}

/**
 * The first of an encoder's two passes: it writes down in `file`, and in others of its name, what the second reads. The
 * pictures go the same way as in the second.
 * @throws Error when the pass fails
 */
export async function firstPass(
  output: OutputPlan,
  source: Source,
  tuning: Tuning,
  file: string,
  signal?: AbortSignal,
): Promise<void> {
  const ended = await withInput(source, (input, hands) =>
    runWatched(
      [
        '-hide_banner',
        '-v',
        'error',
        '-nostats',
        ...input,
        '-map',
        '0:v:0',
        '-filter:v',
        pictureFilters(output, tuning),
        ...encoderArguments(output, { ...tuning, firstPass: file }, 1),
        '-pix_fmt',
        pixelFormat(output),
        '-an',
        '-f',
        'null',
        '-',
      ],
      {
        ...(signal ? { signal } : {}),
        hands,
        memoryBytes: pictureMemory([source.clip.video?.raster, output.video.raster]),
      },
    ),
  );
  if (ended.stalled) throw new Stalled();
  if (ended.code !== 0 && !signal?.aborted)
    throw new Error(`the first of two passes failed: ${complaints(ended.stderr).at(-1) ?? 'FFmpeg gave no reason'}`);
}
