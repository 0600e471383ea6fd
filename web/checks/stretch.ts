/** How many times as fast two pictures are played. */
export const speeds = [0.25, 0.5, 1, 2, 4] as const;
export type Speed = (typeof speeds)[number];

/** Frames between which two pictures are played; the whole where one is not set. */
export interface Between {
  from: number | null;
  to: number | null;
  /** At its end it begins again. */
  again: boolean;
}

/** A stretch as it is asked for. */
export interface Stretch {
  from: number;
  /** Behind the last frame; of what is played backwards the last. */
  to: number;
  backwards: boolean;
  speed: Speed;
  /** Asked for anew, though it be the same. */
  turn: number;
}

/** First and last frame of what is played, however they were set. */
function edgesOf({ from, to }: Between, last: number): [number, number] {
  const [one, other] = [Math.min(from ?? 0, last), Math.min(to ?? last, last)];
  return one <= other ? [one, other] : [other, one];
}

/** What is played from `start` on. From its end it begins anew, as from outside of what is to be seen. */
export function stretchFrom(
  start: number,
  { backwards, between, last }: { backwards: boolean; between: Between; last: number },
): Pick<Stretch, 'from' | 'to' | 'backwards'> {
  const [low, high] = edgesOf(between, last);
  const outside = start < low || start > high || start === (backwards ? low : high);
  return {
    from: outside ? (backwards ? high : low) : start,
    to: backwards ? low : high + 1,
    backwards,
  };
}

/** Every frame of it is in its stream, or every second or fourth. */
export function everyOf({ speed }: Pick<Stretch, 'speed'>): number {
  return Math.max(1, speed);
}

/**
 * What follows the end of a stretch's stream, of which `seen` frames went by: it stands at its last frame, or goes on
 * from its first, which may be the same stream again. One that ended too early was not made whole.
 */
export function afterEnd(
  stretch: Stretch,
  { between, last, seen }: { between: Between; last: number; seen: number },
): 'the same again' | 'cut short' | { frame: number; again: boolean } {
  const { from, to, backwards } = stretch;
  const end = backwards ? to : to - 1;
  // The last pictures may not have been drawn any more.
  if (seen < Math.abs(end - from) - 3 * everyOf(stretch)) return 'cut short';
  if (!between.again) return { frame: end, again: false };
  const frame = edgesOf(between, last)[backwards ? 1 : 0];
  return frame === from ? 'the same again' : { frame, again: true };
}

/** Nobody waits longer than for so many seconds of a stream; what comes slower than that runs dry, and is gathered again. */
const mostGathered = 20;

/** What is made on the machine that shows it comes so much slower once it is shown: measured on two cores. */
const whilePlayed = 0.55;

/** So much more is gathered than is short by that: no machine is as fast from one second to the next. */
const spare = 1.15;

/**
 * Seconds of a stream that must have come before it is played, of those that are `left`, where so many come in a second:
 * as much as playing is ahead of what comes until the end.
 */
export function gatheredFor(left: number, pace: number): number {
  const short = left * Math.max(0, 1 - pace * whilePlayed) * spare;
  return Math.min(left - 0.1, Math.max(0.3, Math.min(mostGathered, short)));
}

/** Seconds over which it is seen how fast a stream comes, at least and at most: it comes in pieces of a quarter of one. */
const [paceSeen, paceLooked] = [0.4, 4];

/** What was seen for less than some seconds is believed in part: the first pieces often come together. */
const trusted = 2.5;

/** How fast a stream comes: seconds of it in a second, the slower of all that was seen of it and of the last of it. */
export class Pace {
  private readonly seen: { at: number; end: number }[] = [];
  private first: { at: number; end: number } | null = null;

  /** At `at` it had come up to `end`, in seconds both; answers 0 until that says anything. */
  of(at: number, end: number): number {
    const now = { at, end };
    this.first ??= now;
    this.seen.push(now);
    while ((this.seen[1]?.at ?? at) < at - paceLooked) this.seen.shift();
    const since = (from: { at: number; end: number }): number => (end - from.end) / (at - from.at);
    const looked = at - this.first.at;
    if (looked < paceSeen) return 0;
    return Math.min(since(this.first), since(this.seen[0] ?? this.first)) * Math.min(1, 0.4 + looked / trusted);
  }
}
