import type { CutEventLine } from '@relay/contract/cuts';
import { grades } from '@relay/core/relink/grade';
import { expect, it } from 'vitest';
import { counted, kindOf, kinds, ofKind } from './grades.ts';

const events = [...grades, null].map((grade, index) => ({ grade, index }) as CutEventLine);

it('every grade is of one kind, and what is looked for nowhere of none', () => {
  expect(grades.map(kindOf)).toEqual(['found', 'found', 'found', 'found', 'found', 'nearly', 'several', 'not found']);
  expect(counted(events)).toEqual({ found: 5, nearly: 1, several: 1, 'not found': 1 });
  for (const kind of kinds) expect(ofKind(events, kind)).toHaveLength(counted(events)[kind]);
  expect(ofKind(events, null)).toHaveLength(grades.length + 1);
});
