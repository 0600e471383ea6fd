import type { PictureStep } from '@relay/core/recipe/legPlan';
import { shownBy, type FrameMap } from '@relay/core/time/frameMap';
import { divide, formatFraction, invert, toNumber, type Rational } from '@relay/core/time/rational';
import { counted, filmBegins, intoFields, wholeAgain, wholePictures } from '../leg/filters.ts';

/** How the frames of a file follow each other beside the frames of an output: what {@link inStep} goes by. */
export interface FileTime {
  /** Frames a second of the file itself, by which it is sought. */
  fileRate: Rational;
  /** Frames in the file. */
  frames: number;
  /** Which of them each of the output's frames shows. */
  map: FrameMap;
  /** Frames a second of the output. */
  rate: Rational;
  /** Made whole pictures first, as the output's plan does. */
  deinterlace?: Extract<PictureStep, { kind: 'deinterlace' }> | undefined;
  topFieldFirst: boolean;
  /** How long one of its frames stays at most. */
  longestSeconds: number;
}

/**
 * How a file is played from an output's frame `n` on: the first of its own frames that is needed, or for one without an
 * even rate the second, and filters after which each picture has its time: the output's frames counted from `n`, at an
 * even clock of the output's rate.
 */
export interface InStep {
  from: { frame: number } | { second: number };
  filters: string[];
}

/** From the `nth` frame on, counted anew. */
function frameFrom(nth: number, rate: Rational): string[] {
  return [...(nth > 0 ? [`trim=start_frame=${nth}`] : []), ...counted(rate)];
}

/** From the time of frame `n` on, where each picture has its own. */
function timeFrom(n: number): string[] {
  return n > 0 ? [`trim=start_pts=${n}`, `setpts=PTS-${n}`] : [];
}

/** See {@link InStep}. */
export function inStep(time: FileTime, n: number): InStep {
  const { map, rate, frames, deinterlace, fileRate, topFieldFirst, longestSeconds } = time;
  const whole = deinterlace ? [wholePictures(deinterlace)] : [];
  // A field is made a picture by those before it too.
  const before = (frame: number): number => Math.max(0, frame - (deinterlace ? 1 : 0));
  switch (map.kind) {
    case 'every': {
      const from = before(n);
      return { from: { frame: from }, filters: [...whole, ...frameFrom(n - from, rate)] };
    }
    case 'fields': {
      const from = before(Math.floor(n / 2));
      return { from: { frame: from }, filters: [...whole, ...frameFrom(n - 2 * from, rate)] };
    }
    case 'hold': {
      const from = before(shownBy(map, n, frames).frame);
      const own = divide(rate, map.ratio);
      return {
        from: { frame: from },
        filters: [
          ...whole,
          `settb=${formatFraction(invert(own))}`,
          `setpts=N+${from}`,
          `fps=${formatFraction(rate)}:round=up`,
          ...timeFrom(n),
        ],
      };
    }
    case 'blend':
      return blended(time, n, map.ratio);
    case 'pulldown-out': {
      // The pattern begins anew every four film frames.
      const rounds = Math.floor(n / 4);
      const step = { phase: map.phase, topFieldFirst, from: fileRate };
      return {
        from: { frame: rounds * 5 },
        filters: [...wholeAgain(step), ...frameFrom(filmBegins(step) + n - rounds * 4, rate)],
      };
    }
    case 'pulldown-in': {
      const rounds = Math.floor(n / 5);
      return {
        from: { frame: rounds * 4 },
        filters: [...counted(fileRate), intoFields, ...frameFrom(n - rounds * 5, rate)],
      };
    }
    case 'times': {
      // What is on screen then may have come long before. Plans do not say when each frame comes.
      const second = Math.max(0, (n - 1) / toNumber(rate) - longestSeconds);
      return {
        from: { second },
        filters: [
          ...whole,
          `setpts=PTS+${second.toFixed(6)}/TB`,
          `fps=${formatFraction(rate)}:round=near`,
          ...timeFrom(n),
        ],
      };
    }
  }
}

/**
 * Frames mixed of the two that are nearest. FFmpeg's filter counts from the time of its first picture, so a copy of
 * that one is put where the output has a frame.
 */
function blended({ rate, frames, map, deinterlace }: FileTime, n: number, ratio: Rational): InStep {
  const from = Math.max(0, shownBy(map, n, frames).frame - (deinterlace ? 1 : 0));
  const whole = deinterlace ? [wholePictures(deinterlace)] : [];
  // A clock that has both the output's frames and the file's: ticks to each.
  const [outputTicks, fileTicks] = [ratio.den, ratio.num];
  const ticks = { num: rate.num * outputTicks, den: rate.den };
  const grid = Math.floor((from * fileTicks) / outputTicks);
  const onIt = grid * outputTicks === from * fileTicks;
  return {
    from: { frame: from },
    filters: [
      ...whole,
      ...(onIt ? [] : ['tpad=start=1:start_mode=clone']),
      `settb=${formatFraction(invert(ticks))}`,
      onIt
        ? `setpts=(N+${from})*${fileTicks}`
        : `setpts='if(eq(N,0),${grid * outputTicks},(N-1+${from})*${fileTicks})'`,
      `framerate=fps=${formatFraction(rate)}:interp_start=0:interp_end=255:scene=100`,
      ...frameFrom(n - grid, rate),
    ],
  };
}
