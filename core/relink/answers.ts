import type { CutEvent, Span } from '../cut/cut.ts';
import { scaleToInteger, divide, type Rational } from '../time/rational.ts';
import type { Match } from './match.ts';
import type { CutOriginal } from './target.ts';

/** What a person said of an event: of which original it is, and where in that it begins. It holds for later versions. */
export interface CutAnswer {
  /** What the list calls the source (`answerKey`). */
  key: string;
  /** The frames of the source that the answered event showed. */
  source: Span;
  /** The original's place among those that are matched against; null where it is none of them any more. */
  original: number | null;
  /** The frame of the original, from 0, that is `source.from`. */
  at: number;
}

/** What a list calls a source: events of the same are answered together. */
export function answerKey({ source }: CutEvent): string {
  return JSON.stringify([source.reel, source.clip, source.file]);
}

/** What was said of an event, or of others of its source that show some of the same frames; null where nothing was. */
export function answered(
  event: CutEvent,
  needed: Span | null,
  answers: ReadonlyMap<string, readonly CutAnswer[]>,
  originals: readonly CutOriginal[],
): Match | null {
  const said = answers.get(answerKey(event))?.filter(({ original }) => original !== null) ?? [];
  const { frames, rate } = event.source;
  const overlapping = said.filter(
    ({ source }) => frames === null || (source.from < frames.to && frames.from < source.to),
  );
  // Where all answers about the source agree, others of its events are of the same.
  const one =
    overlapping[0] ??
    (new Set(said.map(({ original, at, source }) => `${original} ${at - source.from}`)).size === 1
      ? said[0]
      : undefined);
  const original = one ? originals[one.original ?? -1] : undefined;
  if (!one || !original) return null;
  return {
    grade: 'said',
    original: one.original,
    output: null,
    frames: needed && inOriginal(needed, one, rate, original),
    why: 'So somebody said',
    near: [],
  };
}

function inOriginal(needed: Span, { source, at }: CutAnswer, rate: Rational, original: CutOriginal): Span | null {
  const ratio = original.rate ? divide(original.rate, rate) : { num: 1, den: 1 };
  const from = at + scaleToInteger(needed.from - source.from, ratio);
  const to = from + Math.max(1, scaleToInteger(needed.to - needed.from, ratio));
  const had = { from: Math.max(0, from), to: original.rate ? Math.min(original.frames, to) : to };
  return had.to > had.from ? had : null;
}

/** Answers by what they are about. */
export function answersByKey(answers: readonly CutAnswer[]): Map<string, CutAnswer[]> {
  const found = new Map<string, CutAnswer[]>();
  for (const one of answers) {
    const all = found.get(one.key);
    if (all) all.push(one);
    else found.set(one.key, [one]);
  }
  return found;
}
