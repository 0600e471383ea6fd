import { fail, ok, type Result } from '../result.ts';
import { readMap } from '../time/frameMap.ts';
import { parseRational } from '../time/rational.ts';
import { endsAlike } from './match.ts';
import type { CutOriginal, CutOutput } from './target.ts';
import type { RelinkRow } from './sheet.ts';

/** A line of a relink sheet that came back, as far as a cut needs it. */
export interface SheetOutput extends Omit<CutOutput, 'original'> {
  /** The original's path as the sheet has it, and how many pictures it had. */
  originalPath: string;
  originalFrames: number;
}

export interface ReadSheet {
  outputs: SheetOutput[];
  /** Lines that could not be taken, and why. */
  remarks: string[];
}

const most = { letters: 400_000_000, rows: 500_000, remarks: 100 } as const;

/** Reads a relink sheet of ours (JSON, version 1). A line that lacks something is left out and said. */
export function readRelinkSheet(text: string): Result<ReadSheet> {
  if (text.length > most.letters) return fail('The relink sheet is larger than 400 MB', 'Hand it over in parts');
  let json: unknown;
  try {
    json = JSON.parse(text);
  } catch (error) {
    return fail(`The relink sheet is no JSON: ${(error as Error).message.slice(0, 120)}`, 'Take relink.json');
  }
  const { version, rows } = (typeof json === 'object' && json !== null ? json : {}) as {
    version?: unknown;
    rows?: unknown;
  };
  if (version !== 1 || !Array.isArray(rows))
    return fail('It is no relink sheet of version 1', 'Take the relink.json that lies beside the outputs');
  const outputs: SheetOutput[] = [];
  const remarks: string[] = [];
  for (const [index, row] of rows.slice(0, most.rows).entries()) {
    const read = outputOf(row);
    if (typeof read !== 'string') outputs.push(read);
    else if (remarks.length < most.remarks) remarks.push(`Line ${index + 1} of the relink sheet ${read}: left out`);
  }
  return ok({ outputs, remarks });
}

/** A row as an output, or why it is none. */
export function outputOf(row: unknown): SheetOutput | string {
  const said = (typeof row === 'object' && row !== null ? row : {}) as Partial<Record<keyof RelinkRow, unknown>>;
  const text = (column: keyof RelinkRow): string => (typeof said[column] === 'string' ? said[column] : '');
  const rate = parseRational(text('rateFraction'));
  const map = readMap(text('frameMap') || 'every');
  if (text('output') === '' || text('original') === '') return 'names no output or no original';
  if (!rate.ok || rate.value.num <= 0) return 'says no rate';
  if (!map.ok) return `has no frame map: ${map.problem.what}`;
  const start = text('startTimecode');
  return {
    path: text('output'),
    reel: text('reel'),
    timecode: start === '' ? null : { start, dropFrame: /[;.]/.test(start) },
    rate: rate.value,
    frames: typeof said.frames === 'number' && said.frames > 0 ? said.frames : 0,
    map: map.value,
    ...(typeof said.originalFrom === 'number' && said.originalFrom > 0 ? { from: said.originalFrom } : {}),
    originalPath: text('original'),
    originalFrames: typeof said.originalFrames === 'number' ? said.originalFrames : 0,
  };
}

/**
 * Outputs of a sheet with the originals that are at hand: the one whose path ends most alike, its name at least, and that
 * has as many pictures. Those whose original is not there are left out.
 */
export function outputsAmong(outputs: readonly SheetOutput[], originals: readonly CutOriginal[]): CutOutput[] {
  const byName = new Map<string, number[]>();
  const nameOf = (path: string): string => path.slice(path.lastIndexOf('/') + 1).toLowerCase();
  originals.forEach(({ path }, index) => {
    const all = byName.get(nameOf(path));
    if (all) all.push(index);
    else byName.set(nameOf(path), [index]);
  });
  return outputs.flatMap(({ originalPath, originalFrames, ...output }) => {
    const able = (byName.get(nameOf(originalPath)) ?? [])
      .filter((index) => originals[index]?.frames === originalFrames)
      .map((index) => ({ index, alike: endsAlike(originals[index]?.path ?? '', originalPath) }))
      .sort((a, b) => b.alike - a.alike);
    const [best, second] = able;
    return best && best.alike !== second?.alike ? [{ ...output, original: best.index }] : [];
  });
}
