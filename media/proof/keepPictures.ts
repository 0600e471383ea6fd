import { readFile } from 'node:fs/promises';
import type { Planes, Small, Smalls } from '@relay/core/proof/smalls';
import { smallOf, type Reading } from '@relay/core/proof/reading';
import type { Raster } from '@relay/core/shape/raster';

/** Which pictures are kept, and how their codes are read. */
export interface PicturesWanted {
  frames: readonly number[];
  raster: Raster;
  reading: Reading;
  /** Single samples are kept beside the means. */
  pointed?: boolean;
}

function smallRaster({ width, height }: Raster): Raster {
  const scale = Math.min(1, 320 / Math.max(width, height));
  return { width: Math.max(2, Math.round(width * scale)), height: Math.max(2, Math.round(height * scale)) };
}

/** Filters that make a picture small, its codes as they come but shifted up to 16 bits: core reads them. */
function madeSmall({ raster, reading, pointed }: PicturesWanted, planar: string): string {
  const small = smallRaster(raster);
  const range = reading.range === 'full' ? 'pc' : 'tv';
  const centre = reading.centred ? '' : ':in_h_chr_pos=0';
  // Neither range nor matrix is changed here.
  const scaled = (how: string): string =>
    `scale=${small.width}:${small.height}:flags=${how}+accurate_rnd:in_range=${range}:out_range=${range}:in_color_matrix=bt709:out_color_matrix=bt709${centre},format=${planar}`;
  // Means over areas, and below them, if wanted, single samples from the same places.
  return pointed
    ? `split[means][points];[means]${scaled('area')}[m];[points]${scaled('neighbor')}[p];[m][p]vstack`
    : scaled('area');
}

/** Keeps a few pictures, made small, in a file: the arguments for it, and what lies there afterwards. */
export function keepPictures(
  map: string,
  wanted: PicturesWanted,
  file: string,
): { args: string[]; read: () => Promise<Smalls> } {
  const { frames, raster, reading, pointed = false } = wanted;
  const small = smallRaster(raster);
  const planar = reading.rgb ? 'gbrp16le' : 'yuv444p16le';
  // Times far apart: those of a coarse clock may fall together, and FFmpeg would complain as if the file were damaged.
  const select = `select='${frames.map((n) => `eq(n,${n})`).join('+')}',settb=1,setpts=N*100`;
  const args = [
    ...['-map', map, '-filter:v', `${select},${madeSmall(wanted, planar)}`, '-fps_mode', 'passthrough'],
    ...['-f', 'rawvideo', '-pix_fmt', planar, `file:${file}`],
  ];
  const read = async (): Promise<Smalls> => {
    const all = await readFile(file).catch(() => Buffer.alloc(0));
    const samples = new Uint16Array(all.buffer.slice(all.byteOffset, all.byteOffset + (all.length & ~1)));
    const each = small.width * small.height;
    const rows = pointed ? 2 : 1;
    const planes = (index: number, row: number): Planes => {
      const plane = (of: number): Uint16Array =>
        samples.subarray(((index * 3 + of) * rows + row) * each, ((index * 3 + of) * rows + row + 1) * each);
      return [plane(0), plane(1), plane(2)];
    };
    const found = new Map<number, Small>();
    frames.forEach((n, index) => {
      if ((index + 1) * 3 * rows * each > samples.length) return;
      const points = pointed ? planes(index, 1) : undefined;
      found.set(n, smallOf(small.width, small.height, planes(index, 0), reading, points));
    });
    return found;
  };
  return { args: frames.length === 0 ? [] : args, read };
}
