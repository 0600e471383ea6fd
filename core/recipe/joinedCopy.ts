import { fail, ok, type Result } from '../result.ts';
import { formatRaster } from '../shape/raster.ts';
import { formatRate } from '../time/rate.ts';
import { invert, multiply, rational, scaleToInteger } from '../time/rational.ts';
import { timecodeToFrames } from '../time/timecode.ts';
import type { OutputPlan } from './legPlan.ts';
import { hasPicture } from './codecs.ts';
import { wrappers } from './wrappers.ts';

/** One clip's output in a joined copy, in its place. */
export interface JoinedCopyPart {
  /** Path below the run's folder. */
  path: string;
  title: string;
  output: OutputPlan;
}

/** Several outputs behind each other in one file, their pictures as they are. */
export interface JoinedCopyPlan {
  path: string;
  parts: { path: string; title: string; frames: number }[];
  /** What it is, as an output: the first part's plan, as long as all together. */
  output: OutputPlan;
}

/** Where a joined copy's own timecode begins: common practice, no source. */
const joinedStart = '01:00:00:00';

/** What parts must have in common to be joined without coding anew, in words. */
function likeness({ codec, wrapper, video, sound }: OutputPlan): Record<string, string> {
  return {
    codec: JSON.stringify(codec),
    wrapper,
    raster: formatRaster(video.raster),
    rate: formatRate(video.rate),
    scan: video.scan,
    'pixel aspect': `${video.pixelAspect.num}:${video.pixelAspect.den}`,
    colour: [video.colour.primaries, video.colour.transfer, video.colour.matrix]
      .map((tag) => tag ?? 'not stated')
      .join(' '),
    sound:
      sound.tracks
        .map((track) => `${track.channels} channels of ${sound.coding ? 'AAC' : `${track.bitDepth} bit`}`)
        .join(', ') || 'none',
  };
}

/**
 * Joins outputs of one deliverable, in their order, into one file at `path`. Fails with the first part that is unlike the
 * first, and in what.
 */
export function planJoinedCopy(parts: readonly JoinedCopyPart[], path: string): Result<JoinedCopyPlan> {
  const [first, second] = parts;
  if (!first || !second)
    return fail('A joined copy takes two outputs or more', 'Run more clips, or wait until they are proved');
  if (!hasPicture(first.output) || wrappers[first.output.wrapper].holds !== 'one file')
    return fail(`${first.output.deliverable} is no file of pictures and sound`, 'Join another deliverable');
  const like = likeness(first.output);
  for (const part of parts) {
    const unlike = Object.entries(likeness(part.output)).find(([name, value]) => value !== like[name]);
    if (unlike)
      return fail(
        `${part.title} cannot follow ${first.title}: its ${unlike[0]} is ${unlike[1]}, not ${like[unlike[0]]}`,
        'Join clips that are alike, or let the recipe make them so: one raster with bars, one rate, sound folded to stereo',
      );
  }
  const frames = parts.reduce((sum, { output }) => sum + output.video.frames, 0);
  const { video, sound } = first.output;
  const start = timecodeToFrames(joinedStart, video.rate);
  return ok({
    path,
    parts: parts.map(({ path: from, title, output }) => ({ path: from, title, frames: output.video.frames })),
    output: {
      ...first.output,
      path,
      video: { ...video, frames },
      reel: null,
      timecode: start.ok && wrappers[first.output.wrapper].timecode ? { start: joinedStart, dropFrame: false } : null,
      sound: { ...sound, samples: scaleToInteger(frames, multiply(rational(48_000), invert(video.rate))) },
    },
  });
}
