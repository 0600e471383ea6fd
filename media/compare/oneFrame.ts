import { ffmpeg } from '../process/ffmpeg.ts';
import { run } from '../process/run.ts';
import { openedAt } from './opened.ts';
import type { Side } from './side.ts';

/** What is made of a single frame: filters behind those that find it, and how it is written to a pipe. */
export interface MadeOfFrame {
  filters: readonly string[];
  written: readonly string[];
  /** Frames from that one on; 1 where absent. */
  frames?: number;
  /** Whether so many bytes are whole. */
  isWhole: (bytes: number) => boolean;
}

/**
 * A side's frame at an output's frame, made into something. Where nothing comes of seeking, it is counted to from the
 * beginning; null where there is none.
 */
export async function oneFrame(
  side: Side,
  frame: number,
  { filters, written, isWhole, frames = 1 }: MadeOfFrame,
  signal: AbortSignal,
): Promise<Buffer | null> {
  const shot = async (whole: boolean): Promise<Buffer | null> => {
    if (whole && side.isPart) return null;
    const found = openedAt(side, frame, whole);
    const chunks: Buffer[] = [];
    await run(
      ffmpeg,
      [
        ...['-v', 'error', ...found.args, '-filter_complex', `[0:v:0]${[...found.filters, ...filters].join(',')}[v]`],
        ...['-map', '[v]', '-frames:v', String(frames), '-fps_mode', 'passthrough', ...written, 'pipe:1'],
      ],
      {
        signal,
        hands: side.hands,
        onData: (chunk) => {
          chunks.push(chunk);
        },
        maxStdoutBytes: 0,
      },
    );
    const all = Buffer.concat(chunks);
    return isWhole(all.length) ? all : null;
  };
  return (await shot(false)) ?? (signal.aborted || frame === 0 ? null : shot(true));
}
