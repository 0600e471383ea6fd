import { sayLut } from '../chain/plan.ts';
import { examine, type Examined } from './examine.ts';
import { lutFacts } from './facts.ts';
import { guessRange } from './guess.ts';
import { readLutFile } from '../lut/file.ts';
import { ok, type Result } from '../../result.ts';

/** What the cabinet keeps of a LUT file beside its bytes. */
export interface LutRead {
  format: string;
  title: string | null;
  says: string;
  examined: Examined;
  rangeIn: string;
  rangeOut: string;
}

/** Reads and examines a LUT file. */
export function readLut({ text, fileName }: { text: string; fileName: string }): Result<LutRead> {
  const read = readLutFile(text, fileName);
  if (!read.ok) return read;
  const { rangeIn, rangeOut } = guessRange(lutFacts(read.value));
  return ok({
    format: read.value.format,
    title: read.value.title,
    says: sayLut(read.value),
    examined: examine(read.value),
    rangeIn,
    rangeOut,
  });
}
