import { sayTag } from '../colour/tagNames.ts';
import { formatRate } from '../time/rate.ts';
import { formatFraction } from '../time/rational.ts';
import { isInterlaced, type ClipDescription, type ColourTags } from './description.ts';

/**
 * What clips must share to be corrected alike: raster, rate, scan, pixel aspect, codec, curve, bit depth, primaries,
 * range, and the device where files name it; so that two cameras that record alike by chance are not one group. The
 * database derives the same text from a description (migration `groupsByCamera`), so that ten thousand are sorted
 * without being read.
 */
export function groupOf({ video, device }: ClipDescription): string {
  if (!video) return 'sound';
  const rate = video.rateConstant ? `${video.rate.num}/${video.rate.den}` : 'varies';
  return [
    `${video.raster.width}x${video.raster.height}`,
    rate,
    video.scan,
    `${video.pixelAspect.num}/${video.pixelAspect.den}`,
    video.codecId,
    video.colour.transfer ?? '',
    video.bitDepth,
    video.colour.primaries ?? '',
    video.colour.range ?? '',
    device ?? '',
  ].join('|');
}

/** A group in a line, from one of its clips. */
export function sayGroup({ video, device }: ClipDescription): string {
  if (!video) return 'Sound only';
  const scan = isInterlaced(video.scan) ? 'i' : 'p';
  const aspect = video.pixelAspect.num === video.pixelAspect.den ? '' : ` at ${formatFraction(video.pixelAspect, ':')}`;
  const rate = video.rateConstant ? `${formatRate(video.rate)}${scan}` : 'varying rate';
  return [
    `${video.raster.width}×${video.raster.height}${aspect}`,
    rate,
    `${video.codec} ${video.bitDepth} bit`,
    sayColour(video.colour),
    ...(device === undefined ? [] : [device]),
  ].join(' · ');
}

/** Primaries and curve, once where they are of one standard, and the range where it is tagged. */
function sayColour({ primaries, transfer, range }: ColourTags): string {
  const of = [...new Set([primaries, transfer])];
  const tags =
    of.length === 1 && of[0] === null
      ? 'colour untagged'
      : of.map((tag) => (tag === null ? 'untagged' : sayTag(tag))).join(' / ');
  return range === null ? tags : `${tags} ${range}`;
}
