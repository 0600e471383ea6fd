import { readFile, rm } from 'node:fs/promises';
import { under } from '@relay/core/naming/under';
import type { AudioTrack } from '@relay/core/clip/description';
import { originalsWanted, sampledFrames, type Planes, type Small, type Smalls } from '@relay/core/proof/smalls';
import { endsAtWhite, readingOf, readingOfOutput, smallOf, type Reading } from '@relay/core/proof/reading';
import type { Excerpt } from '@relay/core/proof/sound';
import { hasPicture } from '@relay/core/recipe/codecs';
import type { LegPlan, OutputPlan, SoundPlan } from '@relay/core/recipe/legPlan';
import { chapterSounds } from '@relay/core/sound/chapters';
import { turned, type Raster } from '@relay/core/shape/raster';
import { toNumber } from '@relay/core/time/rational';
import type { Tuning } from '../leg/encoders.ts';
import { needsLut } from '../leg/filters.ts';
import { legMemory } from '../leg/memory.ts';
import { openOutput, type Opened } from '../leg/open.ts';
import { chapterInput, withInput, type Source } from '../process/joined.ts';
import { runWatched, Stalled } from '../process/watched.ts';
import { scratchFolder } from '../process/scratch.ts';
import { burnFrame } from './burn.ts';
import { colourAfter, colourBefore } from './colour.ts';
import { rawFrameArguments, readRawFrame, type RawFrame } from './rawFrame.ts';

/**
 * What is kept of an original, or of an output, to hold the two against each other: a few pictures made small, and
 * stretches of sound.
 */
export interface Evidence {
  pictures: Smalls;
  /** By track: one excerpt for each window. */
  sound: Excerpt[][];
  /** Single frames whole, by what they were asked for as. */
  frames: ReadonlyMap<string, Uint16Array>;
}

/**
 * Sound is compared whole up to this many samples at 48 kHz, else its first and last halves of as many: sync is lost
 * towards the end.
 */
const windowSamples = 12 * 48_000;

interface SoundWindow {
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
function originalSamples(plan: LegPlan): number {
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

function smallRaster({ width, height }: Raster): Raster {
  const scale = Math.min(1, 320 / Math.max(width, height));
  return { width: Math.max(2, Math.round(width * scale)), height: Math.max(2, Math.round(height * scale)) };
}

/** One channel of samples that lie channel by channel; in a plain loop, since there are millions. */
function channelOf(samples: Float32Array, channel: number, channels: number, length: number): Float32Array {
  const row = new Float32Array(length);
  for (let i = 0; i < length; i += 1) row[i] = samples[i * channels + channel] as number;
  return row;
}

/** Arguments of outputs that keep evidence: appended to a command that decodes the file anyway. */
export interface EvidenceTaking {
  args: string[];
  read: () => Promise<Evidence>;
  discard: () => Promise<void>;
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
interface TrackTaking {
  channels: number;
  pieces: (window: SoundWindow) => SoundPiece[];
}

/** The streams of a file or an output, each all of its track. */
function wholeTracks(of: Pick<Opened, 'sound'>, audio: readonly AudioTrack[], before: string): TrackTaking[] {
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

async function taking(
  of: Pick<Opened, 'picture'>,
  frames: readonly number[],
  raster: Raster,
  reading: Reading,
  tracks: readonly TrackTaking[],
  windows: readonly SoundWindow[],
  whole: ReadonlyMap<string, RawFrame>,
  pointed = false,
): Promise<EvidenceTaking> {
  const folder = await scratchFolder();
  const small = smallRaster(raster);
  const pictures = under(folder, 'pictures');
  // Times far apart: those of a coarse clock may fall together, and FFmpeg would complain as if the file were damaged.
  // Neither range nor matrix is changed here: codes come as they are, shifted up to 16 bits, and core reads them.
  const range = reading.range === 'full' ? 'pc' : 'tv';
  const planar = reading.rgb ? 'gbrp16le' : 'yuv444p16le';
  const scaled = (how: string): string =>
    `scale=${small.width}:${small.height}:flags=${how}+accurate_rnd:in_range=${range}:out_range=${range}:in_color_matrix=bt709:out_color_matrix=bt709${reading.centred ? '' : ':in_h_chr_pos=0'},format=${planar}`;
  // Means over areas, and below them, if wanted, single samples from the same places.
  const both = `split[means][points];[means]${scaled('area')}[m];[points]${scaled('neighbor')}[p];[m][p]vstack`;
  const args =
    frames.length === 0
      ? []
      : [
          '-map',
          of.picture ?? '0:v:0',
          '-filter:v',
          `select='${frames.map((n) => `eq(n,${n})`).join('+')}',settb=1,setpts=N*100,${pointed ? both : scaled('area')}`,
          '-fps_mode',
          'passthrough',
          '-f',
          'rawvideo',
          '-pix_fmt',
          planar,
          `file:${pictures}`,
        ];
  const file = (track: number, window: number, piece: number): string => under(folder, `s${track}-${window}-${piece}`);
  tracks.forEach(({ pieces }, track) =>
    windows.forEach((window, w) =>
      pieces(window).forEach(({ map, before, start, end }, piece) =>
        args.push(
          '-map',
          map,
          '-filter:a',
          `${before}atrim=start_sample=${start}:end_sample=${end}`,
          '-f',
          'f32le',
          '-c:a',
          'pcm_f32le',
          `file:${file(track, w, piece)}`,
        ),
      ),
    ),
  );
  const wholeFile = (index: number): string => under(folder, `f${index}`);
  [...whole.values()].forEach((frame, index) =>
    args.push(...rawFrameArguments(frame, of.picture ?? '0:v:0', wholeFile(index))),
  );
  const bytesOf = (path: string): Promise<Buffer> => readFile(path).catch(() => Buffer.alloc(0));
  return {
    args,
    discard: () => rm(folder, { recursive: true, force: true }),
    read: async () => {
      const all = await bytesOf(pictures);
      const each = small.width * small.height;
      const samples = new Uint16Array(all.buffer.slice(all.byteOffset, all.byteOffset + (all.length & ~1)));
      const rows = pointed ? 2 : 1;
      const planes = (index: number, row: number): Planes => {
        const plane = (of: number): Uint16Array =>
          samples.subarray(((index * 3 + of) * rows + row) * each, ((index * 3 + of) * rows + row + 1) * each);
        return [plane(0), plane(1), plane(2)];
      };
      const found = new Map<number, Small>();
      frames.forEach((n, index) => {
        if ((index + 1) * 3 * rows * each <= samples.length)
          found.set(
            n,
            smallOf(small.width, small.height, planes(index, 0), reading, pointed ? planes(index, 1) : undefined),
          );
      });
      const sound = await Promise.all(
        tracks.map((track, t) =>
          Promise.all(
            windows.map(async (window, w): Promise<Excerpt> => {
              const pieces = await Promise.all(
                track.pieces(window).map(async ({ at }, piece) => {
                  const bytes = await bytesOf(file(t, w, piece));
                  return {
                    at,
                    samples: new Float32Array(
                      bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + (bytes.length & ~3)),
                    ),
                  };
                }),
              );
              return {
                first: window.first,
                channels: Array.from({ length: track.channels }, (_, c) => assembled(pieces, c, track.channels)),
              };
            }),
          ),
        ),
      );
      const wholeFrames = new Map<string, Uint16Array>();
      for (const [index, [name, frame]] of [...whole].entries()) {
        const samples = await readRawFrame(frame, wholeFile(index));
        if (samples) wholeFrames.set(name, samples);
      }
      return { pictures: found, sound, frames: wholeFrames };
    },
  };
}

/** Where there is no picture. */
const nothing: Reading = { rgb: false, bitDepth: 8, range: 'legal', matrix: 'bt709' };

/** The streams of an original, which is opened as one. */
const asItIs: Pick<Opened, 'picture' | 'sound'> = { picture: '0:v:0', sound: (track) => `0:a:${track}` };

/**
 * Sound of an original as it was recorded: of several chapters each is decoded by itself and set where its pictures
 * begin, so that the proof does not depend on how a run joins them.
 */
function originalTracks({ original, pictureStart }: LegPlan): TrackTaking[] {
  const before = (start: number): string =>
    `${start > 0 ? `asetpts=PTS-${start.toFixed(9)}/TB,` : ''}aresample=48000:async=1:first_pts=0,`;
  if (original.chapters.length === 0) return wholeTracks(asItIs, original.audio, before(toNumber(pictureStart)));
  const chapters = chapterSounds(original.chapters, 48_000);
  return original.audio.map(({ channels }, track) => ({
    channels,
    pieces: ({ first, length }) =>
      chapters.flatMap((chapter, index): SoundPiece[] => {
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

/**
 * Evidence of an original for all of a leg's outputs, taken while it is decoded. Its frames are named by the outputs'
 * paths.
 */
export async function takeOriginal(plan: LegPlan, tunings: readonly Tuning[] = []): Promise<EvidenceTaking> {
  const { video } = plan.original;
  if (!video)
    return taking(
      asItIs,
      [],
      { width: 2, height: 2 },
      nothing,
      originalTracks(plan),
      soundWindows(originalSamples(plan)),
      new Map(),
    );
  const wanted = new Set(
    plan.outputs.flatMap((output) =>
      output.video.geometry ? originalsWanted(output.video, video.frames, sampledFrames(output.video.frames)) : [],
    ),
  );
  const wholeFrames = new Map(
    plan.outputs.flatMap((output, index): [string, RawFrame][] =>
      needsLut(output) ? [[output.path, colourBefore(output, tunings[index] ?? {})]] : [],
    ),
  );
  return taking(
    asItIs,
    [...wanted].sort((a, b) => a - b),
    turned(video.raster, video.quarterTurns),
    readingOf(video),
    originalTracks(plan),
    soundWindows(originalSamples(plan)),
    wholeFrames,
    plan.outputs.some((output) => hasPicture(output) && endsAtWhite(readingOfOutput(output))),
  );
}

/**
 * Evidence of an original that no leg decodes now: outputs that are there already are proved again with it. `alsoTake`
 * are further outputs of the decode. @throws Stalled
 */
export async function originalEvidence(
  plan: LegPlan,
  source: Source,
  tunings: readonly Tuning[],
  signal?: AbortSignal,
  alsoTake: readonly string[] = [],
): Promise<Evidence> {
  const taken = await takeOriginal(plan, tunings);
  try {
    const ended = await withInput(
      source,
      (input, hands) =>
        runWatched(['-hide_banner', '-v', 'error', '-nostats', '-y', ...input, ...taken.args, ...alsoTake], {
          ...(signal ? { signal } : {}),
          hands,
          memoryBytes: legMemory(plan),
        }),
      { sound: true },
    );
    if (ended.stalled) throw new Stalled();
    return await taken.read();
  } finally {
    await taken.discard();
  }
}

/** Evidence of an output, taken while it is decoded for its proof. Its frames are `colour` and `burn`. */
export function takeOutput(
  plan: LegPlan,
  output: OutputPlan,
  path: string,
  audio: readonly AudioTrack[],
): Promise<EvidenceTaking> {
  const opened = openOutput(output, path);
  return taking(
    opened,
    output.video.geometry && hasPicture(output) ? sampledFrames(output.video.frames) : [],
    output.video.raster,
    readingOfOutput(output),
    wholeTracks(opened, audio, ''),
    stretchedWindows(plan, output.sound),
    new Map([
      ...(needsLut(output) ? [['colour', colourAfter(output)] as const] : []),
      ...(output.burn ? [['burn', burnFrame(output)] as const] : []),
    ]),
  );
}
