import { used, type Used } from './cpu.ts';
import { ffmpeg } from './ffmpeg.ts';
import { run, type Ended, type RunOptions } from './run.ts';

/** Without a sign of progress for so long, a process is ended: in milliseconds. Tests set it lower. */
const stallMs = Number(process.env.RELAY_STALL_MS ?? 60_000);
/**
 * FFmpeg tells nothing while encoders that look ahead fill up, nor while they empty at the end: with heavy pictures on a busy machine far
 * longer than that. What counts then is what it and its children use: this share of a processor, or so many bytes read and written (what
 * it tells of its progress alone is a tenth of that). One that is at work is left to it for up to so many times as long.
 */
const [atWork, moves, longestSilence] = [0.005, 256 * 1024, 30];

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
export async function runWatched(
  args: readonly string[],
  options: RunOptions = {},
): Promise<Ended & { stalled: boolean }> {
  const still = new AbortController();
  let pid: number | null = null;
  let told = performance.now();
  let [moved, before] = [told, null as Used | null];
  let [sign, last] = ['', ''];
  const watch = setInterval(
    () => {
      const now = performance.now();
      if (now - moved <= stallMs) return;
      const usedNow = pid === null ? null : used(pid);
      const works =
        usedNow !== null &&
        (usedNow.cpuSeconds - (before?.cpuSeconds ?? 0) >= (atWork * (now - moved)) / 1000 ||
          usedNow.bytes - (before?.bytes ?? 0) >= moves);
      if (!works || now - told > longestSilence * stallMs) still.abort();
      else [moved, before] = [now, usedNow];
    },
    Math.min(1_000, stallMs),
  );
  try {
    const ended = await run(ffmpeg, ['-stats_period', '0.5', '-progress', 'pipe:3', ...args], {
      ...options,
      signal: options.signal ? AbortSignal.any([options.signal, still.signal]) : still.signal,
      onStart: (started) => {
        pid = started;
      },
      onProgress: (line) => {
        options.onProgress?.(line);
        if (/^(frame|out_time_ms|total_size)=/.test(line)) sign += line;
        if (!line.startsWith('progress=')) return;
        if (sign !== last) {
          told = moved = performance.now();
          before = pid === null ? null : used(pid);
        }
        [sign, last] = ['', sign];
      },
    });
    return { ...ended, stalled: still.signal.aborted && options.signal?.aborted !== true };
  } finally {
    clearInterval(watch);
  }
}
