import { under } from '@relay/core/naming/under';
import { relinkCsv, relinkJson, sheetNames, type RelinkRow } from '@relay/core/relink/sheet';
import { readText, writeWhole } from '../disk/place.ts';
import { asShown } from '@relay/media/process/pinned';
import type { RecordedOutput } from './outcome.ts';

/** A sheet of a hundred thousand outputs is far smaller. */
const largestSheet = 512_000_000;

async function readRows(outRoot: string): Promise<RelinkRow[]> {
  const text = await readText(under(outRoot, sheetNames.json), largestSheet).catch((error: NodeJS.ErrnoException) =>
    error.code === 'ENOENT' ? null : Promise.reject(error),
  );
  if (text === null) return [];
  try {
    const sheet = JSON.parse(text) as { version?: number; rows?: RelinkRow[] };
    if (sheet.version === 1 && Array.isArray(sheet.rows)) return sheet.rows;
  } catch {
    /* told below, like a sheet of another kind */
  }
  throw new Error(
    `${asShown(under(outRoot, sheetNames.json))} is there, but is no relink sheet of ours: move it away or choose another folder`,
  );
}

/**
 * Brings the sheet in `outRoot` up to date: `rows` take the place of older lines for the same outputs, all others stay.
 * @throws Error when a file of that name is no relink sheet
 */
export async function mergeIntoSheet(outRoot: string, rows: readonly RelinkRow[]): Promise<void> {
  const all = new Map([...(await readRows(outRoot)), ...rows].map((row) => [row.output, row]));
  await writeRows(outRoot, [...all.values()]);
}

async function writeRows(outRoot: string, rows: readonly RelinkRow[]): Promise<void> {
  const sorted = [...rows].sort((a, b) => (a.output < b.output ? -1 : 1));
  await writeWhole(under(outRoot, sheetNames.json), relinkJson(sorted));
  await writeWhole(under(outRoot, sheetNames.csv), relinkCsv(sorted));
}

/**
 * Takes outputs that were deleted out of the sheet in `outRoot`, by their path and XXH3: one that was made anew since
 * stays. Where there is no sheet, none is made.
 * @throws Error when a file of that name is no relink sheet
 */
export async function dropFromSheet(outRoot: string, gone: ReadonlyMap<string, string>): Promise<void> {
  const rows = await readRows(outRoot);
  const kept = rows.filter(({ output, outputXxh3 }) => gone.get(output) !== outputXxh3);
  if (kept.length < rows.length) await writeRows(outRoot, kept);
}

/** The relink sheet of one folder of outputs, for a single process: CSV and JSON, kept current line by line. */
export interface Sheet {
  recorded(path: string): Promise<RecordedOutput | null>;
  record(row: RelinkRow): Promise<void>;
  /** The original that an output is of, below the folder that was read; null for one that was never written down. */
  originalOf(output: string): string | null;
}

export async function openSheet(outRoot: string): Promise<Sheet> {
  const line = (row: RelinkRow): RecordedOutput & { original: string } => ({
    xxh3: row.outputXxh3,
    state: row.state,
    planMark: row.planMark ?? null,
    original: row.original,
  });
  const known = new Map((await readRows(outRoot)).map((row) => [row.output, line(row)]));
  let writing: Promise<void> = Promise.resolve();
  return {
    async recorded(path) {
      return known.get(path) ?? null;
    },
    record(row) {
      known.set(row.output, line(row));
      writing = writing.catch(() => undefined).then(() => mergeIntoSheet(outRoot, [row]));
      return writing;
    },
    originalOf: (output) => known.get(output)?.original ?? null,
  };
}
