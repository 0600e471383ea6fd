import type { Chroma } from '../clip/description.ts';
import type { RasterSteps } from '../shape/raster.ts';
import type { ProResProfile } from '../size/prores.ts';
import { hdNames, proResGood, proResNames, proResProfiles, vc3Good, vc3Names } from './codecNames.ts';
import type { CodecOf, LongCodec, PictureFormat, VideoCodec } from './recipe.ts';

/** What a codec is called, what it stores and what it asks of a picture. */
export interface CodecRow {
  name: string;
  /** The id and profiles by which a file made with it is recognised when read back; no profile is any. */
  codecId: string;
  profiles: readonly string[];
  /** As read back; the encoder is given `encodedDepth` where its own samples are fewer. */
  bitDepth: number;
  encodedDepth?: number;
  chroma: Chroma;
  /** JPEG's samples are of full range, with the matrix of BT.601 (JFIF); all others are made legal. */
  jpegSamples?: true;
  /** FFmpeg's pixel format, where the samples are not Y'CbCr of `chroma` and `bitDepth`. */
  pixelFormat?: string;
  steps: RasterSteps;
  canHoldFields: boolean;
  intra: boolean;
  good: string;
}

/** Image files: what each is read back as, and what it is given. */
const pictureFormats: Readonly<Record<PictureFormat, Pick<CodecRow, 'name' | 'bitDepth' | 'pixelFormat' | 'good'>>> = {
  dpx: {
    name: 'DPX',
    bitDepth: 10,
    pixelFormat: 'gbrp10le',
    good: 'for finishing and effects; its header names no curve, the relink sheet does',
  },
  tiff: {
    name: 'TIFF',
    bitDepth: 16,
    pixelFormat: 'rgb48le',
    good: 'for effects and stills; uncompressed, the largest',
  },
  png: { name: 'PNG', bitDepth: 16, pixelFormat: 'rgb48be', good: 'for graphics; without loss, slow to make' },
  exr: {
    name: 'OpenEXR',
    bitDepth: 32,
    pixelFormat: 'gbrpf32le',
    good: 'for effects; 16-bit floats of the same curve as the picture, so bring it to a linear state first where light is wanted',
  },
};

const even: RasterSteps = { widthStep: 2, heightStep: 2 };
const evenColumns: RasterSteps = { widthStep: 2, heightStep: 1 };
const any: RasterSteps = { widthStep: 1, heightStep: 1 };

function longRow(codec: LongCodec): CodecRow {
  const [bitDepth, chroma, intra] = [codec.bitDepth ?? 8, codec.chroma ?? '4:2:0', codec.intra === true];
  const avc =
    chroma === '4:2:2' ? ['High 4:2:2', 'High 4:2:2 Intra'] : bitDepth === 10 ? ['High 10', 'High 10 Intra'] : ['High'];
  const hevc =
    chroma === '4:2:2' ? ['Rext'] : bitDepth === 10 ? ['Main 10', 'Rext'] : ['Main', 'Main Still Picture', 'Rext'];
  return {
    name: codec.id === 'h264' ? 'H.264' : 'HEVC',
    codecId: codec.id,
    profiles: codec.id === 'h264' ? avc : hevc,
    bitDepth,
    chroma,
    steps: chroma === '4:2:2' ? evenColumns : even,
    canHoldFields: false,
    intra,
    good: intra
      ? 'light; every picture whole by itself'
      : codec.id === 'h264'
        ? 'plays nearly everywhere; heavier to cut'
        : 'half the bits of H.264 for the same look; heavy to decode',
  };
}

function proResRow({ profile }: CodecOf<'prores'>): CodecRow {
  const full = profile === '4444' || profile === '4444xq';
  return {
    name: proResNames[profile],
    codecId: 'prores',
    profiles: [proResProfiles[profile]],
    bitDepth: full ? 12 : 10,
    encodedDepth: 10,
    chroma: full ? '4:4:4' : '4:2:2',
    steps: full ? any : evenColumns,
    canHoldFields: true,
    intra: true,
    good: proResGood[profile],
  };
}

function vc3Row({ profile }: CodecOf<'vc3'>): CodecRow {
  const ten = profile === 'hqx' || profile === '444';
  return {
    name: vc3Names[profile],
    codecId: 'dnxhd',
    profiles: [`DNXHR ${profile.toUpperCase()}`],
    bitDepth: ten ? 10 : 8,
    chroma: profile === '444' ? '4:4:4' : '4:2:2',
    steps: evenColumns,
    canHoldFields: false,
    intra: true,
    good: vc3Good[profile],
  };
}

function ffv1Row({ sampling }: CodecOf<'ffv1'>): CodecRow {
  const [chroma, depth] = sampling.split(' ') as [Chroma, string];
  return {
    name: 'FFV1',
    codecId: 'ffv1',
    profiles: [],
    bitDepth: Number(depth),
    chroma,
    steps: chroma === '4:2:0' ? even : chroma === '4:2:2' ? evenColumns : any,
    canHoldFields: false,
    intra: true,
    good: 'for archives: nothing is lost, each picture with a checksum',
  };
}

/**
 * Every codec that deliverables can be made in, and what a choice of it is. Its encoder stands in
 * media/leg/encoders.ts, its schema in contract/recipe.ts: a codec that is missing in one of them does not compile.
 */
const codecRows: { readonly [Id in VideoCodec['id']]: (codec: CodecOf<Id>) => CodecRow } = {
  prores: proResRow,
  vc3: vc3Row,
  vc3hd: ({ grade }) => ({
    name: hdNames[grade],
    codecId: 'dnxhd',
    profiles: ['DNXHD'],
    bitDepth: grade === 'high-10' ? 10 : 8,
    chroma: '4:2:2',
    steps: evenColumns,
    canHoldFields: true,
    intra: true,
    good: 'for systems that take HD at its own rates',
  }),
  vc5: () => ({
    name: 'VC-5',
    codecId: 'cfhd',
    profiles: [],
    bitDepth: 10,
    chroma: '4:2:2',
    steps: { widthStep: 16, heightStep: 8 },
    canHoldFields: false,
    intra: true,
    good: 'for finishing; wavelets, gentle where they lose',
  }),
  h264: longRow,
  hevc: longRow,
  av1: () => ({
    name: 'AV1',
    codecId: 'av1',
    profiles: ['Main'],
    bitDepth: 10,
    chroma: '4:2:0',
    steps: even,
    canHoldFields: false,
    intra: false,
    good: 'the fewest bits; slow to make, new players only',
  }),
  mjpeg: () => ({
    name: 'Motion JPEG',
    codecId: 'mjpeg',
    profiles: [],
    bitDepth: 8,
    chroma: '4:2:2',
    jpegSamples: true,
    steps: evenColumns,
    canHoldFields: false,
    intra: true,
    good: 'for old machines and instruments',
  }),
  ffv1: ffv1Row,
  v210: () => ({
    name: 'Uncompressed v210',
    codecId: 'v210',
    profiles: [],
    bitDepth: 10,
    chroma: '4:2:2',
    steps: evenColumns,
    canHoldFields: false,
    intra: true,
    good: 'for capture and play-out hardware; the largest',
  }),
  pictures: ({ format }) => ({
    codecId: format,
    profiles: [],
    chroma: 'rgb',
    steps: any,
    canHoldFields: false,
    intra: true,
    ...pictureFormats[format],
  }),
  none: () => ({
    name: 'Sound alone',
    codecId: 'none',
    profiles: [],
    bitDepth: 8,
    chroma: '4:2:0',
    steps: any,
    canHoldFields: false,
    intra: true,
    good: "for sound editing; each clip's sound as one file, at the picture's length",
  }),
};

/** What a codec stores and asks, with what is chosen of it. */
export function codecRow(codec: VideoCodec): CodecRow {
  // Which of them it is goes with its id, which the compiler does not follow through the table.
  return (codecRows[codec.id] as (one: VideoCodec) => CodecRow)(codec);
}

/** Ids of all codecs, as workers are told which they take. */
export const videoCodecIds = Object.keys(codecRows) as VideoCodec['id'][];

/** A codec among the others, before its grade is chosen. */
export interface CodecFamily<Codec extends VideoCodec = VideoCodec> {
  name: string;
  /** Under what heading it is offered, and as what it begins there. */
  group: string;
  offered: readonly Codec[];
  /**
   * Bits of a shown pixel where nothing else is known: the likely ones, chosen and not measured, with a wide range
   * around (a site's own outputs soon correct them), and the most, a wide margin.
   */
  bits: (codec: Codec) => { likely: number; most: number };
}

/** The busiest of the demo's H.264 proxies takes 0.093 bits of a pixel (measured); noise takes several times as much. */
const longMost = 0.5;

/** H.264 and HEVC: six steps of quality halve the size. */
const longBits =
  (likely: number) =>
  (codec: LongCodec): { likely: number; most: number } => ({
    likely: likely * 2 ** ((21 - codec.quality) / 6) * (codec.intra ? 4 : 1) * (codec.chroma === '4:2:2' ? 1.2 : 1),
    most:
      longMost *
      (codec.intra ? 4 : 1) *
      (codec.chroma === '4:2:2' ? 1.5 : 1) *
      (codec.quality < 18 ? 2 ** ((18 - codec.quality) / 6) : 1),
  });

const intraByRates = 'Intra, by published rates';
const byQuality = 'By quality, rate or size';
/** By published rates or by frames of one size: these count only where neither is known. */
const known = (): { likely: number; most: number } => ({ likely: 4, most: 24 });

/** The table of families, in the order that they are offered in. */
export const codecFamilies: { readonly [Id in VideoCodec['id']]: CodecFamily<CodecOf<Id>> } = {
  prores: {
    name: 'ProRes',
    group: intraByRates,
    offered: (['proxy', 'lt', '422', 'hq', '4444', '4444xq'] as const).map((profile) => ({ id: 'prores', profile })),
    bits: known,
  },
  vc3: {
    name: 'VC-3 HR',
    group: intraByRates,
    offered: (['lb', 'sq', 'hq', 'hqx', '444'] as const).map((profile) => ({ id: 'vc3', profile })),
    bits: known,
  },
  vc3hd: {
    name: 'VC-3 HD',
    group: 'HD at its own rates',
    offered: (['low', 'standard', 'high', 'high-10'] as const).map((grade) => ({ id: 'vc3hd', grade })),
    bits: known,
  },
  h264: { name: 'H.264', group: byQuality, offered: [{ id: 'h264', quality: 21 } as const], bits: longBits(0.12) },
  hevc: { name: 'HEVC', group: byQuality, offered: [{ id: 'hevc', quality: 24 } as const], bits: longBits(0.08) },
  av1: {
    name: 'AV1',
    group: byQuality,
    offered: [{ id: 'av1', quality: 30 }],
    bits: ({ quality }) => ({ likely: 0.06 * 2 ** ((30 - quality) / 10), most: longMost }),
  },
  pictures: {
    name: 'image sequences',
    group: 'A file for each picture',
    offered: (['dpx', 'tiff', 'png', 'exr'] as const).map((format) => ({ id: 'pictures', format })),
    // Three samples of 16 bits, which may not pack at all.
    bits: () => ({ likely: 24, most: 50 }),
  },
  none: { name: 'sound alone', group: 'No picture', offered: [{ id: 'none' }], bits: () => ({ likely: 0, most: 0 }) },
  vc5: {
    name: 'VC-5',
    group: 'Others',
    offered: [{ id: 'vc5', quality: 'film' }],
    bits: ({ quality }) => ({
      likely: { low: 1.5, medium: 2, high: 3, film: 4 }[quality],
      most: { low: 4, medium: 5, high: 7, film: 10 }[quality],
    }),
  },
  mjpeg: {
    name: 'Motion JPEG',
    group: 'Others',
    offered: [{ id: 'mjpeg', quality: 3 }],
    bits: ({ quality }) => ({ likely: 6 / Math.max(2, quality), most: 8 }),
  },
  ffv1: {
    name: 'FFV1',
    group: 'Others',
    offered: [{ id: 'ffv1', sampling: '4:2:2 10' }],
    // It cannot pass its samples by more than a tenth.
    bits: (codec) => {
      const { bitDepth, chroma } = ffv1Row(codec);
      const planes = chroma === '4:4:4' ? 3 : chroma === '4:2:2' ? 2 : 1.5;
      return { likely: bitDepth * 1.1, most: bitDepth * planes * 1.1 };
    },
  },
  v210: { name: 'Uncompressed v210', group: 'Others', offered: [{ id: 'v210' }], bits: known },
};

/** Bits of a shown pixel of a codec with what is chosen of it. */
export function bitsPerPixel(codec: VideoCodec): { likely: number; most: number } {
  return (codecFamilies[codec.id] as CodecFamily).bits(codec);
}

/** Whether a deliverable has pictures at all. */
export function hasPicture({ codec }: { codec: VideoCodec }): boolean {
  return codec.id !== 'none';
}

/** What a codec asks of rasters, by a name that people type: `prores`, `prores-hq`, `h264`, or only the sampling. */
export function stepsNamed(name: string): { name: string; steps: RasterSteps } | null {
  const typed = name
    .trim()
    .toLowerCase()
    .replace(/[\s_]+/g, '-');
  const prores = /^prores(?:-(?:422-)?(proxy|lt|422|hq|4444|4444-?xq))?$/.exec(typed);
  if (prores) return codecRow({ id: 'prores', profile: (prores[1] ?? '422').replace('-', '') as ProResProfile });
  if (/^(h\.?264|avc)$/.test(typed)) return codecRow({ id: 'h264', quality: 21 });
  if (/^(h\.?265|hevc)$/.test(typed)) return codecRow({ id: 'hevc', quality: 24 });
  if (/^vc-?3$/.test(typed)) return codecRow({ id: 'vc3', profile: 'hqx' });
  if (/^vc-?5$/.test(typed)) return codecRow({ id: 'vc5', quality: 'film' });
  if (typed === 'av1') return codecRow({ id: 'av1', quality: 30 });
  const sampling: Readonly<Record<string, RasterSteps>> = {
    '4:2:0': even,
    '4:2:2': evenColumns,
    '4:4:4': any,
    none: any,
  };
  const steps = sampling[typed];
  return steps ? { name: typed === 'none' ? 'a raster' : typed, steps } : null;
}
