import { rm } from 'node:fs/promises';
import { under } from '@relay/core/naming/under';
import type { AudioTrack } from '@relay/core/clip/description';
import { originalsWanted, sampledFrames, type Smalls } from '@relay/core/proof/smalls';
import { endsAtWhite, readingOf, readingOfOutput, type Reading } from '@relay/core/proof/reading';
import type { Excerpt } from '@relay/core/proof/sound';
import { hasPicture } from '@relay/core/recipe/codecs';
import type { LegPlan, OutputPlan } from '@relay/core/recipe/legPlan';
import { turned } from '@relay/core/shape/raster';
import type { Tuning } from '../leg/encoders.ts';
import { needsLut } from '../leg/filters.ts';
import { legMemory } from '../leg/memory.ts';
import { openOutput, type Opened } from '../leg/open.ts';
import { withInput, type Source } from '../process/joined.ts';
import { runWatched, Stalled } from '../process/watched.ts';
import { scratchFolder } from '../process/scratch.ts';
import { burnFrame } from './burn.ts';
import { colourAfter, colourBefore } from './colour.ts';
import { keepPictures, type PicturesWanted } from './keepPictures.ts';
import {
  asItIs,
  keepSound,
  originalSamples,
  originalTracks,
  soundWindows,
  stretchedWindows,
  wholeTracks,
  type SoundWindow,
  type TrackTaking,
} from './keepSound.ts';
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

/** Arguments of outputs that keep evidence: appended to a command that decodes the file anyway. */
export interface EvidenceTaking {
  args: string[];
  read: () => Promise<Evidence>;
  discard: () => Promise<void>;
}

/** Keeps pictures, sound and single frames whole, named, in a scratch folder of their own. */
async function taking(
  of: Pick<Opened, 'picture'>,
  wanted: PicturesWanted,
  { tracks, windows }: { tracks: readonly TrackTaking[]; windows: readonly SoundWindow[] },
  whole: ReadonlyMap<string, RawFrame>,
): Promise<EvidenceTaking> {
  const folder = await scratchFolder();
  const map = of.picture ?? '0:v:0';
  const pictures = keepPictures(map, wanted, under(folder, 'pictures'));
  const sound = keepSound(tracks, windows, folder);
  const wholeFile = (index: number): string => under(folder, `f${index}`);
  const readWhole = async (): Promise<Map<string, Uint16Array>> => {
    const frames = new Map<string, Uint16Array>();
    for (const [index, [name, frame]] of [...whole].entries()) {
      const samples = await readRawFrame(frame, wholeFile(index));
      if (samples) frames.set(name, samples);
    }
    return frames;
  };
  return {
    args: [
      ...pictures.args,
      ...sound.args,
      ...[...whole.values()].flatMap((frame, index) => rawFrameArguments(frame, map, wholeFile(index))),
    ],
    discard: () => rm(folder, { recursive: true, force: true }),
    read: async () => ({ pictures: await pictures.read(), sound: await sound.read(), frames: await readWhole() }),
  };
}

/** Where there is no picture. */
const nothing: Reading = { rgb: false, bitDepth: 8, range: 'legal', matrix: 'bt709' };

/**
 * Evidence of an original for all of a leg's outputs, taken while it is decoded. Its frames are named by the outputs'
 * paths.
 */
export async function takeOriginal(plan: LegPlan, tunings: readonly Tuning[] = []): Promise<EvidenceTaking> {
  const { video } = plan.original;
  const heard = { tracks: originalTracks(plan), windows: soundWindows(originalSamples(plan)) };
  if (!video)
    return taking(asItIs, { frames: [], raster: { width: 2, height: 2 }, reading: nothing }, heard, new Map());
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
    {
      frames: [...wanted].sort((a, b) => a - b),
      raster: turned(video.raster, video.quarterTurns),
      reading: readingOf(video),
      pointed: plan.outputs.some((output) => hasPicture(output) && endsAtWhite(readingOfOutput(output))),
    },
    heard,
    wholeFrames,
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
    {
      frames: output.video.geometry && hasPicture(output) ? sampledFrames(output.video.frames) : [],
      raster: output.video.raster,
      reading: readingOfOutput(output),
    },
    { tracks: wholeTracks(opened, audio, ''), windows: stretchedWindows(plan, output.sound) },
    new Map([
      ...(needsLut(output) ? [['colour', colourAfter(output)] as const] : []),
      ...(output.burn ? [['burn', burnFrame(output)] as const] : []),
    ]),
  );
}
