import { rm, writeFile } from 'node:fs/promises';
import type { ClipDescription } from '@relay/core/clip/description';
import { under } from '@relay/core/naming/under';
import { inputArguments, joinedArguments } from './ffmpeg.ts';
import { pinnedAll } from './plain.ts';
import { scratchFolder } from './scratch.ts';
import { enterPictures, enterSound, isPart } from './seek.ts';

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

/** The input that holds a chapter's own sound, or a part's, where {@link withInput} was asked for sound. */
export const chapterInput = (chapter: number): number => chapter + 1;

/** How a clip is opened, beyond its files. */
export interface Opening {
  /** Each chapter's sound as an input of its own, and a part's. */
  sound?: boolean;
  /** Seconds after its beginning from which its pictures are wanted. */
  at?: number;
}

function startOf({ clip }: Source, at: number): string[] {
  if (isPart(clip)) return enterPictures(clip, at);
  return at > 0 ? ['-ss', at.toFixed(6)] : [];
}

const noPictures = ['-vn', '-sn', '-dn'];

/** One file: of a part, sound is an input of its own, since it is entered to the sample. */
function openOne(source: Source, path: string, { sound = false, at = 0 }: Opening): string[] {
  const { clip } = source;
  return [
    ...startOf(source, at),
    ...inputArguments(path),
    ...(sound && isPart(clip) && clip.audio.length > 0
      ? [...noPictures, ...enterSound(clip), ...inputArguments(path)]
      : []),
  ];
}

/**
 * Calls `work` with the arguments that open a clip, or a part of one, as one input, and the pinned paths that no argument
 * names. Chapters are opened through a list of our own in a scratch folder, each as long as its pictures, so that no
 * rounding of sound moves the next one. Joined so, coded sound would bring its priming and padding along: where `sound`
 * is wanted, each chapter is an input of its own too, after the joined one, without its pictures.
 */
export async function withInput<T>(
  source: Source,
  work: (input: readonly string[], hands: readonly string[]) => Promise<T>,
  opening: Opening = {},
): Promise<T> {
  const [only] = source.paths;
  if (source.paths.length === 1 && only !== undefined) return work(openOne(source, only, opening), []);
  const { sound = false, at = 0 } = opening;
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
          ...startOf(source, at),
          ...joinedArguments(list),
          ...(sound && source.clip.audio.length > 0
            ? paths.flatMap((path) => [...noPictures, ...inputArguments(path)])
            : []),
        ],
        paths,
      );
    });
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
}
