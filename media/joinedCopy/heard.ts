import { readFile, rm } from 'node:fs/promises';
import { under } from '@relay/core/naming/under';
import { soundComparisons, type Excerpt } from '@relay/core/proof/sound';
import type { SoundPlan } from '@relay/core/recipe/legPlan';
import type { JoinedCopyPlan } from '@relay/core/recipe/joinedCopy';
import { complaints, ffmpeg, inputArguments } from '../process/ffmpeg.ts';
import { run } from '../process/run.ts';
import { scratchFolder } from '../process/scratch.ts';
import { partLengths } from './lengths.ts';

/** Parts of a reel that are listened to: the first, the last, and these many between them at most. */
const listenedAtMost = 24;
/** Samples of each at 48 kHz: six seconds. */
const excerptSamples = 6 * 48_000;

/** Which of `count` parts are listened to. */
export function listenedParts(count: number): number[] {
  const steps = Math.min(count, listenedAtMost);
  return [
    ...new Set(
      Array.from({ length: steps }, (_, step) => (steps === 1 ? 0 : Math.round((step * (count - 1)) / (steps - 1)))),
    ),
  ];
}

interface Wanted {
  start: number;
  length: number;
}

/** Stretches of every track of one file, decoded by itself: by stretch, by track. Sound begins with the file's own beginning. */
async function listen(
  path: string,
  channels: readonly number[],
  stretches: readonly Wanted[],
  signal?: AbortSignal,
): Promise<Excerpt[][]> {
  const folder = await scratchFolder();
  try {
    const name = (stretch: number, track: number): string => under(folder, `${stretch}-${track}`);
    const ended = await run(
      ffmpeg,
      [
        '-hide_banner',
        '-v',
        'error',
        '-nostats',
        '-y',
        '-vn',
        ...inputArguments(path),
        ...stretches.flatMap(({ start, length }, s) =>
          channels.flatMap((_, track) => [
            '-map',
            `0:a:${track}`,
            '-filter:a',
            `aresample=48000:async=1:first_pts=0,atrim=start_sample=${start}:end_sample=${start + length}`,
            '-f',
            'f32le',
            '-c:a',
            'pcm_f32le',
            `file:${name(s, track)}`,
          ]),
        ),
      ],
      { signal },
    );
    if (ended.code !== 0) throw new Error(complaints(ended.stderr).at(-1) ?? `${path} does not decode`);
    return await Promise.all(
      stretches.map((_, s) =>
        Promise.all(
          channels.map(async (count, track): Promise<Excerpt> => {
            const bytes = await readFile(name(s, track));
            const samples = new Float32Array(
              bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + (bytes.length & ~3)),
            );
            return {
              first: 0,
              channels: Array.from({ length: count }, (_, channel) =>
                Float32Array.from(
                  { length: Math.floor(samples.length / count) },
                  (_, i) => samples[i * count + channel] as number,
                ),
              ),
            };
          }),
        ),
      ),
    );
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
}

/** What of a reel's sound is not that of its parts where these lie, in words; null when all is. Each part is decoded by itself. */
export async function unlikeSound(
  plan: JoinedCopyPlan,
  paths: readonly string[],
  made: string,
  signal?: AbortSignal,
): Promise<string | null> {
  const { sound } = plan.output;
  if (sound.tracks.length === 0) return null;
  const channels = sound.tracks.map((track) => track.channels);
  const lengths = partLengths(plan);
  const parts = listenedParts(paths.length);
  const wanted = parts.map((part): Wanted => ({
    start: lengths[part]?.first ?? 0,
    length: Math.min(excerptSamples, lengths[part]?.samples ?? 0),
  }));
  const joined = await listen(made, channels, wanted, signal);
  // What a part was mixed of, or stretched by, is in it already.
  const asIs: SoundPlan = {
    sampleRate: sound.sampleRate,
    samples: sound.samples,
    ...(sound.coding ? { coding: sound.coding } : {}),
    tracks: sound.tracks.map(({ channels: count, bitDepth, layout }, from) => ({
      from,
      channels: count,
      bitDepth,
      layout,
    })),
  };
  for (const [index, part] of parts.entries()) {
    const [own] = await listen(
      paths[part] as string,
      channels,
      [{ start: 0, length: wanted[index]?.length ?? 0 }],
      signal,
    );
    const row: Excerpt = { first: 0, channels: (own ?? []).flatMap((track) => track.channels) };
    const wrong = soundComparisons(
      asIs,
      channels,
      [row],
      (joined[index] ?? []).map((track) => [track]),
    ).find(({ holds }) => !holds);
    if (wrong)
      return `the sound of ${plan.parts[part]?.title ?? `part ${part + 1}`} in it: ${wrong.name} ${wrong.found}, planned ${wrong.planned}`;
  }
  return null;
}
