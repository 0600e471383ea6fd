import { bitsPerPixel } from '../recipe/codecs.ts';
import type { LegPlan, OutputPlan } from '../recipe/legPlan.ts';
import { soundBytes } from '../recipe/rate.ts';
import { toNumber } from '../time/rational.ts';
import { proResTargetBitsPerSecond } from './prores.ts';
import { wrapperBytes } from './target.ts';
import { vc3FrameBytes, vc3Hd } from './vc3.ts';

/** Bytes of the head of a DPX file as FFmpeg 5.1 writes it (seen by trying). */
const dpxHead = 1_664;

/**
 * A TIFF file of 16 bits as FFmpeg 5.1 writes it: strips of 8192 bytes or one line, whose places and lengths stand in
 * tables of four bytes each.
 */
function tiffBytes({ width, height }: { width: number; height: number }): number {
  const rows = Math.max(1, Math.floor(8_192 / (width * 6)));
  return width * height * 6 + 218 + 8 * Math.ceil(height / rows);
}

/**
 * What a Broadcast Wave file of ours has beside its samples (seen by trying): RIFF's and bext's chunks (EBU Tech 3285),
 * of fixed length.
 */
const waveHead = 748;

/** An output's bytes where every one of them is known beforehand; null for the others. */
export function exactBytes(output: OutputPlan): number | null {
  const { wrapper, video, sound } = output;
  if (wrapper !== 'wav' && wrapper !== 'pictures') return null;
  const frame = exactFrameBytes(output);
  return frame === null ? null : frame * video.frames + (sound.tracks.length > 0 ? soundBytes(sound) + waveHead : 0);
}

/**
 * What a wrapper takes beside pictures and sound that are known to the byte: fitted to FFmpeg 5.1's files of 25 to 125
 * frames and up to four tracks, which lie well inside.
 */
export function besideRange({ wrapper, video: { frames }, sound: { tracks } }: OutputPlan): {
  least: number;
  likely: number;
  most: number;
} {
  const count = tracks.length;
  switch (wrapper) {
    case 'mxf':
      return {
        least: frames * 500,
        likely: frames * (900 + 250 * count) + 8_000,
        most: frames * (1_100 + 600 * count) + 20_000,
      };
    case 'opatom':
      return { least: 5_500 * (count + 1), likely: 7_200 * (count + 1), most: (9_000 + 24 * frames) * (count + 1) };
    case 'avi':
      return {
        least: 5_000,
        likely: 5_600 + frames * 24 + count * (frames * 30 + 5_600),
        most: 20_000 + frames * 100 * (count + 1),
      };
    default:
      return {
        least: 800,
        likely: 1_100 + frames * 8 + count * (600 + frames * 8),
        most: 8_000 + (frames * 40 + 2_000) * (count + 1),
      };
  }
}

/** Bytes of every frame where a codec's frames are all of one size; null for the others. */
export function exactFrameBytes({ codec, video }: OutputPlan): number | null {
  switch (codec.id) {
    case 'vc3':
      return vc3FrameBytes(codec.profile, video.raster);
    case 'vc3hd': {
      const hd = vc3Hd(codec.grade, video.raster, video.rate, video.scan !== 'progressive');
      return hd.ok ? hd.value.frameBytes : null;
    }
    // Six pixels in sixteen bytes, lines filled up to 128 bytes.
    case 'v210':
      return Math.ceil(video.raster.width / 48) * 128 * video.raster.height;
    // Three samples of ten bits in four bytes (SMPTE ST 268) behind the head that FFmpeg writes; three samples of two
    // bytes, with TIFF's tables.
    case 'pictures':
      return codec.format === 'dpx'
        ? video.raster.width * video.raster.height * 4 + dpxHead
        : codec.format === 'tiff'
          ? tiffBytes(video.raster)
          : null;
    case 'none':
      return 0;
    default:
      return null;
  }
}

/** What a wrapper takes for itself. MXF fills each picture, and the sound of each, up to a grid of 512 bytes. */
export function besideBytes({ wrapper, video, sound }: OutputPlan, seconds: number): number {
  if (wrapper === 'wav' || wrapper === 'pictures') return 4_096;
  if (wrapper === 'opatom') return (video.frames + 8_192) * (sound.tracks.length + 1) * 64;
  return wrapper === 'mxf'
    ? video.frames * (sound.tracks.length + 1) * 1_024
    : wrapperBytes({ seconds, frames: video.frames, soundTracks: sound.tracks.length });
}

/** The most that an output will take, in bytes: what must be free before it starts. */
export function outputBytesAtMost(output: OutputPlan): number {
  const seconds = output.video.frames / toNumber(output.video.rate);
  const pixels = output.video.raster.width * output.video.raster.height;
  const exact = exactFrameBytes(output);
  const videoBits =
    exact !== null
      ? exact * 8 * output.video.frames
      : output.rate
        ? output.rate.bitsPerSecond * seconds * 1.2
        : output.codec.id === 'prores'
          ? proResTargetBitsPerSecond(output.codec.profile, output.video.raster, output.video.rate) * seconds * 1.1
          : pixels * output.video.frames * bitsPerPixel(output.codec).most;
  return Math.ceil(videoBits / 8 + soundBytes(output.sound) + 64_000 + besideBytes(output, seconds));
}

export function legBytesAtMost(plan: LegPlan): number {
  return plan.outputs.reduce((sum, output) => sum + outputBytesAtMost(output), 0);
}
