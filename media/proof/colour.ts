import type { BurnPlan } from '@relay/core/burn/plan';
import type { ColourSample } from '@relay/core/proof/colour';
import { legalCodesOf, signalsOf, type Reading } from '@relay/core/proof/reading';
import { codecRow } from '@relay/core/recipe/codecs';
import { matrixMade } from '@relay/core/recipe/video';
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

/** How the samples of an output are read. */
export function readingOfOutput({ codec, video }: OutputPlan): Reading {
  const { chroma, bitDepth, encodedDepth } = codecRow(codec);
  return { rgb: chroma === 'rgb', bitDepth: Math.min(16, encodedDepth ?? bitDepth), range: chroma === 'rgb' ? 'full' : video.colour.range ?? 'legal', matrix: matrixMade(video), centred: codec.id === 'mjpeg' };
}

/** The original's frame as it comes to the LUT of an output. */
export function colourBefore(output: OutputPlan, tuning: Tuning): RawFrame {
  return { filters: [...stepsBefore(output.video, tuning), only(output), ...toLutFilters(output.video)].join(','), format: 'yuv444p16le', bytes: bytesOf(output) };
}

/** The output's frame as a decoder gives it. */
export function colourAfter(output: OutputPlan): RawFrame {
  const { video } = output;
  const { x, y, width, height } = pictureIn(output);
  const { rgb, range, centred } = readingOfOutput(output);
  // Codes as they are: core reads them.
  const own = range === 'full' ? 'pc' : 'tv';
  const format = rgb ? 'gbrp16le' : 'yuv444p16le';
  return { filters: `${only(output)},scale=flags=bicubic+accurate_rnd:in_range=${own}:out_range=${own}${centred ? '' : ':in_h_chr_pos=0'}:interl=${video.scan === 'progressive' ? 0 : 1},format=${format},crop=${width}:${height}:${x}:${y}`, format, bytes: bytesOf(output) };
}

/** The two frames side by side, and what lies over the output's: data alone, so that a thread can be given it. */
export interface FrameSample extends Omit<ColourSample, 'covered'> {
  /** Where the picture lies in its raster. */
  x: number;
  y: number;
  burn: BurnPlan | null;
}

export function colourSample(output: OutputPlan, before: Uint16Array, after: Uint16Array): FrameSample {
  const reading = readingOfOutput(output);
  const room = reading.rgb ? 'rgb' : reading.range;
  const size = after.length / 3;
  const planes = [after.subarray(0, size), after.subarray(size, 2 * size), after.subarray(2 * size)] as const;
  return { ...pictureIn(output), frame: frameOf(output), before, after: room === 'legal' ? after : legalCodesOf(signalsOf(planes, reading), matrixMade(output.video)), room, burn: output.burn ?? null };
}
