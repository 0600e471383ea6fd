import { burnt } from '@relay/core/burn/area';
import type { ColourSample } from '@relay/core/proof/colour';
import { codecRow } from '@relay/core/recipe/codecs';
import type { OutputPlan } from '@relay/core/recipe/plan';
import { toNumber } from '@relay/core/time/rational';
import type { Tuning } from '../leg/encoders.ts';
import { stepsBefore, toLutFilters } from '../leg/filters.ts';
import { openOutput } from '../leg/open.ts';
import { ffmpeg } from '../process/ffmpeg.ts';
import { withInput, type Source } from '../process/joined.ts';
import { run } from '../process/run.ts';

/** A decoded frame's bytes; null when there was none. */
async function rawFrame(input: readonly string[], filters: string, format: string, bytes: number, signal?: AbortSignal): Promise<Uint16Array | null> {
  const chunks: Buffer[] = [];
  await run(ffmpeg, ['-hide_banner', '-v', 'error', '-nostats', ...input, '-map', '0:v:0', '-vf', filters, '-frames:v', '1', '-vsync', 'passthrough', '-f', 'rawvideo', '-pix_fmt', format, 'pipe:1'], {
    signal, timeoutMs: 120_000, onData: (chunk) => { chunks.push(chunk); },
  });
  const all = Buffer.concat(chunks);
  if (all.length !== bytes) return null;
  // Copied, so that the words are aligned.
  return new Uint16Array(Uint8Array.from(all).buffer);
}

/**
 * One frame a second in, or the last of a shorter output of `frames`: the original's as it comes to the LUT, and the output's as a
 * decoder gives it. Null when either could not be had.
 */
export async function colourSample(source: Source, output: OutputPlan, tuning: Tuning, outputPath: string, frames: number, signal?: AbortSignal): Promise<ColourSample | null> {
  const { video } = output;
  const { x, y, width, height } = video.geometry?.active ?? { x: 0, y: 0, ...video.raster };
  const frame = Math.max(0, Math.min(frames - 1, Math.round(toNumber(video.rate))));
  const only = `trim=start_frame=${frame}:end_frame=${frame + 1}`;
  // Images are RGB, and held against the chain by the matrix that luma and chroma had before.
  const ofRgb = codecRow(output.codec).chroma === 'rgb' ? '+full_chroma_inp:out_color_matrix=bt709' : '';
  const bytes = width * height * 6;
  const [before, after] = await Promise.all([
    withInput(source, (input) => rawFrame(input, [...stepsBefore(video, tuning), only, ...toLutFilters(video)].join(','), 'yuv444p16le', bytes, signal)),
    rawFrame(openOutput(output, outputPath).input, `${only},scale=flags=bicubic+accurate_rnd${ofRgb}:in_range=${video.colour.range === 'full' ? 'pc' : 'tv'}:out_range=tv:interl=${video.scan === 'progressive' ? 0 : 1},format=yuv444p16le,crop=${width}:${height}:${x}:${y}`, 'yuv444p16le', bytes, signal),
  ]);
  return before && after ? { width, height, frame, before, after, covered: (left, top, w, h) => burnt(output.burn, { x: x + left, y: y + top, width: w, height: h }, frame) } : null;
}
