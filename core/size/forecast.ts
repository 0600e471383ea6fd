import { codecRow } from '../recipe/codecs.ts';
import type { LegPlan, OutputPlan } from '../recipe/plan.ts';
import { soundBytes } from '../recipe/rate.ts';
import type { VideoCodec } from '../recipe/recipe.ts';
import { toNumber } from '../time/rational.ts';
import { proResTargetBitsPerSecond } from './prores.ts';
import { wrapperBytes } from './target.ts';
import { vc3FrameBytes, vc3Hd } from './vc3.ts';

/**
 * Bits that one shown pixel of an H.264 proxy is reckoned to take at most. The busiest of the demo's proxies takes
 * 0.093 (measured); noisier material takes several times as much, so there is a wide margin, chosen and not measured.
 * A later forecast samples the material instead.
 */
const h264BitsPerPixelAtMost = 0.5;

/** Bytes of every frame where a codec's frames are all of one size; null for the others. */
export function exactFrameBytes({ codec, video }: OutputPlan): number | null {
  switch (codec.id) {
    case 'vc3': return vc3FrameBytes(codec.profile, video.raster);
    case 'vc3hd': {
      const hd = vc3Hd(codec.grade, video.raster, video.rate, video.scan !== 'progressive');
      return hd.ok ? hd.value.frameBytes : null;
    }
    // Six pixels in sixteen bytes, lines filled up to 128 bytes.
    case 'v210': return Math.ceil(video.raster.width / 48) * 128 * video.raster.height;
    // Three samples of ten bits in four bytes behind a head of 2048 (SMPTE ST 268); three samples of two bytes behind TIFF's tables, which take less than 4096 (measured: 282 at 96×64).
    case 'pictures': return codec.format === 'dpx' ? video.raster.width * video.raster.height * 4 + 2048 : codec.format === 'tiff' ? video.raster.width * video.raster.height * 6 + 2048 : null;
    case 'none': return 0;
    default: return null;
  }
}

/** Bits that a shown pixel takes at most, by codec; wide margins, chosen and not measured, but for FFV1, which cannot pass its samples by more than a tenth. */
function bitsPerPixelAtMost(codec: VideoCodec): number {
  switch (codec.id) {
    case 'h264': case 'hevc': return h264BitsPerPixelAtMost * (codec.intra ? 4 : 1) * (codec.chroma === '4:2:2' ? 1.5 : 1) * (codec.quality < 18 ? 2 ** ((18 - codec.quality) / 6) : 1);
    case 'av1': return h264BitsPerPixelAtMost;
    case 'mjpeg': return 8;
    case 'vc5': return { low: 4, medium: 5, high: 7, film: 10 }[codec.quality];
    case 'ffv1': {
      const row = codecRow(codec);
      return row.bitDepth * (row.chroma === '4:4:4' ? 3 : row.chroma === '4:2:2' ? 2 : 1.5) * 1.1;
    }
    // Three samples of 16 bits, which may not pack at all.
    case 'pictures': return 50;
    case 'none': return 0;
    case 'prores': case 'vc3': case 'vc3hd': case 'v210': return 24;
  }
}

/** What a wrapper takes for itself. MXF fills each picture, and the sound of each, up to a grid of 512 bytes. */
export function besideBytes({ wrapper, video, sound }: OutputPlan, seconds: number): number {
  if (wrapper === 'wav' || wrapper === 'pictures') return 4_096;
  if (wrapper === 'opatom') return (video.frames + 8_192) * (sound.tracks.length + 1) * 64;
  return wrapper === 'mxf' ? video.frames * (sound.tracks.length + 1) * 1_024 : wrapperBytes({ seconds, frames: video.frames, soundTracks: sound.tracks.length });
}

/** The most that an output will take, in bytes: what must be free before it starts. */
export function outputBytesAtMost(output: OutputPlan): number {
  const seconds = output.video.frames / toNumber(output.video.rate);
  const pixels = output.video.raster.width * output.video.raster.height;
  const exact = exactFrameBytes(output);
  const videoBits = exact !== null
    ? exact * 8 * output.video.frames
    : output.rate ? output.rate.bitsPerSecond * seconds * 1.2
    : output.codec.id === 'prores'
    ? proResTargetBitsPerSecond(output.codec.profile, output.video.raster, output.video.rate) * seconds * 1.1
    : pixels * output.video.frames * bitsPerPixelAtMost(output.codec);
  return Math.ceil(videoBits / 8 + soundBytes(output.sound) + 64_000 + besideBytes(output, seconds));
}

export function legBytesAtMost(plan: LegPlan): number {
  return plan.outputs.reduce((sum, output) => sum + outputBytesAtMost(output), 0);
}
