import type { Segment } from '@relay/core/recipe/segments';
import { toNumber } from '@relay/core/time/rational';
import { readFile, rm, writeFile } from 'node:fs/promises';
import { under } from '@relay/core/naming/under';
import { complaints, joinedArguments } from '../process/ffmpeg.ts';
import { listLines, withInput } from '../process/joined.ts';
import { pinnedAll } from '../process/plain.ts';
import { runWatched } from '../process/watched.ts';
import { scratchFolder } from '../process/scratch.ts';
import { nothingElse, pictureArguments, soundArguments } from './command.ts';
import { legMemory } from './memory.ts';
import { outcomeOf, type Material, type Performed } from './perform.ts';
import { trackArguments } from './sound.ts';
import { wrapperArguments } from './wrap.ts';
import { justBefore } from '../process/seek.ts';

/**
 * Arguments that write a checksum of every frame of the original as it is decoded: by them it is seen that segments
 * take each frame once, in order.
 */
export function frameSums(target: string): string[] {
  return ['-map', '0:v:0', '-fps_mode', 'passthrough', '-f', 'framecrc', `file:${target}`];
}

/** The checksums that `frameSums` wrote, a frame each. */
export async function readFrameSums(path: string): Promise<string[]> {
  const lines = (await readFile(path, 'utf8').catch(() => '')).split('\n');
  // stream, dts, pts, duration, size, checksum
  return lines
    .filter((line) => line !== '' && !line.startsWith('#'))
    .map((line) =>
      line
        .split(',')
        .slice(4)
        .map((field) => field.trim())
        .join(' '),
    );
}

/**
 * Makes one segment's pictures for every output of a leg, without sound, into `targets`; `sums` takes the checksums of
 * the frames that it took.
 */
export async function makeSegment(
  { plan, source, tunings }: Material,
  { from, frames }: Segment,
  targets: readonly string[],
  sums: string,
  { onFrames = () => undefined, signal }: { onFrames?: (done: number) => void; signal?: AbortSignal | undefined } = {},
): Promise<Performed> {
  const rate = toNumber(plan.original.video?.rate ?? { num: 25, den: 1 });
  const at = toNumber(plan.pictureStart) + justBefore(from, rate);
  let command: string[] = [];
  const ended = await withInput(source, (input, hands) =>
    runWatched(
      (command = [
        '-hide_banner',
        '-v',
        'error',
        '-nostats',
        '-y',
        ...(from > 0 ? ['-ss', at.toFixed(6)] : []),
        ...input,
        ...plan.outputs.flatMap((output, index) => [
          ...pictureArguments(output, tunings[index] ?? {}),
          '-frames:v',
          String(frames),
          '-an',
          ...nothingElse,
          '-video_track_timescale',
          String(output.video.rate.num),
          '-movflags',
          '+write_colr',
          '-f',
          'mov',
          `file:${targets[index] as string}`,
        ]),
        '-frames:v',
        String(frames),
        ...frameSums(sums),
      ]),
      {
        ...(signal ? { signal } : {}),
        hands,
        memoryBytes: legMemory(plan),
        quit: 'q',
        onProgress: (line) => {
          if (line.startsWith('frame=')) onFrames(Math.min(frames, Number(line.slice(6))));
        },
      },
    ),
  );
  const errors = [
    ...complaints(ended.stderr),
    ...(ended.endedBy && !signal?.aborted ? [`FFmpeg was ended by ${ended.endedBy}`] : []),
  ];
  return {
    outcome: outcomeOf(ended, errors, signal),
    errors,
    command,
  };
}

/**
 * Joins segments to the outputs of a leg: their pictures as they are coded, one behind the other; sound, timecode and
 * reel as one command would have made them. `parts` holds for each segment a file for each output.
 */
export async function joinSegments(
  { plan, source }: Omit<Material, 'tunings'>,
  segments: readonly Segment[],
  parts: readonly (readonly string[])[],
  targets: readonly string[],
  signal?: AbortSignal,
): Promise<Performed> {
  const each = plan.outputs.length;
  return pinnedAll(parts.flat(), (pinned) =>
    joinPinned(
      { plan, source },
      segments,
      parts.map((_, index) => pinned.slice(index * each, (index + 1) * each)),
      targets,
      signal,
    ),
  );
}

async function joinPinned(
  { plan, source }: Omit<Material, 'tunings'>,
  segments: readonly Segment[],
  parts: readonly (readonly string[])[],
  targets: readonly string[],
  signal?: AbortSignal,
): Promise<Performed> {
  const folder = await scratchFolder();
  let command: string[] = [];
  try {
    const lists = await Promise.all(
      plan.outputs.map(async (output, index) => {
        const list = under(folder, `list${index}`);
        await writeFile(
          list,
          `ffconcat version 1.0\n${segments.flatMap(({ frames }, part) => listLines(parts[part]?.[index] as string, frames / toNumber(output.video.rate))).join('\n')}\n`,
        );
        return list;
      }),
    );
    const tracks = plan.outputs.map((output, o) =>
      output.sound.tracks.map((track, t) => trackArguments(plan, output, track, `o${o}t${t}`)),
    );
    const graphs = tracks.flat().flatMap(({ graph }) => (graph ? [graph] : []));
    const ended = await withInput(source, (input, hands) =>
      runWatched(
        (command = [
          '-hide_banner',
          '-v',
          'error',
          '-nostats',
          '-y',
          ...input,
          ...lists.flatMap((list) => joinedArguments(list)),
          ...(graphs.length > 0 ? ['-filter_complex', graphs.join(';')] : []),
          ...plan.outputs.flatMap((output, index) => [
            '-map',
            `${index + 1}:v:0`,
            '-c:v',
            'copy',
            ...soundArguments(
              output,
              tracks[index] ?? [],
              output.sound.tracks.map((_, track) => track),
            ),
            ...nothingElse,
            ...wrapperArguments(output),
            `file:${targets[index] as string}`,
          ]),
        ]),
        { ...(signal ? { signal } : {}), hands: [...hands, ...parts.flat()], memoryBytes: legMemory(plan), quit: 'q' },
      ),
    );
    const errors = complaints(ended.stderr);
    return { outcome: outcomeOf(ended, errors, signal), errors, command };
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
}
