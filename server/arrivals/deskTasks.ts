import { type DeskTable } from '../desk/table.ts';
import type { Tools } from '../desk/tools.ts';
import { beginRoll, cardAnswer } from './begin.ts';
import { report } from './dayReport.ts';
import { rollAnswer } from './rolls.ts';

export const arrivalTasks = {
  report,
  cardAnswer,
  beginRoll,
  rollAnswer: ({ db, stores }: Tools, roll: string) => rollAnswer(db, stores, roll),
} satisfies DeskTable;
