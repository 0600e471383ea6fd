import { onDatabase, type DeskTable } from '../desk/table.ts';
import { bringIn } from './cuts.ts';
import { missing, rewritten } from './files.ts';
import { changesOf, rehearsalOf } from './rehearsal.ts';

export const cutTasks = {
  bringInCut: onDatabase(bringIn),
  rehearsalOf: onDatabase(rehearsalOf),
  changesOfCut: onDatabase(changesOf),
  rewrittenCut: onDatabase(rewritten),
  missingOfCut: onDatabase(missing),
} satisfies DeskTable;
