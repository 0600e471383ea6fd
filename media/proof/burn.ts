import type { BurnSample } from '@relay/core/proof/burn';
import type { OutputPlan } from '@relay/core/recipe/plan';
import { toNumber } from '@relay/core/time/rational';
import { openOutput } from '../leg/open.ts';
import { ffmpeg } from '../process/ffmpeg.ts';
import { run } from '../process/run.ts';

/** Luma of one frame of an output, half a second in or the last of a shorter one; null when it could not be decoded. */
export async function burnSample(output: OutputPlan, path: string, frames: number, signal?: AbortSignal): Promise<BurnSample | null> {
  const { width, height } = output.video.raster;
  const frame = Math.max(0, Math.min(frames - 1, Math.round(toNumber(output.video.rate) / 2)));
  const chunks: Buffer[] = [];
  await run(ffmpeg, ['-hide_banner', '-v', 'error', '-nostats', ...openOutput(output, path).input, '-map', '0:v:0', '-vf', `trim=start_frame=${frame}:end_frame=${frame + 1},scale=in_range=${output.video.colour.range === 'full' ? 'pc' : 'tv'}:out_range=tv,format=yuv444p16le,extractplanes=y`, '-frames:v', '1', '-vsync', 'passthrough', '-f', 'rawvideo', '-pix_fmt', 'gray16le', 'pipe:1'], {
    signal, timeoutMs: 120_000, onData: (chunk) => { chunks.push(chunk); },
  });
  const all = Buffer.concat(chunks);
  return all.length === width * height * 2 ? { frame, luma: new Uint16Array(Uint8Array.from(all).buffer) } : null;
}
