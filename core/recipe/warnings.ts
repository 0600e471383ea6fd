import type { ClipDescription } from '../clip/description.ts';
import { rateWarning } from '../size/asked.ts';
import { estimateOutput } from '../size/estimate.ts';
import { formatRaster } from '../shape/raster.ts';
import { formatRate } from '../time/rate.ts';
import { toNumber } from '../time/rational.ts';
import { codecRow, hasPicture } from './codecs.ts';
import type { OutputPlan } from './legPlan.ts';
import type { WrapperId } from './recipe.ts';
import { keepsLight } from './video.ts';

/**
 * Macroblocks a frame and a second of H.264's level 4.2 and 5.2 (ITU-T H.264, table A-1, from memory): what common
 * hardware decoders take.
 */
const level42 = { frame: 8_704, second: 522_240 };
const level52 = { frame: 36_864, second: 2_073_600 };

function shapeWarning({ video: { aspectError, raster } }: OutputPlan): string | null {
  // Whole samples of a tiny or very narrow raster.
  if (Math.abs(aspectError) <= 0.01) return null;
  const percent = (Math.abs(aspectError) * 100).toFixed(0);
  return `The picture is ${percent} % too ${aspectError > 0 ? 'wide' : 'narrow'} at ${formatRaster(raster)}: take a larger raster`;
}

function samplingWarning({ codec }: OutputPlan): string | null {
  const { chroma, bitDepth } = codecRow(codec);
  if (codec.id === 'h264' && (bitDepth > 8 || chroma !== '4:2:0'))
    return `H.264 of ${chroma} ${bitDepth} bit plays in few hardware decoders: browsers and phones take 4:2:0 8 bit`;
  return codec.id === 'hevc' && chroma === '4:2:2' ? 'HEVC of 4:2:2 plays in few hardware decoders' : null;
}

function levelWarning({ codec, role, video: { raster, rate } }: OutputPlan): string | null {
  if (codec.id !== 'h264' && codec.id !== 'hevc') return null;
  const blocks = Math.ceil(raster.width / 16) * Math.ceil(raster.height / 16);
  const beyond = (level: typeof level42): boolean => blocks > level.frame || blocks * toNumber(rate) > level.second;
  const said = `${formatRaster(raster)} at ${formatRate(rate)} is beyond level`;
  if (beyond(level52)) return `${said} 5.2, which most hardware decoders end at`;
  return codec.id === 'h264' && role !== 'intermediate' && beyond(level42)
    ? `${said} 4.2: older players stumble`
    : null;
}

function lightWarning(output: OutputPlan): string | null {
  const { name, bitDepth } = codecRow(output.codec);
  const isChained = output.colour?.kind === 'baked' || output.colour?.kind === 'brought';
  return bitDepth === 32 && isChained && !keepsLight(output)
    ? `${name} loses light above white where it is filled up around or burnt into: take a raster without bars, and no burn-in`
    : null;
}

const wrapperWarnings: Partial<Record<WrapperId, string>> = {
  mp4: 'MP4 keeps no reel',
  pictures: 'Images keep no reel, no rate and no colour tags: the relink sheet does',
  avi: 'AVI keeps no reel and no colour tags',
};

/** What an intermediate had better be otherwise. */
function intermediateWarnings({ role, codec }: OutputPlan, original: ClipDescription): string[] {
  if (role !== 'intermediate') return [];
  const { name, intra, bitDepth } = codecRow(codec);
  const had = original.video?.bitDepth ?? 8;
  return [
    ...(intra
      ? []
      : [`${name} with groups of pictures is heavy to cut and grade; an intermediate had better be intra`]),
    ...(original.video && bitDepth < had ? [`${bitDepth} bits of the original's ${had}`] : []),
  ];
}

/** Where an output will not play, or does not serve its role: in plain words, for before it is made. */
export function outputWarnings(original: ClipDescription, output: OutputPlan): string[] {
  if (!hasPicture(output)) return [];
  const { codec, role, wrapper, sound } = output;
  return [
    shapeWarning(output),
    samplingWarning(output),
    levelWarning(output),
    rateWarning(output),
    lightWarning(output),
    codec.id === 'av1' ? 'AV1 plays in new players only, and few cutting programs take it' : null,
    wrapperWarnings[wrapper] ?? null,
    ...intermediateWarnings(output, original),
    sound.coding && role !== 'review' ? 'AAC sound loses a little; PCM keeps it' : null,
    role === 'proxy' && estimateOutput(output).bytes.likely >= original.sizeBytes
      ? 'No lighter than its original'
      : null,
  ].filter((said) => said !== null);
}
