import type { Cut } from '../cut/cut.ts';
import { framesNeeded } from '../cut/needed.ts';
import { answered, answersByKey, type CutAnswer } from './answers.ts';
import { grades, type Grade } from './grade.ts';
import { Matcher, type Match } from './match.ts';
import type { CutOriginal, CutOutput } from './target.ts';

/** A cut tried against originals: what became of each event, in the cut's order; null for what is looked for nowhere. */
export interface Rehearsal {
  matches: (Match | null)[];
  counts: Record<Grade, number>;
}

/**
 * Tries every event of a cut against originals, and against what was made of them; what a person said of one counts
 * before all.
 */
export function rehearsed(
  cut: Cut,
  originals: readonly CutOriginal[],
  outputs: readonly CutOutput[] = [],
  answers: readonly CutAnswer[] = [],
): Rehearsal {
  const matcher = new Matcher(originals, outputs);
  const needed = framesNeeded(cut);
  const said = answersByKey(answers);
  const counts = Object.fromEntries(grades.map((grade) => [grade, 0])) as Record<Grade, number>;
  const matches = cut.events.map((event, index) => {
    const frames = needed[index] ?? null;
    const match =
      event.source.kind === 'media' ? (answered(event, frames, said, originals) ?? matcher.match(event, frames)) : null;
    if (match) counts[match.grade] += 1;
    return match;
  });
  return { matches, counts };
}
