import { fail, ok, type Result } from '../result.ts';
import { identityFields, identityProblem, type IdentityField } from './identity.ts';

/**
 * Cells that a spreadsheet may take for a formula: they begin with a sign, in ASCII, in full width or as Unicode has it
 * besides, with something invisible, or with blanks before a sign.
 */
const formula = /^(?:[\p{Cf}\p{Cc}]|\p{Z}*[=+\-@＝＋－＠﹢﹣﹦﹫−])/u;

/**
 * A cell of a CSV file (RFC 4180): quoted where it must be, and harmless where a spreadsheet would run it: an
 * apostrophe is put before it.
 */
export function csvCell(value: string | number | null): string {
  if (value === null) return '';
  if (typeof value === 'number') return String(value);
  const safe = formula.test(value) ? `'${value}` : value;
  return /[",\r\n]/.test(safe) ? `"${safe.replaceAll('"', '""')}"` : safe;
}

export function csvLine(cells: readonly (string | number | null)[]): string {
  return cells.map(csvCell).join(',');
}

/** A cell as it was before `csvCell` made it harmless. */
function unguarded(cell: string): string {
  return cell.startsWith("'") && formula.test(cell.slice(1)) ? cell.slice(1) : cell;
}

const most = { bytes: 20_000_000, rows: 50_000, columns: 500 };

/**
 * Reads CSV with quotes, CRLF or LF, commas or semicolons (whichever the first line holds more of), with or without a
 * byte order mark.
 */
export function parseCsv(text: string): Result<string[][]> {
  if (text.length > most.bytes) return fail('The file is larger than 20 MB', 'Take away what is not needed');
  const source = text.startsWith('\ufeff') ? text.slice(1) : text;
  const firstLine = source.slice(0, source.search(/\r?\n|$/));
  const separator = (firstLine.match(/;/g)?.length ?? 0) > (firstLine.match(/,/g)?.length ?? 0) ? ';' : ',';
  const rows: string[][] = [];
  let row: string[] = [];
  // Cells are taken whole, from one mark to the next: letter by letter, a long one would take its length squared.
  const next = new RegExp(`[${separator}\\n]`, 'g');
  let cell = '';
  const endRow = (): void => {
    row.push(cell);
    if (row.some((value) => value !== '')) rows.push(row);
    row = [];
    cell = '';
  };
  for (let at = 0; at < source.length;) {
    if (source[at] === '"' && cell === '') {
      const quoted = quotedCell(source, at + 1);
      if (!quoted) return fail('A quoted cell is never closed', 'Look for a single " and double it or take it away');
      cell = quoted.text;
      at = quoted.end;
    }
    next.lastIndex = at;
    const end = next.exec(source)?.index ?? source.length;
    cell += source.slice(at, end).replaceAll('\r', '');
    if (end === source.length) break;
    if (source[end] === '\n') endRow();
    else {
      row.push(cell);
      cell = '';
    }
    at = end + 1;
    if (row.length > most.columns)
      return fail(
        `Row ${rows.length + 1} of the file has more than ${most.columns} cells`,
        'Take away what is not needed',
      );
    if (rows.length > most.rows) return fail(`The file has more than ${most.rows} rows`, 'Bring it in in parts');
  }
  if (cell !== '' || row.length > 0) endRow();
  return ok(rows);
}

/** A quoted cell from behind its first quote on: its text, and where it ends; null where it never does. */
function quotedCell(source: string, from: number): { text: string; end: number } | null {
  let text = '';
  for (let at = from; ;) {
    const quote = source.indexOf('"', at);
    if (quote < 0) return null;
    text += source.slice(at, quote);
    if (source[quote + 1] !== '"') return { text, end: quote + 1 };
    text += '"';
    at = quote + 2;
  }
}

/** What one row of a file wants to change on one clip. */
export interface IdentityRow {
  /** Number of the row in the file, 1 being the headings. */
  row: number;
  clip: string;
  change: Partial<Record<IdentityField, string | null>> & { circled?: boolean };
}

export interface IdentityRows {
  rows: IdentityRow[];
  refused: { row: number; why: string }[];
  /** Headings that mean nothing here. */
  ignored: string[];
}

const yes = /^(yes|y|true|1|x|circled)$/i;
const no = /^(no|n|false|0)?$/i;

/**
 * The rows of a CSV file as changes. A clip is found by `id`, else by `path`, else by `clip` (its name) when only one
 * is called so; `known` says which clips there are. Columns for fields that are absent change nothing; empty cells
 * take away what was said.
 */
export function identityRows(
  table: readonly (readonly string[])[],
  known: readonly { id: string; path: string; stem: string }[],
): Result<IdentityRows> {
  const headings = (table[0] ?? []).map((cell) => cell.trim().toLowerCase());
  const column = (name: string): number => headings.indexOf(name);
  const fields = identityFields.filter((field) => column(field) >= 0);
  if (!['id', 'path', 'clip'].some((name) => column(name) >= 0))
    return fail(
      'The file has no column id, path or clip to find clips by',
      'Begin with the CSV that Brisk Relay writes',
    );
  if (fields.length === 0 && column('circled') < 0)
    return fail(
      'The file has no column that can be taken in',
      `Name one of ${[...identityFields, 'circled'].join(', ')}`,
    );
  const byId = new Map(known.map((clip) => [clip.id, clip.id]));
  const byPath = new Map(known.map((clip) => [clip.path, clip.id]));
  const byName = new Map<string, string[]>();
  for (const clip of known) byName.set(clip.stem, [...(byName.get(clip.stem) ?? []), clip.id]);
  const found: IdentityRows = {
    rows: [],
    refused: [],
    ignored: headings.filter(
      (name) => name !== '' && !['id', 'path', 'clip', 'circled', ...identityFields].includes(name),
    ),
  };
  const seen = new Map<string, number>();
  table.slice(1).forEach((cells, index) => {
    const row = index + 2;
    const refuse = (why: string): void => void found.refused.push({ row, why });
    const cell = (name: string): string => unguarded((cells[column(name)] ?? '').trim());
    if (cells.length > headings.length && cells.slice(headings.length).some((extra) => extra.trim() !== '')) {
      refuse(`has ${cells.length} cells, the headings have ${headings.length}`);
      return;
    }
    const named = byName.get(cell('clip')) ?? [];
    const clip = byId.get(cell('id')) ?? byPath.get(cell('path')) ?? (named.length === 1 ? named[0] : undefined);
    if (!clip) {
      refuse(
        named.length > 1
          ? `${named.length} clips are called ${cell('clip')}; give their path`
          : `no clip here is called ${cell('path') || cell('clip') || cell('id') || 'nothing'}`,
      );
      return;
    }
    const before = seen.get(clip);
    if (before !== undefined) {
      refuse(`is about the same clip as row ${before}`);
      return;
    }
    const change: IdentityRow['change'] = {};
    for (const field of fields) {
      const value = cell(field);
      const problem = identityProblem(field, value);
      if (problem) {
        refuse(`${field}: ${problem}`);
        return;
      }
      change[field] = value === '' ? null : value;
    }
    if (column('circled') >= 0) {
      const value = cell('circled');
      if (!yes.test(value) && !no.test(value)) {
        refuse(`circled: ${JSON.stringify(value)} is neither yes nor no`);
        return;
      }
      change.circled = yes.test(value);
    }
    seen.set(clip, row);
    found.rows.push({ row, clip, change });
  });
  return ok(found);
}
