import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { ClipDescription } from '@relay/core/clip/description';
import { inputArguments, joinedArguments } from './ffmpeg.ts';

/** A clip's files as FFmpeg is given them: one, or several that follow each other. */
export interface Source {
  /** In the clip's order; one for each chapter. */
  paths: readonly string[];
  clip: ClipDescription;
}

/** Two lines of a list that FFmpeg joins files by: a file, and how long it counts. */
export function listLines(path: string, seconds: number | null): string[] {
  return [`file '${`file:${path}`.replaceAll("'", "'\\''")}'`, ...(seconds === null ? [] : [`duration ${seconds.toFixed(6)}`])];
}

/**
 * Calls `work` with the arguments that open a clip as one input. Chapters are opened through a list of our own in the
 * system's temporary folder, each as long as its pictures, so that no rounding of sound moves the next one.
 */
export async function withInput<T>(source: Source, work: (input: readonly string[]) => Promise<T>): Promise<T> {
  const [only] = source.paths;
  if (source.paths.length === 1 && only !== undefined) return work(inputArguments(only));
  const folder = await mkdtemp(join(tmpdir(), 'relay-chapters-'));
  try {
    const list = join(folder, 'list');
    const lines = source.paths.flatMap((path, index) => {
      const length = source.clip.chapters[index]?.duration;
      return listLines(path, length ? length.num / length.den : null);
    });
    await writeFile(list, `ffconcat version 1.0\n${lines.join('\n')}\n`);
    return await work(joinedArguments(list));
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
}
