import { keepsLight } from '@relay/core/recipe/video';
import type { OutputPlan } from '@relay/core/recipe/legPlan';
import type { Window } from '@relay/core/shape/window';
import type { Tuning } from '../leg/encoders.ts';
import { evenly, needsLut, stepsBefore, toLegalFilters, toLutFilters, type Sampled } from '../leg/filters.ts';
import { firstInput, type Opened } from '../leg/open.ts';
import { complaints, ffmpeg } from '../process/ffmpeg.ts';
import { run } from '../process/run.ts';

/** A frame twice, as it came to the LUT and as it is in the output: planes of legal Y'CbCr, 16 bits, of the picture alone. */
export interface SeenFrame {
  frame: number;
  window: Window;
  before: Uint16Array;
  after: Uint16Array;
}

/** Frames of which colours are held against the chain, at most: spread evenly. */
export const mostSeen = 48;

/** Whether an output's colours can be held against its chain: it is baked in, and nothing above white is kept. */
export function isSeenByChain(output: OutputPlan): boolean {
  return needsLut(output) && !keepsLight(output);
}

/**
 * Gives every `every`th frame of an output and of its original as it comes to the chain, one after the other; waits for
 * each to be taken. @throws Error where FFmpeg cannot
 */
export async function seenAlong(
  output: OutputPlan,
  {
    opened,
    input,
    hands,
    tuning,
    samples,
  }: {
    opened: Opened;
    input: readonly string[];
    hands: readonly string[];
    tuning: Tuning;
    /** How the output's samples are decoded. */
    samples: Sampled;
  },
  every: number,
  take: (seen: SeenFrame) => Promise<void>,
  signal?: AbortSignal,
): Promise<void> {
  const { video } = output;
  const window = video.geometry?.active ?? { x: 0, y: 0, ...video.raster };
  const { x, y, width, height } = window;
  const chosen = [`select='not(mod(n,${every}))'`, 'settb=1/1000', 'setpts=N'];
  const after = [
    ...chosen,
    ...toLegalFilters(samples),
    evenly(samples, 'yuv444p16le'),
    `crop=${width}:${height}:${x}:${y}`,
  ];
  const before = [...stepsBefore(video, tuning), ...chosen, ...toLutFilters(video)];
  const planes = width * height * 3;
  const gathered = Buffer.alloc(planes * 4);
  let filled = 0;
  let frame = 0;
  let failure: unknown = null;
  const broken = new AbortController();
  // Planes lie below each other: of each, the output's half is first.
  const halves = (): { before: Uint16Array; after: Uint16Array } => {
    const all = new Uint16Array(gathered.buffer, gathered.byteOffset, planes * 2);
    const half = width * height;
    const of = (second: number): Uint16Array => {
      const taken = new Uint16Array(planes);
      for (let plane = 0; plane < 3; plane += 1)
        taken.set(all.subarray((plane * 2 + second) * half, (plane * 2 + second + 1) * half), plane * half);
      return taken;
    };
    return { after: of(0), before: of(1) };
  };
  const ended = await run(
    ffmpeg,
    [
      ...['-hide_banner', '-nostats', '-v', 'error', ...firstInput(opened.input), ...firstInput(input)],
      '-filter_complex',
      `[0:v:0]${after.join(',')}[after];[1:v:0]${before.join(',')}[before];[after][before]vstack=shortest=1[both]`,
      ...['-map', '[both]', '-fps_mode', 'passthrough', '-f', 'rawvideo', '-pix_fmt', 'yuv444p16le', 'pipe:1'],
    ],
    {
      hands,
      signal: signal ? AbortSignal.any([signal, broken.signal]) : broken.signal,
      maxStdoutBytes: 0,
      onData: async (chunk) => {
        for (let at = 0; at < chunk.length && failure === null;) {
          const part = Math.min(chunk.length - at, gathered.length - filled);
          chunk.copy(gathered, filled, at, at + part);
          [filled, at] = [filled + part, at + part];
          if (filled < gathered.length) continue;
          await take({ frame, window, ...halves() }).catch((error: unknown) => {
            failure = error;
            broken.abort();
          });
          [frame, filled] = [frame + every, 0];
        }
      },
    },
  );
  if (failure !== null) throw failure as Error;
  if (ended.code !== 0 && !signal?.aborted) throw new Error(complaints(ended.stderr).at(-1) ?? 'FFmpeg gave no reason');
}
