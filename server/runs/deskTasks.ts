import { onDatabase, type DeskTable } from '../desk/table.ts';
import { beginChoice, checkChoice, forecastChoice, forecastRecipe } from './choice.ts';
import { runAnswer } from './queries.ts';

export const runTasks = {
  runAnswer: onDatabase(runAnswer),
  checkChoice,
  forecastChoice,
  forecastRecipe,
  beginChoice,
} satisfies DeskTable;
