import { onDatabase, type DeskTable } from '../desk/table.ts';
import type { Tools } from '../desk/tools.ts';
import { decide, decided } from './decisions.ts';
import { clipsCsv, previewCsv, previewPattern, say, sayCsv, sayPattern, undo } from './identity.ts';
import { commonOf } from './one.ts';
import { refreshClips } from './refresh.ts';

/** What goes through all clips of a production, or many. */
export const clipTasks = {
  say: onDatabase(say),
  sayPattern: onDatabase(sayPattern),
  sayCsv: onDatabase(sayCsv),
  previewPattern: onDatabase(previewPattern),
  previewCsv: async ({ db }: Tools, production: string, bytes: Uint8Array) =>
    (await previewCsv(db, production, bytes)).preview,
  clipsCsv: onDatabase(clipsCsv),
  undo: onDatabase(undo),
  commonOf: onDatabase(commonOf),
  refreshClips: onDatabase(refreshClips),
  decide,
  decided,
} satisfies DeskTable;
