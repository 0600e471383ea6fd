import type { DataSource } from 'typeorm';
import { beginRoll, cardAnswer } from '../arrivals/begin.ts';
import { rollAnswer } from '../arrivals/rolls.ts';
import { decide, decided } from '../clips/decisions.ts';
import { clipsCsv, previewCsv, previewPattern, say, sayCsv, sayPattern, undo } from '../clips/identity.ts';
import { report } from '../clips/dayReport.ts';
import { commonOf } from '../clips/one.ts';
import { refreshClips } from '../clips/refresh.ts';
import { sayCorrections, undoCorrections } from '../corrections/rules.ts';
import { takeIn } from '../looks/cabinet.ts';
import { previewRecipe } from '../recipes/preview.ts';
import { beginChoice, checkChoice, forecastChoice, forecastRecipe } from '../runs/choice.ts';
import { runAnswer } from '../runs/queries.ts';
import type { Tools } from './tools.ts';

/** What a function takes behind its database. */
type After<Work> = Work extends (db: DataSource, ...rest: infer Rest) => unknown ? Rest : never;

/** What is done at the desk: each is the function of its name, with a database of the thread's own. */
export const deskTasks = {
  say: ({ db }: Tools, ...rest: After<typeof say>) => say(db, ...rest),
  sayPattern: ({ db }: Tools, ...rest: After<typeof sayPattern>) => sayPattern(db, ...rest),
  sayCsv: ({ db }: Tools, ...rest: After<typeof sayCsv>) => sayCsv(db, ...rest),
  previewPattern: ({ db }: Tools, ...rest: After<typeof previewPattern>) => previewPattern(db, ...rest),
  previewCsv: async ({ db }: Tools, ...rest: After<typeof previewCsv>) => (await previewCsv(db, ...rest)).preview,
  clipsCsv: ({ db }: Tools, ...rest: After<typeof clipsCsv>) => clipsCsv(db, ...rest),
  undo: ({ db }: Tools, ...rest: After<typeof undo>) => undo(db, ...rest),
  commonOf: ({ db }: Tools, ...rest: After<typeof commonOf>) => commonOf(db, ...rest),
  refreshClips: ({ db }: Tools, ...rest: After<typeof refreshClips>) => refreshClips(db, ...rest),
  decide: (tools: Tools, ...[production, answered, answer, note]: Tail<Parameters<typeof decide>>) =>
    decide(tools, production, answered, answer, note),
  decided: (tools: Tools, ...[production, answered]: Tail<Parameters<typeof decided>>) =>
    decided(tools, production, answered),
  sayCorrections: ({ db }: Tools, ...rest: After<typeof sayCorrections>) => sayCorrections(db, ...rest),
  undoCorrections: ({ db }: Tools, ...rest: After<typeof undoCorrections>) => undoCorrections(db, ...rest),
  takeIn: ({ db }: Tools, ...rest: After<typeof takeIn>) => takeIn(db, ...rest),
  previewRecipe: ({ db }: Tools, ...rest: After<typeof previewRecipe>) => previewRecipe(db, ...rest),
  /** Nothing but the tools, opened: whoever asks next finds them so. */
  ready: () => true,
  runAnswer: ({ db }: Tools, ...rest: After<typeof runAnswer>) => runAnswer(db, ...rest),
  report,
  cardAnswer,
  rollAnswer: ({ db, stores }: Tools, id: string) => rollAnswer(db, stores, id),
  beginRoll,
  checkChoice,
  forecastChoice,
  forecastRecipe,
  beginChoice,
} as const;

type Tail<List extends readonly unknown[]> = List extends readonly [unknown, ...infer Rest] ? Rest : never;

export type DeskTasks = typeof deskTasks;
export type DeskTaskName = keyof DeskTasks;
