import type { StartTimecode } from '../clip/description.ts';
import { stemOf } from '../clip/roll.ts';
import type { FrameMap } from '../time/frameMap.ts';
import { nominalFramesPerSecond } from '../time/rate.ts';
import { toNumber, type Rational } from '../time/rational.ts';
import { timecodeToFrames } from '../time/timecode.ts';

/** An original as a cut is matched against it. */
export interface CutOriginal {
  path: string;
  /** Reels it is known by: the one that was set, the file's own, its roll. */
  reels: readonly string[];
  timecode: StartTimecode | null;
  /** Of its pictures; null where it has none. */
  rate: Rational | null;
  /** Pictures in it; 0 where it has none. */
  frames: number;
  /** Its pictures come at uneven times: what a list counts is none of its own frames. */
  varies?: boolean;
  /** Of sound alone: seconds from midnight to its first sample where it says so, and how long it is. */
  sound?: { start: Rational | null; seconds: Rational };
}

/** What was made of an original, by its line of a relink sheet. */
export interface CutOutput {
  /** The original's place among those that are matched against. */
  original: number;
  path: string;
  reel: string;
  timecode: StartTimecode | null;
  rate: Rational;
  frames: number;
  /** Which frames of the original it shows. */
  map: FrameMap;
  /** The original's frame that the map counts from; 0 where absent. */
  from?: number;
}

/** A file that a cut may have been made on: an original, or what was made of one. */
export interface Target {
  original: number;
  /** Null for the original itself. */
  output: CutOutput | null;
  path: string;
  stem: string;
  reels: readonly string[];
  /** First frame, counted from midnight; null where there is no timecode. */
  start: number | null;
  dropFrame: boolean;
  /** Null where nothing but sound is in it: it is counted at whatever rate is asked. */
  rate: Rational | null;
  frames: number;
  varies: boolean;
  sound: CutOriginal['sound'] | null;
}

export function targetOf(original: CutOriginal, index: number): Target {
  return {
    original: index,
    output: null,
    path: original.path,
    stem: stemOf(original.path),
    reels: original.reels,
    ...startOf(original.timecode, original.rate),
    rate: original.rate,
    frames: original.frames,
    varies: original.varies ?? false,
    sound: original.sound ?? null,
  };
}

export function targetOfOutput(output: CutOutput): Target {
  return {
    original: output.original,
    output,
    path: output.path,
    stem: stemOf(output.path),
    reels: output.reel === '' ? [] : [output.reel],
    ...startOf(output.timecode, output.rate),
    rate: output.rate,
    frames: output.frames,
    varies: false,
    sound: null,
  };
}

function startOf(timecode: StartTimecode | null, rate: Rational | null): { start: number | null; dropFrame: boolean } {
  const found = timecode && rate ? timecodeToFrames(timecode.start, rate) : null;
  return { start: found?.ok ? found.value : null, dropFrame: timecode?.dropFrame ?? false };
}

/** Seconds that its labels begin and end with, for finding it by them; null without timecode. */
export function labelSeconds({ start, rate, frames, sound }: Target): { from: number; to: number } | null {
  if (rate === null) {
    if (!sound?.start) return null;
    const from = toNumber(sound.start);
    return { from, to: from + toNumber(sound.seconds) };
  }
  if (start === null) return null;
  const perSecond = nominalFramesPerSecond(rate);
  return { from: start / perSecond, to: (start + frames) / perSecond };
}

/** Already so. */
const plain = /^[A-Z0-9]+$/;

/** A name as it is when nobody looks closely: no case, no ending, nothing but letters and figures. */
export function loosely(name: string): string {
  if (plain.test(name)) return name;
  const dot = name.lastIndexOf('.');
  const stem = dot > 0 && name.length - dot <= 5 ? name.slice(0, dot) : name;
  return stem.toUpperCase().replaceAll(/[^\p{L}\p{N}]/gu, '');
}

/** The name at a path's end, in small letters. */
export function baseOf(path: string): string {
  return path.slice(Math.max(path.lastIndexOf('/'), path.lastIndexOf('\\')) + 1).toLowerCase();
}

/** Folders and name of a path from its end, without what systems write differently. */
export function pathParts(path: string): string[] {
  return path
    .replaceAll('\\', '/')
    .split('/')
    .filter((part) => part !== '' && part !== '.')
    .map((part) => part.toLowerCase());
}
