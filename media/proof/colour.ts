import type { BurnPlan } from '@relay/core/burn/plan';
import type { ColourSample } from '@relay/core/proof/colour';
import { legalCodesOf, readingOfOutput, signalsOf } from '@relay/core/proof/reading';
import { keepsLight, matrixMade } from '@relay/core/recipe/video';
import type { OutputPlan } from '@relay/core/recipe/legPlan';
import type { Window } from '@relay/core/shape/window';
import { toNumber } from '@relay/core/time/rational';
import type { Tuning } from '../leg/encoders.ts';
import { stepsBefore, toLutFilters } from '../leg/filters.ts';
import type { RawFrame } from './rawFrame.ts';

/** The output's frame that is held against the chain: one a second in, or the last of a shorter one. */
function frameOf({ video }: OutputPlan): number {
  return Math.max(0, Math.min(video.frames - 1, Math.round(toNumber(video.rate))));
}

/** Where the picture lies in its raster. */
function pictureIn({ video }: OutputPlan): Window {
  return video.geometry?.active ?? { x: 0, y: 0, ...video.raster };
}

/** Samples of a frame: whole numbers of 16 bits, or where light above white is kept floats of 32. */
function bytesOf(output: OutputPlan, each = 2): number {
  const { width, height } = pictureIn(output);
  return width * height * 3 * each;
}

function only(output: OutputPlan): string {
  return `trim=start_frame=${frameOf(output)}:end_frame=${frameOf(output) + 1}`;
}

/** The original's frame as it comes to the LUT of an output. */
export function colourBefore(output: OutputPlan, tuning: Tuning): RawFrame {
  return {
    filters: [...stepsBefore(output.video, tuning), only(output), ...toLutFilters(output.video)].join(','),
    format: 'yuv444p16le',
    bytes: bytesOf(output),
  };
}

/** The output's frame as a decoder gives it. */
export function colourAfter(output: OutputPlan): RawFrame {
  const { video } = output;
  const { x, y, width, height } = pictureIn(output);
  const { rgb, range, centred } = readingOfOutput(output);
  if (keepsLight(output))
    return {
      filters: `${only(output)},format=gbrpf32le,crop=${width}:${height}:${x}:${y}`,
      format: 'gbrpf32le',
      bytes: bytesOf(output, 4),
    };
  // Codes as they are: core reads them.
  const own = range === 'full' ? 'pc' : 'tv';
  const format = rgb ? 'gbrp16le' : 'yuv444p16le';
  return {
    filters: `${only(output)},scale=flags=bicubic+accurate_rnd:in_range=${own}:out_range=${own}${centred ? '' : ':in_h_chr_pos=0'}:interl=${video.scan === 'progressive' ? 0 : 1},format=${format},crop=${width}:${height}:${x}:${y}`,
    format,
    bytes: bytesOf(output),
  };
}

/** The two frames side by side, and what lies over the output's: data alone, so that a thread can be given it. */
export interface FrameSample extends Omit<ColourSample, 'covered'> {
  /** Where the picture lies in its raster. */
  x: number;
  y: number;
  burn: BurnPlan | null;
  /** Planes of R', G', B' as they are, black 0 and white 1, of an output that keeps light above white. */
  light?: readonly [Float32Array, Float32Array, Float32Array];
}

export function colourSample(output: OutputPlan, before: Uint16Array, after: Uint16Array): FrameSample {
  const reading = readingOfOutput(output);
  if (keepsLight(output)) {
    const floats = new Float32Array(after.buffer, after.byteOffset, after.length / 2);
    const each = floats.length / 3;
    // FFmpeg's order is G, B, R.
    const light = [floats.subarray(2 * each), floats.subarray(0, each), floats.subarray(each, 2 * each)] as const;
    return {
      ...pictureIn(output),
      frame: frameOf(output),
      before,
      after: legalCodesOf(light, matrixMade(output.video)),
      room: 'legal',
      burn: null,
      light,
    };
  }
  const room = reading.rgb ? 'rgb' : reading.range;
  const size = after.length / 3;
  const planes = [after.subarray(0, size), after.subarray(size, 2 * size), after.subarray(2 * size)] as const;
  return {
    ...pictureIn(output),
    frame: frameOf(output),
    before,
    after: room === 'legal' ? after : legalCodesOf(signalsOf(planes, reading), matrixMade(output.video)),
    room,
    burn: output.burn ?? null,
  };
}
