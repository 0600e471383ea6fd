import type { VideoDescription } from '@relay/core/clip/description';
import { formatRaster, type Raster } from '@relay/core/shape/raster';
import { evenly, pictureFilters, pixelFormat, toLegalFilters, type Sampled } from '../leg/filters.ts';
import { complaints, ffmpeg } from '../process/ffmpeg.ts';
import { run } from '../process/run.ts';
import { codecRow } from '@relay/core/recipe/codecs';
import type { OutputPlan } from '@relay/core/recipe/legPlan';
import type { Tuning } from '../leg/encoders.ts';
import { firstInput, type Opened } from '../leg/open.ts';
import { openedAt } from './opened.ts';
import type { Side } from './side.ts';

/** How like its original a frame is, by FFmpeg's psnr and ssim filters, over all planes. */
export interface FrameLikeness {
  /** Of the output, from 0. */
  frame: number;
  /** dB; null where both are equal. */
  psnr: number | null;
  /** 0 to 1. */
  ssim: number;
}

/** What is measured: inputs, and filters that bring both to one raster, rate and pixel format. */
export interface Measured {
  args: readonly string[];
  copy: readonly string[];
  reference: readonly string[];
  hands: readonly string[];
}

/**
 * Measures every `every`th frame of a copy against its reference, and tells of each as it comes.
 * @throws Error where FFmpeg cannot
 */
export async function measureLikeness(
  { args, copy, reference, hands }: Measured,
  every: number,
  onFrame: (measured: FrameLikeness) => void,
  signal?: AbortSignal,
): Promise<void> {
  const chosen = every > 1 ? [`select='not(mod(n,${every}))'`] : [];
  // Both count, whatever their wrappers' clocks say.
  const counted = [...chosen, 'settb=1/1000', 'setpts=N'];
  let frame = 0;
  let psnr: number | null = null;
  const ended = await run(
    ffmpeg,
    [
      ...['-hide_banner', '-nostats', '-v', 'error'],
      ...args,
      '-filter_complex',
      [
        `[0:v:0]${[...copy, ...counted].join(',')}[copy]`,
        `[1:v:0]${[...reference, ...counted].join(',')},split[once][again]`,
        `[copy][once]psnr=shortest=1[halfway]`,
        `[halfway][again]ssim=shortest=1,metadata=mode=print:file=pipe\\\\:1[out]`,
      ].join(';'),
      ...['-map', '[out]', '-fps_mode', 'passthrough', '-f', 'null', '-'],
    ],
    {
      hands,
      ...(signal ? { signal } : {}),
      onLine: (line) => {
        const [, name, value = ''] = /^(frame:|lavfi\.psnr\.psnr_avg=|lavfi\.ssim\.All=)\s*(\S+)/.exec(line) ?? [];
        if (name === 'frame:') frame = Number(value) * every;
        else if (name === 'lavfi.psnr.psnr_avg=') psnr = value === 'inf' ? null : Number(value);
        else if (name === 'lavfi.ssim.All=') onFrame({ frame, psnr, ssim: Number(value) });
      },
    },
  );
  if (ended.code !== 0 && !signal?.aborted) throw new Error(complaints(ended.stderr).at(-1) ?? 'FFmpeg gave no reason');
}

/** A clip's own pixel format, as far as its samples can be compared in it: legal Y'CbCr, whatever it was. */
function formatOf({ chroma, bitDepth }: Pick<VideoDescription, 'chroma' | 'bitDepth'>): string {
  const depth = [8, 10, 12].find((bits) => bits >= Math.min(bitDepth, 12)) ?? 8;
  const planes = ['4:2:0', '4:2:2', '4:4:4', '4:4:0', '4:1:1'].includes(chroma) ? chroma.replaceAll(':', '') : '444';
  return chroma === '4:0:0' ? 'gray' : `yuv${planes}p${depth > 8 ? `${depth}le` : ''}`;
}

function brought(samples: Sampled, format: string, size: Raster | null): string[] {
  return [...toLegalFilters(samples), evenly(samples, format, '', size ? `${size.width}:${size.height}:` : '')];
}

/**
 * A copy and its original as plain files, at the copy's raster, in its chroma and depth; turned and mapped as their sides
 * say. @throws Error where they have not one shape
 */
export function measuredFiles(copy: Side, original: Side, video: VideoDescription): Measured {
  const [a, b] = [openedAt(copy, 0, false), openedAt(original, 0, false)];
  const shape = ({ light }: Side): number => light.width / light.height;
  if (Math.abs(shape(copy) / shape(original) - 1) > 0.02)
    throw new Error(
      `${formatRaster(original.raster)} and ${formatRaster(copy.raster)} have not one shape: what was cropped or squeezed is measured by its plan, in Checks`,
    );
  const format = formatOf(video);
  const same = copy.raster.width === original.raster.width && copy.raster.height === original.raster.height;
  return {
    args: [...a.args, ...b.args],
    copy: [...a.filters, ...brought(copy.samples, format, null)],
    reference: [...b.filters, ...brought(original.samples, format, same ? null : copy.raster)],
    hands: [...copy.hands, ...original.hands],
  };
}

/** The format that an output and what its encoder was given are compared in: what is read back of it, without alpha. */
function comparedFormat(output: OutputPlan): string {
  const { chroma, bitDepth, jpegSamples, pixelFormat: own } = codecRow(output.codec);
  if (chroma === 'rgb' || own?.startsWith('gbr') || own?.startsWith('rgb')) return 'gbrp16le';
  return jpegSamples ? pixelFormat(output) : formatOf({ chroma, bitDepth });
}

/**
 * An output and what its encoder was given: the original, opened by `input`, through all of the plan's own steps. The
 * tuning holds the baked chain and the burn-in.
 */
export function measuredByPlan(
  output: OutputPlan,
  opened: Opened,
  { input, hands }: { input: readonly string[]; hands: readonly string[] },
  tuning: Tuning,
): Measured {
  const format = comparedFormat(output);
  const range = output.video.colour.range === 'full' ? 'pc' : 'tv';
  const alike = [`scale=flags=bicubic+accurate_rnd:in_range=${range}:out_range=${range}`, `format=${format}`];
  return {
    args: [...firstInput(opened.input), ...firstInput(input)],
    copy: alike,
    reference: [pictureFilters(output, tuning), ...alike],
    hands,
  };
}
