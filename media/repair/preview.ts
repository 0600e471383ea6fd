import type { VideoPlan } from '@relay/core/recipe/legPlan';
import { rm } from 'node:fs/promises';
import { under } from '@relay/core/naming/under';
import { complaints, ffmpeg, inputArguments } from '../process/ffmpeg.ts';
import { run } from '../process/run.ts';
import { scratchFolder } from '../process/scratch.ts';
import { shakePass, stepsBefore } from '../leg/filters.ts';

/** Seconds of a clip that a repair is tried on. */
export const previewSeconds = 4;

/** Each half of the preview, and the part of a picture that is shown pixel for pixel. */
const half = { width: 640, height: 480 };

/**
 * A few seconds of a clip as they are, beside the same seconds repaired, in one light file for the page. `pixels` shows
 * the middle pixel for pixel, where noise can be judged; otherwise the whole picture, each half at its true shape.
 * @throws Error when nothing could be made
 */
export async function makeRepairPreview(
  path: string,
  { before, after }: { before: VideoPlan; after: VideoPlan },
  { fromSeconds, pixels }: { fromSeconds: number; pixels: boolean },
  target: string,
  signal: AbortSignal,
): Promise<void> {
  const folder = await scratchFolder();
  const input = ['-ss', fromSeconds.toFixed(3), '-t', String(previewSeconds), ...inputArguments(path)];
  try {
    const shake = under(folder, 'shake.trf');
    const pass = shakePass(after, shake);
    if (pass !== null) await made([...input, '-map', '0:v:0', '-vf', pass, '-f', 'null', '-'], signal);
    const { width, height } = before.raster;
    const fitted = Math.max(2, Math.round((half.width * height) / width / 2) * 2);
    const shown = pixels
      ? `crop=min(iw\\,${half.width}):min(ih\\,${half.height}),scale=iw:ih`
      : `scale=${half.width}:${fitted}:flags=bicubic`;
    const side = (plan: VideoPlan, tuning: { shake?: string }): string =>
      [...stepsBefore(plan, tuning), `${shown}:out_range=tv:out_color_matrix=bt709`, 'format=yuv420p', 'setsar=1'].join(
        ',',
      );
    await made(
      [
        ...input,
        '-filter_complex',
        `[0:v:0]split[x][y];[x]${side(before, {})}[a];[y]${side(after, pass === null ? {} : { shake })}[b];[a][b]hstack`,
        '-an',
        '-c:v',
        'libx264',
        '-preset',
        'veryfast',
        '-crf',
        '14',
        '-movflags',
        '+faststart',
        '-f',
        'mp4',
        '-y',
        `file:${target}`,
      ],
      signal,
    );
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
}

async function made(args: readonly string[], signal: AbortSignal): Promise<void> {
  const ended = await run(ffmpeg, ['-hide_banner', '-v', 'error', '-nostats', ...args], { signal, timeoutMs: 180_000 });
  if (ended.code !== 0 && !signal.aborted) throw new Error(complaints(ended.stderr).at(-1) ?? 'FFmpeg gave no reason');
}
