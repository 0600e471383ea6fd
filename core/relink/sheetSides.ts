import { parseRate } from '../time/rate.ts';
import { outputOf } from './readSheet.ts';
import { originalKey, type RelinkRow } from './sheet.ts';
import type { PulledFile } from './swap.ts';
import type { CutOriginal, CutOutput } from './target.ts';

/** A relink sheet as a cut is swapped by it: its originals, as far as it knows them, and all that was made of them. */
export interface SheetSides {
  originals: CutOriginal[];
  outputs: (CutOutput & { role: string })[];
}

/** The originals and outputs that rows of a sheet tell of; rows that say no rate or no map are left out. */
export function sheetSides(rows: readonly RelinkRow[]): SheetSides {
  const places = new Map<string, number>();
  const originals: CutOriginal[] = [];
  const outputs: SheetSides['outputs'] = [];
  for (const row of rows) {
    const read = outputOf(row);
    if (typeof read === 'string') continue;
    const { originalPath, originalFrames, ...output } = read;
    // Parts of an original are of one.
    const key = originalKey({ ...row, originalFrom: 0 });
    let place = places.get(key);
    if (place === undefined) {
      place = originals.length;
      places.set(key, place);
      const rate = parseRate(row.originalRate);
      const start = row.originalTimecode ?? '';
      originals.push({
        path: originalPath,
        reels: row.reel === '' ? [row.roll] : [row.reel, row.roll],
        timecode: start === '' ? null : { start, dropFrame: /[;.]/.test(start) },
        rate: rate.ok ? rate.value : output.rate,
        frames: originalFrames,
      });
    }
    outputs.push({ ...output, original: place, role: row.role });
  }
  return { originals, outputs };
}

/** Outputs of a role as files that a cut can be put on; `pathOf` writes each as lists are to name it. */
export function filesOfRole(
  { originals, outputs }: SheetSides,
  role: string,
  pathOf: (path: string) => string,
): PulledFile[] {
  return outputs
    .filter((output) => output.role === role)
    .map(({ original, path, reel, timecode, rate, frames, map, from = 0 }) => ({
      original,
      path: pathOf(path),
      reel: reel === '' ? null : reel,
      timecode,
      rate,
      frames,
      map,
      // Of a part the sheet does not say where it ends, but how much was made of it.
      taken: { from, to: from > 0 ? from + frames : (originals[original]?.frames ?? frames) },
    }));
}
