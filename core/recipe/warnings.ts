import type { ClipDescription } from '../clip/description.ts';
import { estimateOutput } from '../size/estimate.ts';
import { formatRaster } from '../shape/raster.ts';
import { formatRate } from '../time/rate.ts';
import { toNumber } from '../time/rational.ts';
import { codecRow, hasPicture } from './codecs.ts';
import type { OutputPlan } from './legPlan.ts';
import { keepsLight } from './video.ts';

/**
 * Macroblocks a frame and a second of H.264's level 4.2 and 5.2 (ITU-T H.264, table A-1, from memory): what common
 * hardware decoders take.
 */
const level42 = { frame: 8_704, second: 522_240 };
const level52 = { frame: 36_864, second: 2_073_600 };

/** Where an output will not play, or does not serve its role: in plain words, for before it is made. */
export function outputWarnings(original: ClipDescription, output: OutputPlan): string[] {
  const { video, codec, role, wrapper, sound } = output;
  if (!hasPicture(output)) return [];
  const row = codecRow(codec);
  const said: string[] = [];
  // Whole samples of a tiny or very narrow raster.
  if (Math.abs(video.aspectError) > 0.01)
    said.push(
      `The picture is ${(Math.abs(video.aspectError) * 100).toFixed(0)} % too ${video.aspectError > 0 ? 'wide' : 'narrow'} at ${formatRaster(video.raster)}: take a larger raster`,
    );
  const blocks = Math.ceil(video.raster.width / 16) * Math.ceil(video.raster.height / 16);
  const perSecond = blocks * toNumber(video.rate);
  if (codec.id === 'h264' || codec.id === 'hevc') {
    if (codec.id === 'h264' && (row.bitDepth > 8 || row.chroma !== '4:2:0'))
      said.push(
        `H.264 of ${row.chroma} ${row.bitDepth} bit plays in few hardware decoders: browsers and phones take 4:2:0 8 bit`,
      );
    if (codec.id === 'hevc' && row.chroma === '4:2:2') said.push('HEVC of 4:2:2 plays in few hardware decoders');
    if (blocks > level52.frame || perSecond > level52.second)
      said.push(
        `${formatRaster(video.raster)} at ${formatRate(video.rate)} is beyond level 5.2, which most hardware decoders end at`,
      );
    else if (codec.id === 'h264' && role !== 'intermediate' && (blocks > level42.frame || perSecond > level42.second))
      said.push(
        `${formatRaster(video.raster)} at ${formatRate(video.rate)} is beyond level 4.2: older players stumble`,
      );
  }
  if (
    row.bitDepth === 32 &&
    (output.colour?.kind === 'baked' || output.colour?.kind === 'brought') &&
    !keepsLight(output)
  )
    said.push(
      `${row.name} loses light above white where it is filled up around or burnt into: take a raster without bars, and no burn-in`,
    );
  if (codec.id === 'av1') said.push('AV1 plays in new players only, and few cutting programs take it');
  if (wrapper === 'mp4') said.push('MP4 keeps no reel');
  if (wrapper === 'pictures') said.push('Images keep no reel, no rate and no colour tags: the relink sheet does');
  if (wrapper === 'avi') said.push('AVI keeps no reel and no colour tags');
  if (!row.intra && role === 'intermediate')
    said.push(`${row.name} with groups of pictures is heavy to cut and grade; an intermediate had better be intra`);
  if (role === 'intermediate' && original.video && row.bitDepth < (original.video.bitDepth ?? 8))
    said.push(`${row.bitDepth} bits of the original's ${original.video.bitDepth}`);
  if (sound.coding && role !== 'review') said.push('AAC sound loses a little; PCM keeps it');
  if (role === 'proxy' && estimateOutput(output).bytes.likely >= original.sizeBytes)
    said.push('No lighter than its original');
  return said;
}
