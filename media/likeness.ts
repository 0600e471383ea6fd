import type { OutputPlan } from '@relay/core/recipe/legPlan';
import { ffmpeg, inputArguments } from './process/ffmpeg.ts';
import { run } from './process/run.ts';
import { pictureFilters } from './leg/filters.ts';

/** Likeness of an output and its original, averaged over all frames and planes as FFmpeg's psnr and ssim filters do. */
export interface Likeness {
  /** dB; Infinity when equal. */
  psnr: number;
  /** 0 to 1. */
  ssim: number;
}

/** Compares an output, frame by frame, with what its original looks like at the output's raster, rate and sampling. */
export async function likeness(outputPath: string, sourcePath: string, plan: OutputPlan): Promise<Likeness> {
  const graph = [
    `[0:v:0]settb=1/1000,setpts=N,split[a][b]`,
    `[1:v:0]${pictureFilters(plan)},settb=1/1000,setpts=N,split[c][d]`,
    '[a][c]psnr=shortest=1[x]',
    '[b][d]ssim=shortest=1[y]',
  ].join(';');
  const ended = await run(ffmpeg, [
    '-hide_banner',
    '-v',
    'info',
    '-nostats',
    ...inputArguments(outputPath),
    ...inputArguments(sourcePath),
    '-filter_complex',
    graph,
    '-map',
    '[x]',
    '-f',
    'null',
    '-',
    '-map',
    '[y]',
    '-f',
    'null',
    '-',
  ]);
  const psnr = /PSNR.*?average:(\S+)/.exec(ended.stderr)?.[1];
  const ssim = /SSIM.*?All:(\S+)/.exec(ended.stderr)?.[1];
  if (psnr === undefined || ssim === undefined)
    throw new Error(`${outputPath} could not be compared: ${ended.stderr.trim().split('\n').at(-1) ?? ''}`);
  return { psnr: psnr === 'inf' ? Infinity : Number(psnr), ssim: Number(ssim) };
}
