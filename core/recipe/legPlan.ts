import type { BurnPlan } from '../burn/plan.ts';
import type { ClipDescription, ColourTags, Scan, StartTimecode } from '../clip/description.ts';
import type { Chain } from '../colour/chain/chain.ts';
import type { ClipCorrections } from '../corrections/corrections.ts';
import type { Stabilising } from '../repair/stabilise.ts';
import type { Geometry } from '../shape/geometry.ts';
import type { PadColour } from '../shape/intoRaster.ts';
import type { Window } from '../shape/window.ts';
import type { Raster } from '../shape/raster.ts';
import type { PlannedRate } from '../size/target.ts';
import type { Feed } from '../sound/map.ts';
import type { FrameMap } from '../time/frameMap.ts';
import type { Rational } from '../time/rational.ts';
import type { OutputPlace, Role, VideoCodec, WrapperId } from './recipe.ts';

/** A leg's plan, as data: what the planner writes, and forecast, preview, run and proof read. */

/** What is done to the picture, in this order. */
export type PictureStep =
  /** Both fields become one whole picture, at the frame rate; `double`: a picture of each, at twice that. */
  | { kind: 'deinterlace'; topFieldFirst: boolean; double?: boolean }
  /**
   * Frames dropped or repeated so that an uneven rate becomes an even one of the same duration. `frames` is absent in
   * plans from before conforms.
   */
  | { kind: 'steady'; rate: Rational; frames?: number }
  | { kind: 'resample'; from: Rational; rate: Rational; how: 'hold' | 'blend'; frames: number }
  | { kind: 'pulldown-out'; phase: number; topFieldFirst: boolean; from: Rational; frames: number }
  | { kind: 'pulldown-in'; from: Rational; frames: number }
  | { kind: 'denoise'; strength: 1 | 2 | 3 }
  /** A shaken camera's way evened out, in two passes; in 8 bits, which is what FFmpeg's filter takes. */
  | ({ kind: 'stabilise' } & Stabilising)
  /** A window of the picture as decoders give it, turned as the file asks. */
  | { kind: 'crop'; window: Window }
  | { kind: 'turn'; quarters: number; across: boolean; down: boolean }
  | { kind: 'scale'; raster: Raster; fieldwise: boolean }
  /** The part of the scaled picture that is kept. */
  | { kind: 'view'; window: Window }
  | { kind: 'pad'; raster: Raster; at: { x: number; y: number }; colour: PadColour }
  /** Full-range samples brought to legal range. */
  | { kind: 'to-legal-range' };

export interface VideoPlan {
  raster: Raster;
  /** Shape error from whole samples; see FittedRaster. */
  aspectError: number;
  pixelAspect: Rational;
  rate: Rational;
  /** Frames that the output must have. */
  frames: number;
  scan: Scan;
  colour: ColourTags;
  /** The matrix of the samples as made, where the file cannot state it. */
  samplesOut?: string;
  /** Matrix and range of the samples that come in, as far as known, for the scaler to be told. */
  samplesIn: {
    matrix: string;
    range: 'legal' | 'full';
    /** Of R'G'B', or of full range: what they are brought to legal luma and chroma from, once and first. */ from?: {
      rgb: boolean;
      bitDepth: number;
      /** Chroma lies between luma samples, as JPEG has it. */ centred?: true;
    };
  };
  steps: PictureStep[];
  /**
   * The whole way of the picture. This and what follows is absent in plans from before there were corrections of shape
   * and time.
   */
  geometry?: Geometry;
  /** Which frames of the original are shown. */
  map: FrameMap;
  /** The output's duration over the original's where frames were relabelled, else 1. */
  stretch: Rational;
  /** Seconds by which the output is longer. */
  driftSeconds: number;
  /** The original's alpha is kept. */
  alpha?: true;
}

/**
 * One sound track as it will be: a copy, channel by channel, of the original's track `from`, unless a matrix says
 * otherwise.
 */
export interface SoundTrackPlan {
  from: number;
  channels: number;
  layout: string | null;
  bitDepth: 16 | 24;
  /**
   * For each channel what is fed into it, counted over all the original's channels, and the tracks that those lie in.
   */
  mix?: Feed[][];
  sources?: number[];
  label?: string;
}

export interface SoundPlan {
  sampleRate: 48_000;
  /** Samples in every track: as long as the picture, to the sample. */
  samples: number;
  tracks: SoundTrackPlan[];
  /** PCM where absent. Bits a second are of each channel. */
  coding?: { codec: 'aac'; bitsPerSecond: number };
  /** Samples from midnight to the first, of a recorder's file that says so. */
  timeReference?: number;
  /** Sound that follows relabelled pictures: longer by this factor, its pitch kept or moving with it. */
  stretch?: { by: Rational; pitch: 'kept' | 'moves' };
}

/** What is done to an output's colour, from the samples as they come to the state that its tags then state. */
export type OutputColour =
  | { kind: 'as-shot' }
  /** The picture goes through the chain, baked. */
  | { kind: 'baked' | 'brought'; chain: Chain }
  /** The picture stays, and the chain lies beside it as a LUT at this path below the output's place. */
  | { kind: 'beside'; chain: Chain; path: string };

export interface OutputPlan {
  deliverable: string;
  role: Role;
  /** Path below its place. No two outputs of a run have the same, wherever they lie. */
  path: string;
  /** Where it lies, if not where its run goes. */
  place?: OutputPlace;
  wrapper: WrapperId;
  codec: VideoCodec;
  /** The rate that was asked for, reckoned out; absent where quality is constant or the codec has rates of its own. */
  rate?: PlannedRate;
  video: VideoPlan;
  /** Absent in plans from before there were chains: as shot. */
  colour?: OutputColour;
  /** What is drawn over the pictures; absent where nothing is. */
  burn?: BurnPlan;
  /** Whose copy this is, where each recipient gets one. */
  recipient?: string;
  sound: SoundPlan;
  timecode: StartTimecode | null;
  reel: string | null;
}

/** Everything that one clip's leg will do and make. Forecast, preview, run and proof all read this. */
export interface LegPlan {
  version: 1;
  original: ClipDescription;
  corrections: ClipCorrections;
  /** Seconds by which sound must be moved to begin with the first picture. */
  pictureStart: Rational;
  outputs: OutputPlan[];
}
