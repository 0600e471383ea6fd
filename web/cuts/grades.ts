import type { CutEventLine } from '@relay/contract/cuts';
import { isFound, type Grade } from '@relay/core/relink/grade';

/** What events are shown by: found without question, or in need of somebody. */
export const kinds = ['found', 'nearly', 'several', 'not found'] as const;
export type Kind = (typeof kinds)[number];

export function kindOf(grade: Grade): Kind {
  if (isFound(grade)) return 'found';
  return grade === 'none' ? 'not found' : (grade as 'nearly' | 'several');
}

/** A grade in a word or two. */
export const gradeWords: Readonly<Record<Grade, string>> = {
  said: 'as somebody said',
  exact: 'exact',
  name: 'by name',
  path: 'by path',
  timecode: 'by timecode',
  nearly: 'nearly',
  several: 'several',
  none: 'not found',
};

/** Events of one kind; all without. What is looked for nowhere is of none. */
export function ofKind(events: readonly CutEventLine[], kind: Kind | null): readonly CutEventLine[] {
  return kind === null ? events : events.filter(({ grade }) => grade !== null && kindOf(grade) === kind);
}

/** How many events are of each kind. */
export function counted(events: readonly CutEventLine[]): Record<Kind, number> {
  const counts = { found: 0, nearly: 0, several: 0, 'not found': 0 };
  for (const { grade } of events) if (grade !== null) counts[kindOf(grade)] += 1;
  return counts;
}
