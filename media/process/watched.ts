import { cpuSeconds } from './cpu.ts';
import { ffmpeg } from './ffmpeg.ts';
import { run, type Ended, type RunOptions } from './run.ts';

/** Without a sign of progress for so long, a process is ended: in milliseconds. Tests set it lower. */
const stallMs = Number(process.env.RELAY_STALL_MS ?? 60_000);
/**
 * FFmpeg tells nothing while encoders that look ahead fill up, nor while they empty at the end: with heavy pictures on a busy machine longer
 * than that. One that takes at least this share of a processor meanwhile is at work, and is left to it up to so many times as long.
 */
const [atWork, longestSilence] = [0.05, 15];

/** What FFmpeg was ended for, in words that follow the name of what it worked at. */
export const stalledWords = 'made no progress for a minute, and was ended';

/** Thrown where a process stood still. */
export class Stalled extends Error {
  constructor() {
    super(stalledWords);
  }
}

/**
 * Runs FFmpeg with an eye on it: one that neither tells of progress nor works is ended. For what goes through a whole file; what looks at a
 * few pictures has a time limit.
 * @throws Error when FFmpeg cannot be started at all
 */
export async function runWatched(args: readonly string[], options: RunOptions = {}): Promise<Ended & { stalled: boolean }> {
  const still = new AbortController();
  let pid: number | null = null;
  let told = performance.now();
  let [moved, spent] = [told, 0];
  let [sign, last] = ['', ''];
  const watch = setInterval(() => {
    const now = performance.now();
    if (now - moved <= stallMs) return;
    const used = pid === null ? null : cpuSeconds(pid);
    if (used === null || used - spent < (atWork * (now - moved)) / 1000 || now - told > longestSilence * stallMs) still.abort();
    else [moved, spent] = [now, used];
  }, Math.min(1_000, stallMs));
  try {
    const ended = await run(ffmpeg, ['-stats_period', '0.5', '-progress', 'pipe:3', ...args], {
      ...options,
      signal: options.signal ? AbortSignal.any([options.signal, still.signal]) : still.signal,
      onStart: (started) => { pid = started; },
      onProgress: (line) => {
        options.onProgress?.(line);
        if (/^(frame|out_time_ms|total_size)=/.test(line)) sign += line;
        if (!line.startsWith('progress=')) return;
        if (sign !== last) {
          told = moved = performance.now();
          spent = pid === null ? 0 : (cpuSeconds(pid) ?? 0);
        }
        [sign, last] = ['', sign];
      },
    });
    return { ...ended, stalled: still.signal.aborted && options.signal?.aborted !== true };
  } finally {
    clearInterval(watch);
  }
}
