import { rm, writeFile } from 'node:fs/promises';
import type { ClipDescription } from '@relay/core/clip/description';
import { under } from '@relay/core/naming/under';
import { inputArguments, joinedArguments } from './ffmpeg.ts';
import { pinnedAll } from './plain.ts';
import { scratchFolder } from './scratch.ts';

/** A clip's files as FFmpeg is given them: one, or several that follow each other. */
export interface Source {
  /** In the clip's order; one for each chapter. */
  paths: readonly string[];
  clip: ClipDescription;
}

/** Two lines of a list that FFmpeg joins files by: a file, and how long it counts. */
export function listLines(path: string, seconds: number | null): string[] {
  return [
    `file '${`file:${path}`.replaceAll("'", "'\\''")}'`,
    ...(seconds === null ? [] : [`duration ${seconds.toFixed(6)}`]),
  ];
}

/** The input that holds a chapter's own sound, where {@link withInput} was asked for sound. */
export const chapterInput = (chapter: number): number => chapter + 1;

/**
 * Calls `work` with the arguments that open a clip as one input, and the pinned paths that no argument names. Chapters are opened through a list of our own in a
 * scratch folder, each as long as its pictures, so that no rounding of sound moves the next one. Joined so, coded sound would bring its priming and padding along:
 * where `sound` is wanted, each chapter is an input of its own too, after the joined one, without its pictures.
 */
export async function withInput<T>(
  source: Source,
  work: (input: readonly string[], hands: readonly string[]) => Promise<T>,
  { sound = false } = {},
): Promise<T> {
  const [only] = source.paths;
  if (source.paths.length === 1 && only !== undefined) return work(inputArguments(only), []);
  const folder = await scratchFolder();
  try {
    return await pinnedAll(source.paths, async (paths) => {
      const list = under(folder, 'list');
      const lines = paths.flatMap((path, index) => {
        const length = source.clip.chapters[index]?.duration;
        return listLines(path, length ? length.num / length.den : null);
      });
      await writeFile(list, `ffconcat version 1.0\n${lines.join('\n')}\n`);
      return work(
        [
          ...joinedArguments(list),
          ...(sound && source.clip.audio.length > 0
            ? paths.flatMap((path) => ['-vn', '-sn', '-dn', ...inputArguments(path)])
            : []),
        ],
        paths,
      );
    });
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
}
