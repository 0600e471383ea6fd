import { fail, ok, type Result } from '../result.ts';
import { formatRate, nominalFramesPerSecond } from '../time/rate.ts';
import { rational, type Rational } from '../time/rational.ts';
import { droppedPerMinute } from '../time/timecode.ts';
import type { CutRate } from './cut.ts';

/** What the labels of a list show of the rate they were counted in. */
export interface LabelFacts {
  /** The highest number of a frame within its second. */
  highest: number;
  /** Some are drop-frame. */
  dropFrame: boolean;
}

/** What is known beside a list that states no rate. */
export interface RateAsked {
  /** A person's word, or the production's rate. */
  given: Rational | null;
  /** Rates of the media at hand, the commonest first. */
  media?: readonly Rational[];
}

/** Rates that edit lists are written in, those that are met most first. */
const usual: readonly Rational[] = [
  rational(24000, 1001),
  rational(25),
  rational(30000, 1001),
  rational(24),
  rational(30),
  rational(50),
  rational(60000, 1001),
  rational(60),
  rational(48000, 1001),
  rational(48),
  rational(100),
  rational(120000, 1001),
  rational(120),
];

/** Why labels cannot have been counted in a rate; null where they can. */
function against({ highest, dropFrame }: LabelFacts, rate: Rational): string | null {
  if (highest >= nominalFramesPerSecond(rate)) return `a frame number ${highest} does not exist at ${formatRate(rate)}`;
  if (dropFrame && droppedPerMinute(rate) === 0) return `${formatRate(rate)} has no drop-frame labels`;
  return null;
}

/**
 * The rate of a list that states none: the one that is given where its labels allow it, else the commonest of the media
 * that they allow, else the slowest usual one that they allow. Fails where a given rate cannot be.
 */
export function cutRate(labels: LabelFacts, { given, media = [] }: RateAsked): Result<CutRate> {
  if (given) {
    const why = against(labels, given);
    if (why !== null) return fail(`The list is not in ${formatRate(given)}: ${why}`, 'Say its own rate');
    return ok({ rate: given, known: 'given', why: `The list states no rate; ${formatRate(given)} was given` });
  }
  const proved = labels.dropFrame
    ? `its labels are drop-frame and count to ${labels.highest}`
    : `its labels count to ${labels.highest}`;
  const ofMedia = media.find((rate) => against(labels, rate) === null);
  if (ofMedia)
    return ok({
      rate: ofMedia,
      known: 'by its labels',
      why: `The list states no rate; ${formatRate(ofMedia)} is that of most originals it can be of, as ${proved}`,
    });
  const slowest = [...usual]
    .sort((a, b) => nominalFramesPerSecond(a) - nominalFramesPerSecond(b))
    .find((rate) => against(labels, rate) === null);
  if (!slowest) return fail(`No rate has a frame number ${labels.highest}`, 'Look whether its labels are HH:MM:SS:FF');
  return ok({
    rate: slowest,
    known: 'by its labels',
    why: `The list states no rate; ${formatRate(slowest)} is the slowest it can be, as ${proved}. Say its rate to be sure`,
  });
}
