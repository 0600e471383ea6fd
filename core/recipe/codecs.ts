import type { Chroma } from '../clip/description.ts';
import type { RasterSteps } from '../shape/raster.ts';
import type { ProResProfile } from '../size/prores.ts';
import type { VideoCodec } from './recipe.ts';

/** What a codec is called, what it stores and what it asks of a picture. */
export interface CodecRow {
  name: string;
  /** The id and profile by which a file made with it is recognised when read back. */
  codecId: string;
  profile: string | null;
  bitDepth: number;
  chroma: Chroma;
  steps: RasterSteps;
  canHoldFields: boolean;
}

const proResProfiles = { proxy: 'Proxy', lt: 'LT', '422': 'Standard', hq: 'HQ', '4444': '4444', '4444xq': 'XQ' } as const;
const proResNames = { proxy: 'ProRes 422 Proxy', lt: 'ProRes 422 LT', '422': 'ProRes 422', hq: 'ProRes 422 HQ', '4444': 'ProRes 4444', '4444xq': 'ProRes 4444 XQ' } as const;

/** The table of codecs that deliverables can be made in. */
export function codecRow(codec: VideoCodec): CodecRow {
  switch (codec.id) {
    case 'prores': {
      const full = codec.profile === '4444' || codec.profile === '4444xq';
      return {
        name: proResNames[codec.profile], codecId: 'prores', profile: proResProfiles[codec.profile], bitDepth: full ? 12 : 10,
        chroma: full ? '4:4:4' : '4:2:2', steps: { widthStep: 2, heightStep: 1 }, canHoldFields: true,
      };
    }
    case 'h264':
      return {
        name: 'H.264', codecId: 'h264', profile: 'High', bitDepth: 8, chroma: '4:2:0',
        steps: { widthStep: 2, heightStep: 2 }, canHoldFields: false,
      };
  }
}

/** What a codec asks of rasters, by a name that people type: `prores`, `prores-hq`, `h264`, or only the sampling. */
export function stepsNamed(name: string): { name: string; steps: RasterSteps } | null {
  const typed = name.trim().toLowerCase().replace(/[\s_]+/g, '-');
  const prores = /^prores(?:-(?:422-)?(proxy|lt|422|hq|4444|4444-?xq))?$/.exec(typed);
  if (prores) return codecRow({ id: 'prores', profile: (prores[1] ?? '422').replace('-', '') as ProResProfile });
  if (/^(h\.?264|avc)$/.test(typed)) return codecRow({ id: 'h264', quality: 21 });
  const sampling: Readonly<Record<string, RasterSteps>> = { '4:2:0': { widthStep: 2, heightStep: 2 }, '4:2:2': { widthStep: 2, heightStep: 1 }, '4:4:4': { widthStep: 1, heightStep: 1 }, none: { widthStep: 1, heightStep: 1 } };
  const steps = sampling[typed];
  return steps ? { name: typed === 'none' ? 'a raster' : typed, steps } : null;
}
