import { describe, expect, it } from 'vitest';
import { bitsPerPixel, codecFamilies, codecRow, hasPicture, stepsNamed, videoCodecIds } from './codecs.ts';
import type { VideoCodec } from './recipe.ts';
import { wrapperIds } from './recipe.ts';
import { wrappers } from './wrappers.ts';

const long = { bitDepth: 10, chroma: '4:2:2', quality: 21 } as const;

describe('codecs', () => {
  /** Depths and samplings as the published formats have them: RDD 36, ST 2019-1, ST 2073, H.264, HEVC, JFIF. */
  it.each<[VideoCodec, string, number, string, boolean, boolean]>([
    [{ id: 'prores', profile: 'proxy' }, 'prores', 10, '4:2:2', true, true],
    [{ id: 'prores', profile: 'hq' }, 'prores', 10, '4:2:2', true, true],
    [{ id: 'prores', profile: '4444' }, 'prores', 12, '4:4:4', true, true],
    [{ id: 'prores', profile: '4444xq' }, 'prores', 12, '4:4:4', true, true],
    [{ id: 'vc3', profile: 'lb' }, 'dnxhd', 8, '4:2:2', false, true],
    [{ id: 'vc3', profile: 'hqx' }, 'dnxhd', 10, '4:2:2', false, true],
    [{ id: 'vc3', profile: '444' }, 'dnxhd', 10, '4:4:4', false, true],
    [{ id: 'vc3hd', grade: 'high' }, 'dnxhd', 8, '4:2:2', true, true],
    [{ id: 'vc3hd', grade: 'high-10' }, 'dnxhd', 10, '4:2:2', true, true],
    [{ id: 'vc5', quality: 'film' }, 'cfhd', 10, '4:2:2', false, true],
    [{ id: 'h264', quality: 21 }, 'h264', 8, '4:2:0', false, false],
    [{ id: 'h264', ...long, intra: true }, 'h264', 10, '4:2:2', false, true],
    [{ id: 'hevc', ...long }, 'hevc', 10, '4:2:2', false, false],
    [{ id: 'av1', quality: 30 }, 'av1', 10, '4:2:0', false, false],
    [{ id: 'mjpeg', quality: 3 }, 'mjpeg', 8, '4:2:2', false, true],
    [{ id: 'ffv1', sampling: '4:2:0 8' }, 'ffv1', 8, '4:2:0', false, true],
    [{ id: 'ffv1', sampling: '4:4:4 10' }, 'ffv1', 10, '4:4:4', false, true],
    [{ id: 'v210' }, 'v210', 10, '4:2:2', false, true],
    [{ id: 'pictures', format: 'dpx' }, 'dpx', 10, 'rgb', false, true],
    [{ id: 'pictures', format: 'exr' }, 'exr', 32, 'rgb', false, true],
    [{ id: 'pictures', format: 'tiff' }, 'tiff', 16, 'rgb', false, true],
  ])('%o is read back as %s of %i bits, %s; fields %s, intra %s', (codec, codecId, bitDepth, chroma, fields, intra) => {
    expect(codecRow(codec)).toMatchObject({ codecId, bitDepth, chroma, canHoldFields: fields, intra });
  });

  it('hold full range and the matrix of BT.601 where JFIF (ITU-T T.871) says so: in Motion JPEG alone', () => {
    const offered = videoCodecIds.flatMap((id): readonly VideoCodec[] => codecFamilies[id].offered);
    expect(offered.filter((codec) => codecRow(codec).jpegSamples).map(({ id }) => id)).toEqual(['mjpeg']);
  });

  it('ask for rasters that their chroma divides, and VC-5 for its own blocks', () => {
    const steps = (codec: VideoCodec): unknown => codecRow(codec).steps;
    expect(steps({ id: 'h264', quality: 21 })).toEqual({ widthStep: 2, heightStep: 2 });
    expect(steps({ id: 'h264', ...long })).toEqual({ widthStep: 2, heightStep: 1 });
    expect(steps({ id: 'vc5', quality: 'film' })).toEqual({ widthStep: 16, heightStep: 8 });
    expect(steps({ id: 'pictures', format: 'dpx' })).toEqual({ widthStep: 1, heightStep: 1 });
  });

  it('are offered each in its family, weigh something, and have a wrapper to lie in', () => {
    for (const id of videoCodecIds) {
      const { offered, name, group } = codecFamilies[id];
      expect([id, offered.length > 0, name.length > 0, group.length > 0]).toEqual([id, true, true, true]);
      for (const codec of offered) {
        const { likely, most } = bitsPerPixel(codec);
        expect([id, codec.id, hasPicture({ codec }) ? most > likely : most === 0]).toEqual([id, id, true]);
      }
      expect([id, wrapperIds.some((wrapper) => wrappers[wrapper].codecs.includes(id))]).toEqual([id, true]);
    }
  });

  it('are known by names that people type', () => {
    const named = (name: string): string | null => stepsNamed(name)?.name ?? null;
    expect(
      [
        'prores',
        'ProRes HQ',
        'prores-422-proxy',
        'prores 4444 XQ',
        'h.264',
        'AVC',
        'h265',
        'HEVC',
        'vc-3',
        'VC5',
        'av1',
      ].map(named),
    ).toEqual([
      'ProRes 422',
      'ProRes 422 HQ',
      'ProRes 422 Proxy',
      'ProRes 4444 XQ',
      'H.264',
      'H.264',
      'HEVC',
      'HEVC',
      'VC-3 HR HQX',
      'VC-5',
      'AV1',
    ]);
    expect(['4:2:0', '4:2:2', '4:4:4', 'none', 'prores 999', 'vc-4'].map(named)).toEqual([
      '4:2:0',
      '4:2:2',
      '4:4:4',
      'a raster',
      null,
      null,
    ]);
  });
});
