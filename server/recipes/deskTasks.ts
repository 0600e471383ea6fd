import { onDatabase, type DeskTable } from '../desk/table.ts';
import { previewRecipe } from './preview.ts';

export const recipeTasks = { previewRecipe: onDatabase(previewRecipe) } satisfies DeskTable;
