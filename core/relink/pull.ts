import type { Span } from '../cut/cut.ts';
import type { Match } from './match.ts';
import type { CutOriginal } from './target.ts';

export interface PullWish {
  /** Frames of the original that are added before and after what is needed. */
  handles: number;
  /** Stretches of one original that lie no farther apart than this many frames become one. */
  gap: number;
}

/** A stretch of an original that is made again: one output of each deliverable. Of sound alone it has no frames. */
export interface Stretch {
  /** The original's place among those that the cut was matched against. */
  original: number;
  /** With handles, within what there is. */
  frames: Span;
  /** Frames by which handles are shorter than asked for, as the original begins or ends. */
  short: { before: number; after: number };
  /** The events whose frames lie in it, by their place in the cut. */
  events: number[];
}

export interface Pull {
  /** By original, then by frame. */
  stretches: Stretch[];
  /** Events that are of no original, or of whose frames none is known. */
  left: number[];
}

/**
 * The stretches of originals that a cut uses: the frames that its events need, with handles, merged where they touch or
 * lie closer than the gap. Of what merges, handles are those at its two ends.
 */
export function pullOf(
  matches: readonly (Match | null)[],
  originals: readonly Pick<CutOriginal, 'frames'>[],
  { handles, gap }: PullWish,
): Pull {
  const left: number[] = [];
  const needed: { original: number; frames: Span; event: number }[] = [];
  matches.forEach((match, event) => {
    if (match === null) return;
    if (match.original === null || match.frames === null) left.push(event);
    else needed.push({ original: match.original, frames: match.frames, event });
  });
  needed.sort((a, b) => a.original - b.original || a.frames.from - b.frames.from);
  const stretches: Stretch[] = [];
  for (const { original, frames: shown, event } of needed) {
    const whole = originals[original]?.frames ?? 0;
    // Of sound alone nothing is counted in frames: it is taken whole.
    const frames = whole === 0 ? { from: 0, to: 0 } : shown;
    const from = Math.max(0, frames.from - handles);
    const to = Math.min(whole, frames.to + handles);
    const short =
      whole === 0
        ? { before: 0, after: 0 }
        : { before: handles - (frames.from - from), after: Math.max(0, handles - (to - frames.to)) };
    const last = stretches.at(-1);
    if (last?.original === original && from <= last.frames.to + gap) {
      last.events.push(event);
      if (to > last.frames.to) {
        last.frames.to = to;
        last.short.after = short.after;
      }
    } else stretches.push({ original, frames: { from, to }, short, events: [event] });
  }
  return { stretches, left };
}

/** Frames of originals that a pull takes. */
export function pulledFrames({ stretches }: Pull): number {
  return stretches.reduce((sum, { frames }) => sum + frames.to - frames.from, 0);
}
