import { onDatabase, type DeskTable } from '../desk/table.ts';
import { sayCorrections, undoCorrections } from './rules.ts';

export const correctionTasks = {
  sayCorrections: onDatabase(sayCorrections),
  undoCorrections: onDatabase(undoCorrections),
} satisfies DeskTable;
