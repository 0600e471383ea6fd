import { onDatabase, type DeskTable } from '../desk/table.ts';
import { beginChoice, checkChoice, forecastChoice, forecastRecipe } from './choice.ts';
import { runAnswer } from './queries.ts';
import { whatIsNew } from './whatIsNew.ts';

export const runTasks = {
  runAnswer: onDatabase(runAnswer),
  checkChoice,
  forecastChoice,
  forecastRecipe,
  beginChoice,
  whatIsNew,
} satisfies DeskTable;
