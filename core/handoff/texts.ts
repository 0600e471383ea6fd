import { relinkCsv, relinkJson, sheetNames, type RelinkRow } from '../relink/sheet.ts';
import { collectionOtio } from './collection.ts';
import { readMeText, type ReadMe } from './readMe.ts';

/** Names of what is written beside the files of a hand-off. */
export const textNames = {
  ...sheetNames,
  otio: 'clips.otio',
  readMe: 'READ ME.txt',
  toDelete: 'TO DELETE.txt',
} as const;

/** What a hand-off's texts are made of; its rows are of all that it may hold. */
export interface TextsOf extends Omit<ReadMe, 'rows' | 'files' | 'bytes' | 'originals' | 'names'> {
  rows: readonly RelinkRow[];
  /** Rows of what lies in the folder from before. */
  before: readonly RelinkRow[];
  /** Everything that travels, with what it is. */
  items: readonly { path: string; kind: string; sizeBytes: number }[];
}

/** A row of the sheet that lies where its output does: it names no place. */
function ownPlace(row: RelinkRow): RelinkRow {
  const own = { ...row };
  delete own.place;
  return own;
}

/**
 * The texts beside a hand-off of which these items came over whole: the relink sheet of exactly what is there (CSV,
 * JSON), an OpenTimelineIO collection, `READ ME.txt`, and what to delete, where there is something.
 */
export function textsOf(of: TextsOf, came: ReadonlySet<string>): { path: string; text: string }[] {
  const now = of.rows.filter(({ output }) => came.has(output));
  const fresh = new Set(now.map(({ output }) => output));
  const gone = new Set(of.toDelete.map(({ path }) => path));
  const kept = of.before.filter(({ output }) => !fresh.has(output) && !gone.has(output));
  const rows = [...kept, ...now].map(ownPlace).sort((a, b) => (a.output < b.output ? -1 : 1));
  const there = of.items.filter(({ path }) => came.has(path));
  const readMe = readMeText({
    ...of,
    rows: now,
    files: there.length,
    bytes: there.reduce((sum, { sizeBytes }) => sum + sizeBytes, 0),
    originals: there.filter(({ kind }) => kind === 'original').length,
    names: textNames,
  });
  const deletes = of.toDelete.map(({ path }) => `${path}\r\n`).join('');
  return [
    { path: textNames.csv, text: relinkCsv(rows) },
    { path: textNames.json, text: relinkJson(rows) },
    { path: textNames.otio, text: collectionOtio(of.name, rows) },
    ...(deletes === '' ? [] : [{ path: textNames.toDelete, text: deletes }]),
    { path: textNames.readMe, text: readMe },
  ];
}
