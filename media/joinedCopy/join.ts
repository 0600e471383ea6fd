import type { JoinedCopyPlan } from '@relay/core/recipe/joinedCopy';
import { toNumber } from '@relay/core/time/rational';
import { createHash } from 'node:crypto';
import { rm, writeFile } from 'node:fs/promises';
import { under } from '@relay/core/naming/under';
import { trackCoding } from '../leg/command.ts';
import { wrapperArguments } from '../leg/wrap.ts';
import { complaints, failureOf, ffmpeg, inputArguments, joinedArguments } from '../process/ffmpeg.ts';
import { listLines } from '../process/joined.ts';
import { pinnedAll } from '../process/plain.ts';
import { run } from '../process/run.ts';
import { partLengths } from './lengths.ts';
import { scratchFolder } from '../process/scratch.ts';

/**
 * Writes a reel: the parts' pictures as they are coded, one behind the other; their sound decoded, set behind each
 * other to the sample, and coded as it was. Each part has a chapter.
 * @throws Error in FFmpeg's words
 */
export async function joinCopies(
  plan: JoinedCopyPlan,
  paths: readonly string[],
  target: string,
  signal?: AbortSignal,
): Promise<void> {
  return pinnedAll(paths, (pinned) => joinPinned(plan, pinned, target, signal));
}

async function joinPinned(
  plan: JoinedCopyPlan,
  paths: readonly string[],
  target: string,
  signal?: AbortSignal,
): Promise<void> {
  const { parts, output } = plan;
  const folder = await scratchFolder();
  try {
    const seconds = parts.map(({ frames }) => frames / toNumber(output.video.rate));
    const [list, chapters] = [under(folder, 'list'), under(folder, 'chapters')];
    await writeFile(
      list,
      `ffconcat version 1.0\n${paths.flatMap((path, index) => listLines(path, seconds[index] as number)).join('\n')}\n`,
    );
    await writeFile(
      chapters,
      chaptersText(parts.map(({ title }, index) => ({ title, seconds: seconds[index] as number }))),
    );
    const { sound } = output;
    const tracks = sound.tracks.map((_, index) => partsTrack(plan, index));
    const ended = await run(
      ffmpeg,
      [
        // Of pictures that are coded out of order FFmpeg takes the list to begin before them, and would set all of them
        // late by that.
        '-hide_banner',
        '-v',
        'error',
        '-nostats',
        '-y',
        '-copyts',
        ...joinedArguments(list),
        '-protocol_whitelist',
        'file',
        '-f',
        'ffmetadata',
        '-i',
        `file:${chapters}`,
        ...(tracks.length > 0
          ? [...paths.flatMap((path) => ['-vn', ...inputArguments(path)]), '-filter_complex', tracks.join(';')]
          : []),
        '-map',
        '0:v:0',
        '-c:v',
        'copy',
        ...(output.codec.id === 'hevc' && output.wrapper !== 'mkv' ? ['-tag:v', 'hvc1'] : []),
        ...sound.tracks.flatMap((track, index) => ['-map', `[t${index}]`, ...trackCoding(sound, track, index)]),
        '-dn',
        '-map_metadata',
        '-1',
        '-map_chapters',
        '1',
        ...wrapperArguments(output),
        `file:${target}`,
      ],
      { signal, hands: paths },
    );
    if (ended.code !== 0) throw failureOf(ended.stderr);
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
}

/**
 * The filter graph of a track: that of each part (the inputs after the list and the chapters), as long as its own
 * pictures, one behind the other.
 */
function partsTrack(plan: JoinedCopyPlan, track: number): string {
  const {
    parts,
    output: { sound },
  } = plan;
  const each = partLengths(plan).map(
    ({ samples }, index) =>
      `[${index + 2}:a:${track}]aresample=${sound.sampleRate}:async=1:first_pts=0,apad=whole_len=${samples},atrim=end_sample=${samples}[t${track}p${index}]`,
  );
  return `${each.join(';')};${parts.map((_, index) => `[t${track}p${index}]`).join('')}concat=n=${parts.length}:v=0:a=1[t${track}]`;
}

/** FFmpeg's own text form of chapters, in milliseconds. */
function chaptersText(parts: readonly { title: string; seconds: number }[]): string {
  let at = 0;
  const lines = parts.flatMap(({ title, seconds }) => {
    const [start, end] = [Math.round(at * 1000), Math.round((at + seconds) * 1000)];
    at += seconds;
    return [
      '[CHAPTER]',
      'TIMEBASE=1/1000',
      `START=${start}`,
      `END=${end}`,
      `title=${title.replace(/[=;#\\\n]/g, (one) => `\\${one}`)}`,
    ];
  });
  return `;FFMETADATA1\n${lines.join('\n')}\n`;
}

/** How many pictures a file decodes to, and a digest of every one of them in order. */
export async function picturesOf(
  paths: readonly string[],
  signal?: AbortSignal,
): Promise<{ frames: number; digest: string }> {
  const hash = createHash('sha256');
  let frames = 0;
  for (const path of paths) {
    const ended = await run(
      ffmpeg,
      [
        '-hide_banner',
        '-v',
        'error',
        '-nostats',
        ...inputArguments(path),
        '-map',
        '0:v:0',
        '-fps_mode',
        'passthrough',
        '-f',
        'framemd5',
        'pipe:1',
      ],
      {
        signal,
        onLine: (line) => {
          // stream, dts, pts, duration, size, md5
          const fields = line.startsWith('#') ? [] : line.split(',');
          if (fields.length < 6) return;
          frames += 1;
          hash.update((fields[5] as string).trim());
        },
      },
    );
    if (ended.code !== 0) throw new Error(complaints(ended.stderr).at(-1) ?? `${path} does not decode`);
  }
  return { frames, digest: hash.digest('hex') };
}
