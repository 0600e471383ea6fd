import { viewingLayout, type BurnLayout } from '../burn/layout.ts';
import type { PathPattern } from '../naming/pathPattern.ts';
import type { RasterWish } from '../shape/intoRaster.ts';
import type { ProResProfile } from '../size/prores.ts';
import type { Vc3HdGrade, Vc3Profile } from '../size/vc3.ts';
import type { RateWish } from '../size/target.ts';

export type Role = 'intermediate' | 'proxy' | 'review';

/** What H.264 and HEVC can both be asked. */
interface LongOptions {
  /** Constant quality, 0 (best) to 51, unless a rate is wanted. */
  quality: number;
  rate?: RateWish;
  /** 8 unless said. */
  bitDepth?: 8 | 10;
  /** 4:2:0 unless said. */
  chroma?: '4:2:0' | '4:2:2';
  /** Every picture whole by itself. */
  intra?: true;
  /** Time spent for the same quality in fewer bits; quick unless said. */
  effort?: 'quick' | 'balanced' | 'thorough';
  /** Film grain kept rather than smoothed, at the price of bits. */
  grain?: 'kept';
}

/** H.264 and HEVC, which share what can be asked of them. */
export type LongCodec = ({ id: 'h264' } & LongOptions) | ({ id: 'hevc' } & LongOptions);

/**
 * How the picture of a deliverable is coded. A new codec is a new member here; the compiler asks for the rest
 * (CONTRIBUTING.md).
 */
export type VideoCodec =
  /** Alpha is kept, where the original has one, only by the 4444 profiles and when asked. */
  | { id: 'prores'; profile: ProResProfile; alpha?: 'kept' }
  /** VC-3 at any raster (its HR profiles). */
  | { id: 'vc3'; profile: Vc3Profile }
  /** VC-3 at HD's own rasters and rates. */
  | { id: 'vc3hd'; grade: Vc3HdGrade }
  | { id: 'vc5'; quality: 'low' | 'medium' | 'high' | 'film' }
  | LongCodec
  /** Constant quality, 1 (best) to 63. */
  | { id: 'av1'; quality: number }
  /** Quantiser scale, 2 (best) to 31. */
  | { id: 'mjpeg'; quality: number }
  /** Without loss, of samples of this layout. */
  | { id: 'ffv1'; sampling: '4:2:0 8' | '4:2:2 8' | '4:2:2 10' | '4:4:4 10' }
  | { id: 'v210' }
  /** Every picture a file of its own, in full-range RGB. */
  | { id: 'pictures'; format: PictureFormat }
  /** No picture: sound alone. */
  | { id: 'none' };

/** A codec by its id. */
export type CodecOf<Id extends VideoCodec['id']> = Extract<VideoCodec, { id: Id }>;

export type PictureFormat = 'dpx' | 'tiff' | 'png' | 'exr';

export const wrapperIds = ['mov', 'mp4', 'mxf', 'opatom', 'mkv', 'avi', 'pictures', 'wav'] as const;
export type WrapperId = (typeof wrapperIds)[number];

/** How sound is coded. AAC's rate is for each channel. */
export type SoundCodec =
  | { codec: 'pcm'; sampleRate: 48_000; bitDepth?: 16 | 24 }
  | { codec: 'aac'; sampleRate: 48_000; bitsPerSecond?: number };

/**
 * What becomes of a clip's chain in a deliverable: nothing; a LUT delivered beside a picture left as shot; baked into
 * the picture; or the picture brought to one log and gamut for all cameras, for finishing.
 */
export type DeliverableColour =
  { kind: 'as-shot' } | { kind: 'beside' } | { kind: 'baked' } | { kind: 'brought'; state: string };

/** A folder of a store. */
export interface OutputPlace {
  /** Its id. */
  store: string;
  folder: string;
}

/** One kind of output. */
export interface Deliverable {
  name: string;
  role: Role;
  /** Folder below its place. */
  folder: string;
  /** Where its outputs go; where the run goes, if absent. */
  place?: OutputPlace;
  /** Folders and name below it; the originals' own folders and stem where absent. */
  path?: PathPattern;
  wrapper: WrapperId;
  codec: VideoCodec;
  raster: RasterWish;
  /** What becomes of interlaced pictures; progressive ones are never touched. */
  interlaced: 'keep' | 'deinterlace';
  /** As shot where a recipe does not say. */
  colour?: DeliverableColour;
  /** What is drawn over the pictures; nothing where absent. */
  burn?: BurnLayout;
  /** PCM without a depth: 16 bits where the original has no more, else 24. */
  sound: SoundCodec;
}

/** What the team gets, as data. */
export interface Recipe {
  version: 1;
  name: string;
  deliverables: Deliverable[];
}

/** The recipe that is there from the first day: one file to finish from, one to cut with. */
export const finishAndCut: Recipe = {
  version: 1,
  name: 'Finish and cut',
  deliverables: [
    {
      name: 'Intermediate',
      role: 'intermediate',
      folder: 'intermediate',
      wrapper: 'mov',
      codec: { id: 'prores', profile: 'hq' },
      raster: { kind: 'source' },
      interlaced: 'keep',
      colour: { kind: 'beside' },
      sound: { codec: 'pcm', sampleRate: 48_000 },
    },
    {
      name: 'Proxy',
      role: 'proxy',
      folder: 'proxy',
      wrapper: 'mov',
      codec: { id: 'h264', quality: 21 },
      raster: { kind: 'fit', width: 960, height: 960 },
      interlaced: 'deinterlace',
      colour: { kind: 'baked' },
      sound: { codec: 'pcm', sampleRate: 48_000 },
    },
  ],
};

/** Copies to look at, with name and timecode burnt in, that play anywhere. */
export const viewingCopies: Recipe = {
  version: 1,
  name: 'Viewing copies',
  deliverables: [
    {
      name: 'Review',
      role: 'review',
      folder: 'review',
      wrapper: 'mp4',
      codec: { id: 'h264', quality: 20 },
      raster: { kind: 'fit', width: 1280, height: 1280 },
      interlaced: 'deinterlace',
      colour: { kind: 'baked' },
      burn: viewingLayout,
      sound: { codec: 'aac', sampleRate: 48_000, bitsPerSecond: 128_000 },
    },
  ],
};

/** Light files for an editor elsewhere, on a laptop. */
export const laptopCut: Recipe = {
  version: 1,
  name: 'Cut on a laptop',
  deliverables: [
    {
      name: 'Laptop proxy',
      role: 'proxy',
      folder: 'laptop',
      wrapper: 'mov',
      codec: { id: 'h264', quality: 25 },
      raster: { kind: 'fit', width: 1280, height: 1280 },
      interlaced: 'deinterlace',
      colour: { kind: 'baked' },
      sound: { codec: 'aac', sampleRate: 48_000, bitsPerSecond: 96_000 },
    },
  ],
};

/** What a play-out machine takes: HD filled up around, 16-bit sound, alpha where the original has it. */
export const playOut: Recipe = {
  version: 1,
  name: 'Play-out delivery',
  deliverables: [
    {
      name: 'Play-out',
      role: 'intermediate',
      folder: 'play-out',
      wrapper: 'mov',
      codec: { id: 'prores', profile: '4444', alpha: 'kept' },
      raster: { kind: 'pad', width: 1920, height: 1080, enlarge: true },
      interlaced: 'deinterlace',
      colour: { kind: 'baked' },
      sound: { codec: 'pcm', sampleRate: 48_000, bitDepth: 16 },
    },
  ],
};

/** Without loss, each picture with a checksum. */
export const archive: Recipe = {
  version: 1,
  name: 'Archive',
  deliverables: [
    {
      name: 'Archive',
      role: 'intermediate',
      folder: 'archive',
      wrapper: 'mkv',
      codec: { id: 'ffv1', sampling: '4:2:2 10' },
      raster: { kind: 'source' },
      interlaced: 'deinterlace',
      colour: { kind: 'as-shot' },
      sound: { codec: 'pcm', sampleRate: 48_000 },
    },
  ],
};

/** Recipes that are there from the first day, with what they are for. */
export const starterRecipes: readonly { group: string; note: string; definition: Recipe }[] = [
  { group: 'Edit', note: 'One file to finish from, one to cut with.', definition: finishAndCut },
  { group: 'Edit', note: 'For an editor in another town: light to send, light to decode.', definition: laptopCut },
  { group: 'Review', note: 'To look at anywhere, with name and timecode burnt in.', definition: viewingCopies },
  {
    group: 'Delivery',
    note: 'HD, square pixels, 16-bit sound. Conform the clips to the rate that the machine plays.',
    definition: playOut,
  },
  { group: 'Delivery', note: 'Nothing lost; several times the size of an intermediate.', definition: archive },
];
