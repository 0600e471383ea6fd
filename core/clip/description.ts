import type { ClipPart } from './partPlace.ts';
import type { Problem } from '../result.ts';
import type { Raster } from '../shape/raster.ts';
import type { Rational } from '../time/rational.ts';

/** How a picture is scanned. `unknown` where the file does not say and its first frames do not show it. */
export type Scan = 'progressive' | 'top-field-first' | 'bottom-field-first' | 'unknown';

export type Chroma = '4:0:0' | '4:1:1' | '4:2:0' | '4:2:2' | '4:4:0' | '4:4:4' | 'rgb';

/** Colour tags as the file states them, in the names of ITU-T H.273 that FFmpeg prints; null where it states none. */
export interface ColourTags {
  primaries: string | null;
  transfer: string | null;
  matrix: string | null;
  range: 'legal' | 'full' | null;
}

/** The picture of a clip, as facts read from its file. */
export interface VideoDescription {
  /** Codec by its published name, such as `H.264`; `codecId` is the short one used in code, such as `h264`. */
  codec: string;
  codecId: string;
  profile: string | null;
  raster: Raster;
  /** Width : height of one stored sample; 1:1 where the file states none (`pixelAspectTagged` false). */
  pixelAspect: Rational;
  pixelAspectTagged: boolean;
  scan: Scan;
  /** Frames a second: exact when constant, the average when not. */
  rate: Rational;
  rateConstant: boolean;
  /** The slowest and fastest pair of neighbouring frames when the rate varies. */
  rateVaries: { slowest: Rational; fastest: Rational } | null;
  bitDepth: number;
  chroma: Chroma;
  alpha: boolean;
  colour: ColourTags;
  /** Quarter turns clockwise that the file asks a player to make: 0 to 3. */
  quarterTurns: number;
  /** Frames in the file, from its index or counted packet by packet; never an estimate. */
  frames: number;
  /** Exact duration in seconds. */
  duration: Rational;
  /** Seconds from the start of the file to its first picture. */
  start: Rational;
  bitsPerSecond: number | null;
}

/** One sound track of a file, in the file's order. */
export interface AudioTrack {
  codec: string;
  codecId: string;
  channels: number;
  /** Speaker layout as stated, such as `stereo`; null where the file states none. */
  layout: string | null;
  sampleRate: number;
  bitDepth: number | null;
  duration: Rational | null;
}

export interface StartTimecode {
  /** `HH:MM:SS:FF` at the rate of the pictures, `;` before the frames when drop-frame. */
  start: string;
  dropFrame: boolean;
  /** What the file's own track says, where it counts at another rate, or claims drop-frame where there is none. */
  written?: { start: string; rate: Rational; dropClaimed: boolean };
}

/** One file of a clip that its camera wrote in several. */
export interface Chapter {
  path: string;
  sizeBytes: number;
  /** Pictures in it; 0 for sound. */
  frames: number;
  /** Exact duration in seconds. */
  duration: Rational;
  /** Seconds from the beginning of its file to its first picture. Absent where that was not read: none. */
  start?: Rational;
}

/** Everything known of a file that can be decoded here. */
export interface ClipDescription {
  /** Path relative to what was read, `/` between folders. */
  path: string;
  stem: string;
  sizeBytes: number;
  /** ISO 8601, UTC. */
  modifiedAt: string;
  wrapper: string;
  wrapperId: string;
  video: VideoDescription | null;
  audio: AudioTrack[];
  timecode: StartTimecode | null;
  reel: string | null;
  /** Maker and model of the camera or recorder, as the file names them. Absent where it names none. */
  device?: string;
  /** Broadcast Wave: samples from midnight to its first. Absent where the file does not say. */
  timeReference?: number;
  bitsPerSecond: number | null;
  /** Streams that are neither picture nor sound, such as captions and data, by codec name. */
  otherStreams: string[];
  /** Why the file seems to end before its index says it does; null when it is whole. */
  cutShort: string | null;
  /**
   * The files of a clip that spans several, in order, the one at `path` first; empty when it is one file. Sizes and
   * lengths above are of all together.
   */
  chapters: Chapter[];
  /** Where it lies in its original, if it is but a part of one. Frames and timecode above are the part's. */
  part?: ClipPart;
}

export type RefusalKind = 'sidecar' | 'chapter' | 'not-media' | 'broken' | 'not-decodable' | 'unreadable';

/** A file that cannot be a clip here, and why. */
export interface Refusal {
  path: string;
  sizeBytes: number;
  problem: Omit<Problem, 'kind'> & { kind: RefusalKind };
}

export type ReadEntry = ClipDescription | Refusal;

export function isRefusal(entry: ReadEntry): entry is Refusal {
  return 'problem' in entry;
}

export function isInterlaced(scan: Scan): boolean {
  return scan === 'top-field-first' || scan === 'bottom-field-first';
}
