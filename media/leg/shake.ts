import type { LegPlan } from '@relay/core/recipe/legPlan';
import { under } from '@relay/core/naming/under';
import { complaints } from '../process/ffmpeg.ts';
import { withInput, type Source } from '../process/joined.ts';
import { runWatched, Stalled } from '../process/watched.ts';
import { legMemory } from './memory.ts';
import { shakePass } from './filters.ts';

/**
 * The first pass over a clip whose outputs are stabilised: how its camera shook, in files in `folder`, for each output;
 * undefined where nothing is stabilised. Outputs that are seen through the same steps share a pass.
 * @throws Error when the pass fails
 */
export async function findShake(
  plan: LegPlan,
  source: Source,
  folder: string,
  signal?: AbortSignal,
): Promise<(string | undefined)[]> {
  const found = new Map<string, string>();
  for (const { video } of plan.outputs) {
    const pass = shakePass(video, 'FILE');
    if (pass !== null && !found.has(pass)) found.set(pass, under(folder, `shake${found.size}.trf`));
  }
  for (const [pass, file] of found) {
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
          '-vf',
          pass.replace('FILE', file),
          '-fps_mode',
          'passthrough',
          '-f',
          'null',
          '-',
        ],
        { ...(signal ? { signal } : {}), hands, memoryBytes: legMemory(plan) },
      ),
    );
    if (ended.stalled) throw new Stalled();
    if (ended.code !== 0 && !signal?.aborted)
      throw new Error(
        `How the camera shook could not be found: ${complaints(ended.stderr).at(-1) ?? 'FFmpeg gave no reason'}`,
      );
  }
  return plan.outputs.map(({ video }) => {
    const pass = shakePass(video, 'FILE');
    return pass === null ? undefined : found.get(pass);
  });
}
