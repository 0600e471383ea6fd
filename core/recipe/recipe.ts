import { viewingLayout, type BurnLayout } from '../burn/layout.ts';
import type { RasterWish } from '../shape/geometry.ts';
import type { ProResProfile } from '../size/prores.ts';

export type Role = 'intermediate' | 'proxy' | 'review';

/** How the picture of a deliverable is coded. A new codec is a new member here, a row in `codecs.ts` and a builder in media. */
export type VideoCodec =
  | { id: 'prores'; profile: ProResProfile }
  /** Constant quality: x264's rate factor, 0 (best) to 51. */
  | { id: 'h264'; quality: number };

/**
 * What becomes of a clip's chain in a deliverable: nothing; a LUT delivered beside a picture left as shot; baked into the
 * picture; or the picture brought to one log and gamut for all cameras, for finishing.
 */
export type DeliverableColour = { kind: 'as-shot' } | { kind: 'beside' } | { kind: 'baked' } | { kind: 'brought'; state: string };

/** One kind of output. */
export interface Deliverable {
  name: string;
  role: Role;
  /** Folder below the place chosen for the run; the originals' own folders are mirrored below it. */
  folder: string;
  wrapper: 'mov';
  codec: VideoCodec;
  raster: RasterWish;
  /** What becomes of interlaced pictures; progressive ones are never touched. */
  interlaced: 'keep' | 'deinterlace';
  /** As shot where a recipe does not say. */
  colour?: DeliverableColour;
  /** What is drawn over the pictures; nothing where absent. */
  burn?: BurnLayout;
  /** Without a depth: 16 bits where the original has no more, else 24. */
  sound: { codec: 'pcm'; sampleRate: 48_000; bitDepth?: 16 | 24 };
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
      name: 'Intermediate', role: 'intermediate', folder: 'intermediate', wrapper: 'mov',
      codec: { id: 'prores', profile: 'hq' }, raster: { kind: 'source' }, interlaced: 'keep', colour: { kind: 'beside' },
      sound: { codec: 'pcm', sampleRate: 48_000 },
    },
    {
      name: 'Proxy', role: 'proxy', folder: 'proxy', wrapper: 'mov',
      codec: { id: 'h264', quality: 21 }, raster: { kind: 'fit', width: 960, height: 960 }, interlaced: 'deinterlace', colour: { kind: 'baked' },
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
      name: 'Review', role: 'review', folder: 'review', wrapper: 'mov',
      codec: { id: 'h264', quality: 20 }, raster: { kind: 'fit', width: 1280, height: 1280 }, interlaced: 'deinterlace', colour: { kind: 'baked' },
      burn: viewingLayout, sound: { codec: 'pcm', sampleRate: 48_000 },
    },
  ],
};

/** Recipes that are there from the first day. */
export const starterRecipes: readonly Recipe[] = [finishAndCut, viewingCopies];
