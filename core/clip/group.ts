import { sayTag } from '../colour/tagNames.ts';
import { formatRate } from '../time/rate.ts';
import { formatFraction } from '../time/rational.ts';
import { isInterlaced, type ClipDescription } from './description.ts';

/**
 * What clips must share to be corrected alike: raster, rate, scan, pixel aspect, codec and curve. The database derives
 * the same text from a description (migration `arrivals`), so that ten thousand are sorted without being read.
 */
export function groupOf({ video }: ClipDescription): string {
  if (!video) return 'sound';
  const rate = video.rateConstant ? `${video.rate.num}/${video.rate.den}` : 'varies';
  return [
    `${video.raster.width}x${video.raster.height}`,
    rate,
    video.scan,
    `${video.pixelAspect.num}/${video.pixelAspect.den}`,
    video.codecId,
    video.colour.transfer ?? '',
  ].join('|');
}

/** A group in a line, from one of its clips. */
export function sayGroup({ video }: ClipDescription): string {
  if (!video) return 'Sound only';
  const scan = isInterlaced(video.scan) ? 'i' : 'p';
  const aspect = video.pixelAspect.num === video.pixelAspect.den ? '' : ` at ${formatFraction(video.pixelAspect, ':')}`;
  const rate = video.rateConstant ? `${formatRate(video.rate)}${scan}` : 'varying rate';
  return [
    `${video.raster.width}×${video.raster.height}${aspect}`,
    rate,
    video.codec,
    video.colour.transfer === null ? 'curve untagged' : sayTag(video.colour.transfer),
  ].join(' · ');
}
