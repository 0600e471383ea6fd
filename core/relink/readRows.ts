import { placeProblem } from '../naming/under.ts';
import { fail, ok, type Result } from '../result.ts';
import { columns, type RelinkRow } from './sheet.ts';

const most = { letters: 400_000_000, rows: 500_000, words: 20_000 } as const;

const numbers: ReadonlySet<string> = new Set<keyof RelinkRow>([
  'frames',
  'originalBytes',
  'originalFrames',
  'originalFrom',
  'outputBytes',
]);
const mayLack: ReadonlySet<string> = new Set<keyof RelinkRow>([
  'colour',
  'lut',
  'frameMap',
  'driftSeconds',
  'originalTimecode',
  'originalFrom',
  'activeArea',
  'planMark',
  'place',
]);

/** Why a value of a sheet is none of ours; null where it is. */
function rowProblem(row: unknown): string | null {
  if (typeof row !== 'object' || row === null) return 'is no line';
  const said = row as Record<string, unknown>;
  for (const column of columns) {
    const value = said[column];
    if (value === undefined && mayLack.has(column)) continue;
    if (numbers.has(column) ? typeof value !== 'number' || !(value >= 0) : typeof value !== 'string')
      return `has no ${column}`;
    if (typeof value === 'string' && value.length > most.words)
      return `has more than ${most.words} letters of ${column}`;
  }
  const away = placeProblem(said.output as string);
  if (away !== null) return `names an output that ${away}`;
  const lut = typeof said.lut === 'string' && said.lut !== '' ? placeProblem(said.lut) : null;
  return lut === null ? null : `names a LUT that ${lut}`;
}

/**
 * Whole lines of a relink sheet (JSON, version 1), as somebody brought it: with the columns that are known, and outputs
 * that lie below the sheet. @returns why not, naming the first line that is none
 */
export function readRelinkRows(text: string): Result<RelinkRow[]> {
  if (text.length > most.letters) return fail('The relink sheet is larger than 400 MB', 'Hand it over in parts');
  let json: { version?: unknown; rows?: unknown } | null;
  try {
    json = JSON.parse(text) as { version?: unknown; rows?: unknown } | null;
  } catch (error) {
    return fail(`The relink sheet is no JSON: ${(error as Error).message.slice(0, 120)}`, 'Take relink.json');
  }
  if (json?.version !== 1 || !Array.isArray(json.rows) || json.rows.length > most.rows)
    return fail('It is no relink sheet of version 1', 'Take the relink.json that lies beside the outputs');
  const rows: RelinkRow[] = [];
  for (const [index, row] of (json.rows as unknown[]).entries()) {
    const problem = rowProblem(row);
    if (problem) return fail(`Line ${index + 1} of the relink sheet ${problem}`, 'Take it as it was written');
    const said = row as Record<string, unknown>;
    rows.push(
      Object.fromEntries(
        columns.flatMap((column) => (said[column] === undefined ? [] : [[column, said[column]]])),
      ) as unknown as RelinkRow,
    );
  }
  return ok(rows);
}
