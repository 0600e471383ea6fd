import type { LegPlan, OutputPlan, PictureStep } from './legPlan.ts';
import type { VideoCodec } from './recipe.ts';

/** A stretch of a clip's frames that is made by itself, counted from 0. */
export interface Segment {
  from: number;
  frames: number;
}

/**
 * Codecs whose pictures know nothing of each other, nor of how many they are: joined as they are, they are what one
 * encoder would have made.
 */
const apart: readonly VideoCodec['id'][] = ['prores', 'vc3', 'vc3hd', 'vc5', 'mjpeg', 'v210'];
/** What is done to each picture without a look at the next. */
const pictureByPicture: readonly PictureStep['kind'][] = ['crop', 'turn', 'scale', 'to-legal-range', 'view', 'pad'];

function outputCan({ codec, wrapper, rate, burn, video }: OutputPlan): boolean {
  return (
    apart.includes(codec.id) &&
    wrapper === 'mov' &&
    !rate &&
    !burn &&
    video.map.kind === 'every' &&
    video.steps.every(({ kind }) => pictureByPicture.includes(kind))
  );
}

/**
 * Whether a leg can be cut in segments and joined without loss: each frame of the original becomes one picture of each
 * output, by itself.
 */
export function canBeCut({ original, outputs }: LegPlan): boolean {
  return (
    original.video !== null &&
    original.video.rateConstant &&
    original.chapters.length === 0 &&
    // A part is entered by itself, and short.
    original.part === undefined &&
    original.cutShort === null &&
    outputs.length > 0 &&
    outputs.every(outputCan)
  );
}

/**
 * Frames that a segment has at least: each costs the start of a process, and decoding from the whole picture before it.
 */
export const shortestSegment = 480;

/**
 * How many segments so many frames are cut in where `idle` slots stand idle beside the leg's own; 1 is not at all.
 * Three for each slot, so that a slow machine holds nobody up at the end.
 */
export function segmentCount(frames: number, idle: number, shortest = shortestSegment): number {
  return idle < 1 ? 1 : Math.max(1, Math.min(3 * (idle + 1), Math.floor(frames / shortest)));
}

/** Cuts frames in so many segments, as even as whole frames allow. */
export function cutInto(frames: number, count: number): Segment[] {
  return Array.from({ length: count }, (_, index) => {
    const from = Math.floor((index * frames) / count);
    return { from, frames: Math.floor(((index + 1) * frames) / count) - from };
  });
}
