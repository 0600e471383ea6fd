import { readFile } from 'node:fs/promises';
import type { AudioTrack } from '@relay/core/clip/description';
import { under } from '@relay/core/naming/under';
import type { Excerpt } from '@relay/core/proof/sound';
import type { LegPlan, SoundPlan } from '@relay/core/recipe/legPlan';
import { chapterSounds } from '@relay/core/sound/chapters';
import { toNumber } from '@relay/core/time/rational';
import type { Opened } from '../leg/open.ts';
import { chapterInput } from '../process/joined.ts';

/** Stretches of sound that are kept while a file is decoded: which, by what arguments, and how they are read again. */

/**
 * Sound is compared whole up to this many samples at 48 kHz, else its first and last halves of as many: sync is lost
 * towards the end.
 */
const windowSamples = 12 * 48_000;

export interface SoundWindow {
  first: number;
  length: number;
}

/** The windows of an original's sound that are compared. */
export function soundWindows(samples: number): SoundWindow[] {
  const half = windowSamples / 2;
  return samples <= windowSamples
    ? [{ first: 0, length: samples }]
    : [
        { first: 0, length: half },
        { first: samples - half, length: half },
      ];
}

/** Samples at 48 kHz that an original's pictures last, or its sound where it has none. */
export function originalSamples(plan: LegPlan): number {
  const { video, audio } = plan.original;
  const seconds = video
    ? toNumber(video.duration)
    : Math.max(0, ...audio.map(({ duration }) => (duration ? toNumber(duration) : 0)));
  return Math.max(1, Math.floor(seconds * 48_000));
}

/** The same windows where sound was stretched. */
export function stretchedWindows(plan: LegPlan, sound: SoundPlan): SoundWindow[] {
  const by = sound.stretch ? toNumber(sound.stretch.by) : 1;
  return soundWindows(originalSamples(plan))
    .map(({ first, length }) => ({
      first: Math.round(first * by),
      length: Math.max(1, Math.min(sound.samples - Math.round(first * by), Math.floor(length * by))),
    }))
    .filter(({ length }) => length > 0);
}

/** One channel of samples that lie channel by channel; in a plain loop, since there are millions. */
function channelOf(samples: Float32Array, channel: number, channels: number, length: number): Float32Array {
  const row = new Float32Array(length);
  for (let i = 0; i < length; i += 1) row[i] = samples[i * channels + channel] as number;
  return row;
}

/** A piece of a window of sound, as one stream has it. */
interface SoundPiece {
  map: string;
  /** Filters before the piece is cut out, each ended by a comma. */
  before: string;
  /** Samples of the stream. */
  start: number;
  end: number;
  /** Where in the window it begins. */
  at: number;
}

/** A track as it is kept: window by window, of the pieces that make it up. */
export interface TrackTaking {
  channels: number;
  pieces: (window: SoundWindow) => SoundPiece[];
}

/** The streams of a file or an output, each all of its track. */
export function wholeTracks(of: Pick<Opened, 'sound'>, audio: readonly AudioTrack[], before: string): TrackTaking[] {
  return audio.map(({ channels }, track) => ({
    channels,
    pieces: ({ first, length }) => [{ map: of.sound(track), before, start: first, end: first + length, at: 0 }],
  }));
}

/** One channel of pieces that lie channel by channel, set where they belong; what no piece has is silent. */
function assembled(
  pieces: readonly { at: number; samples: Float32Array }[],
  channel: number,
  channels: number,
): Float32Array {
  const lengths = pieces.map(({ samples }) => Math.floor(samples.length / channels));
  const [only] = pieces;
  if (pieces.length === 1 && only) return channelOf(only.samples, channel, channels, lengths[0] as number);
  const row = new Float32Array(Math.max(0, ...pieces.map(({ at }, index) => at + (lengths[index] as number))));
  pieces.forEach(({ at, samples }, index) =>
    row.set(channelOf(samples, channel, channels, lengths[index] as number), at),
  );
  return row;
}

/** The streams of an original, which is opened as one. */
export const asItIs: Pick<Opened, 'picture' | 'sound'> = { picture: '0:v:0', sound: (track) => `0:a:${track}` };

/**
 * Sound of an original as it was recorded: of several chapters each is decoded by itself and set where its pictures
 * begin, so that the proof does not depend on how a run joins them.
 */
export function originalTracks({ original, pictureStart }: LegPlan): TrackTaking[] {
  const before = (start: number): string =>
    `${start > 0 ? `asetpts=PTS-${start.toFixed(9)}/TB,` : ''}aresample=48000:async=1:first_pts=0,`;
  if (original.chapters.length <= 1)
    return wholeTracks(
      original.part ? { sound: (track) => `${chapterInput(0)}:a:${track}` } : asItIs,
      original.audio,
      before(toNumber(pictureStart)),
    );
  const skipped = original.part ? Math.round(toNumber(original.part.at) * 48_000) : 0;
  const chapters = chapterSounds(original.chapters, 48_000);
  return original.audio.map(({ channels }, track) => ({
    channels,
    pieces: ({ first: wanted, length }) =>
      chapters.flatMap((chapter, index): SoundPiece[] => {
        const first = wanted + skipped;
        const [start, end] = [
          Math.max(first, chapter.first),
          Math.min(first + length, chapter.first + chapter.samples),
        ];
        return end <= start
          ? []
          : [
              {
                map: `${chapterInput(index)}:a:${track}`,
                before: before(chapter.pictureStart),
                start: start - chapter.first,
                end: end - chapter.first,
                at: start - first,
              },
            ];
      }),
  }));
}

/** Samples of a file of floats; none where it is not there. */
async function floatsOf(path: string): Promise<Float32Array> {
  const bytes = await readFile(path).catch(() => Buffer.alloc(0));
  return new Float32Array(bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + (bytes.length & ~3)));
}

/** Keeps windows of tracks in a scratch folder: the arguments for it, and what lies there afterwards. */
export function keepSound(
  tracks: readonly TrackTaking[],
  windows: readonly SoundWindow[],
  folder: string,
): { args: string[]; read: () => Promise<Excerpt[][]> } {
  const file = (track: number, window: number, piece: number): string => under(folder, `s${track}-${window}-${piece}`);
  const args = tracks.flatMap(({ pieces }, track) =>
    windows.flatMap((window, w) =>
      pieces(window).flatMap(({ map, before, start, end }, piece) => [
        ...['-map', map, '-filter:a', `${before}atrim=start_sample=${start}:end_sample=${end}`],
        ...['-f', 'f32le', '-c:a', 'pcm_f32le', `file:${file(track, w, piece)}`],
      ]),
    ),
  );
  const excerptOf = async (track: TrackTaking, t: number, window: SoundWindow, w: number): Promise<Excerpt> => {
    const pieces = await Promise.all(
      track.pieces(window).map(async ({ at }, piece) => ({ at, samples: await floatsOf(file(t, w, piece)) })),
    );
    return {
      first: window.first,
      channels: Array.from({ length: track.channels }, (_, c) => assembled(pieces, c, track.channels)),
    };
  };
  return {
    args,
    read: () =>
      Promise.all(tracks.map((track, t) => Promise.all(windows.map((window, w) => excerptOf(track, t, window, w))))),
  };
}
