import type { BurnPlan } from '@relay/core/burn/plan';
import type { ColourSample } from '@relay/core/proof/colour';
import { codecRow } from '@relay/core/recipe/codecs';
import type { OutputPlan } from '@relay/core/recipe/plan';
import type { Window } from '@relay/core/shape/geometry';
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

function bytesOf(output: OutputPlan): number {
  const { width, height } = pictureIn(output);
  return width * height * 6;
}

function only(output: OutputPlan): string {
  return `trim=start_frame=${frameOf(output)}:end_frame=${frameOf(output) + 1}`;
}

/** The original's frame as it comes to the LUT of an output. */
export function colourBefore(output: OutputPlan, tuning: Tuning): RawFrame {
  return { filters: [...stepsBefore(output.video, tuning), only(output), ...toLutFilters(output.video)].join(','), format: 'yuv444p16le', bytes: bytesOf(output) };
}

/** The output's frame as a decoder gives it. */
export function colourAfter(output: OutputPlan): RawFrame {
  const { video } = output;
  const { x, y, width, height } = pictureIn(output);
  // Images are RGB, and held against the chain by the matrix that luma and chroma had before.
  const ofRgb = codecRow(output.codec).chroma === 'rgb' ? '+full_chroma_inp:out_color_matrix=bt709' : '';
  return {
    filters: `${only(output)},scale=flags=bicubic+accurate_rnd${ofRgb}:in_range=${video.colour.range === 'full' ? 'pc' : 'tv'}:out_range=tv:interl=${video.scan === 'progressive' ? 0 : 1},format=yuv444p16le,crop=${width}:${height}:${x}:${y}`,
    format: 'yuv444p16le', bytes: bytesOf(output),
  };
}

/** The two frames side by side, and what lies over the output's: data alone, so that a thread can be given it. */
export interface FrameSample extends Omit<ColourSample, 'covered'> {
  /** Where the picture lies in its raster. */
  x: number;
  y: number;
  burn: BurnPlan | null;
}

export function colourSample(output: OutputPlan, before: Uint16Array, after: Uint16Array): FrameSample {
  return { ...pictureIn(output), frame: frameOf(output), before, after, burn: output.burn ?? null };
}
