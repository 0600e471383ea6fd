import { formatRate, nominalFramesPerSecond } from '../../time/rate.ts';
import type { RateAsked } from '../rate.ts';
import type { EdlLine } from './lines.ts';

/** What the labels of a list have in common, before it is known what they mean. */
export interface Labelled {
  /** Any of them has a `;`: then each says itself what it is. */
  marked: boolean;
  /** The first line of mode, which is that of the record; source labels go by the last one before them. */
  mode: boolean | null;
  count: number;
  /** How many have each number of a frame. */
  numbers: Map<number, number>;
}

/** Counts a list's labels, and how its drop-frame ones are told. */
export function labelled(lines: readonly EdlLine[]): Labelled {
  const found: Labelled = { marked: false, mode: null, count: 0, numbers: new Map() };
  for (const line of lines) {
    if (line.kind === 'mode') found.mode ??= line.dropFrame;
    if (line.kind !== 'event') continue;
    for (const label of line.labels) {
      const number = Number(label.slice(9));
      found.marked ||= /[;.]\d+$/.test(label);
      found.count += 1;
      found.numbers.set(number, (found.numbers.get(number) ?? 0) + 1);
    }
  }
  return found;
}

/** What a list that was given a rate holds against it; null where a few labels alone are wrong, or none. */
export function contradiction({ numbers, count }: Labelled, { given }: RateAsked): string | null {
  if (!given) return null;
  const beyond = [...numbers].filter(([number]) => number >= nominalFramesPerSecond(given));
  const wrong = beyond.reduce((sum, [, times]) => sum + times, 0);
  return wrong >= 3 && wrong > count / 50
    ? `${wrong} of its ${count} labels count to ${Math.max(...beyond.map(([number]) => number))}, which ${formatRate(given)} does not`
    : null;
}
