import type { Chroma } from '@relay/core/clip/description';

export interface SampleLayout {
  chroma: Chroma;
  bitDepth: number;
  alpha: boolean;
}

/** Packed and two-plane formats whose names do not spell out their layout. */
const packed: Readonly<Record<string, Chroma>> = {
  nv12: '4:2:0',
  nv21: '4:2:0',
  nv16: '4:2:2',
  nv24: '4:4:4',
  yuyv422: '4:2:2',
  uyvy422: '4:2:2',
  yvyu422: '4:2:2',
  pal8: 'rgb',
};

/** Chroma sampling, bits a sample and alpha of one of FFmpeg's pixel formats. */
export function sampleLayout(pixelFormat: string): SampleLayout {
  const name = pixelFormat.replace(/(le|be)$/, '');
  const twoPlane = /^p([024])(\d{2})$/.exec(name);
  if (twoPlane) {
    const chroma = { '0': '4:2:0', '2': '4:2:2', '4': '4:4:4' } as const;
    return { chroma: chroma[twoPlane[1] as '0' | '2' | '4'], bitDepth: Number(twoPlane[2]), alpha: false };
  }
  const known = packed[name];
  if (known) return { chroma: known, bitDepth: 8, alpha: false };
  const yuv = /^yuv(a?)j?(4\d\d)p(\d*)$/.exec(name.replace('yuvj', 'yuv'));
  if (yuv) {
    const digits = yuv[2] ?? '420';
    return {
      chroma: `${digits[0]}:${digits[1]}:${digits[2]}` as Chroma,
      bitDepth: Number(yuv[3] || 8),
      alpha: yuv[1] === 'a',
    };
  }
  const gray = /^(?:gray|ya)(\d*)/.exec(name);
  if (gray) return { chroma: '4:0:0', bitDepth: Number(gray[1] || 8), alpha: name.startsWith('ya') };
  const planar = /^gbr(a?)p(\d*)$/.exec(name);
  if (planar) return { chroma: 'rgb', bitDepth: Number(planar[2] || 8), alpha: planar[1] === 'a' };
  const floating = /^gbr(a?)pf(32)$/.exec(name);
  if (floating) return { chroma: 'rgb', bitDepth: 32, alpha: floating[1] === 'a' };
  const deep = /^(?:rgb|bgr)(a?)(48|64)$/.exec(name);
  if (deep) return { chroma: 'rgb', bitDepth: 16, alpha: deep[2] === '64' };
  return { chroma: 'rgb', bitDepth: 8, alpha: /^(rgba|bgra|argb|abgr)$/.test(name) };
}
