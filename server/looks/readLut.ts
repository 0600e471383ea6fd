import { sayLut } from '@relay/core/colour/chain/plan';
import { examine, type Examined } from '@relay/core/colour/examine/examine';
import { lutFacts } from '@relay/core/colour/examine/facts';
import { guessRange } from '@relay/core/colour/examine/guess';
import { readLutFile } from '@relay/core/colour/lut/file';
import { ok, type Result } from '@relay/core/result';

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
