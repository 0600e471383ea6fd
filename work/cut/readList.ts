import type { ReadCut } from '@relay/core/cut/cut';
import type { RateAsked } from '@relay/core/cut/rate';
import type { ReadSheet } from '@relay/core/relink/readSheet';
import { rehearsed } from '@relay/core/relink/rehearsal';
import type { CutOriginal, CutOutput } from '@relay/core/relink/target';
import { fail, ok, type Result } from '@relay/core/result';
import { decodedText } from '@relay/core/text/decode';
import { formatRate } from '@relay/core/time/rate';
import type { Rational } from '@relay/core/time/rational';
import { aside } from '../aside/aside.ts';
import { TooMuch } from '../aside/tooMuch.ts';
import { ratesOf } from './originals.ts';

/** Rates that a list is tried at. */
const mostRates = 6;

/** Larger lists are no edit lists. */
export const mostListBytes = 200_000_000;

const tooMuch = (error: unknown): Result<never> => {
  if (error instanceof TooMuch) return fail(error.message, 'Export the cut in parts');
  throw error;
};

/** Reads an edit list in a thread of its own: strangers made it. */
export function readList(bytes: Uint8Array, asked: RateAsked): Promise<Result<ReadCut>> {
  return aside('cut', { text: decodedText(bytes), asked }).catch(tooMuch);
}

/** Reads a relink sheet likewise. */
export function readSheetOf(bytes: Uint8Array): Promise<Result<ReadSheet>> {
  return aside('relinkSheet', decodedText(bytes)).catch(tooMuch);
}

/**
 * Reads an edit list that is to be found in originals. Where it states no rate and none is given, the one of theirs
 * counts at which most of its events are found; of several, the commonest.
 */
export async function readListFor(
  bytes: Uint8Array,
  given: Rational | null,
  originals: readonly CutOriginal[],
  outputs: readonly CutOutput[] = [],
): Promise<Result<ReadCut>> {
  const rates = ratesOf([...originals, ...outputs]);
  const usual = await readList(bytes, { given, media: rates });
  if (given || !usual.ok || usual.value.cut.rate.known === 'stated') return usual;
  let best: { read: ReadCut; found: number } | null = null;
  for (const rate of rates.slice(0, mostRates)) {
    const read = await readList(bytes, { given: rate });
    if (!read.ok) continue;
    const { counts } = rehearsed(read.value.cut, originals, outputs);
    const found = counts.exact + counts.name + counts.path + counts.timecode;
    if (found > (best?.found ?? 0)) best = { read: read.value, found };
  }
  if (!best) return usual;
  const { cut, remarks } = best.read;
  const { rate } = cut.rate;
  const why = `The list states no rate; at ${formatRate(rate)} ${best.found} of its ${cut.events.length} events are found, more than at any other`;
  return ok({ cut: { ...cut, rate: { rate, known: 'by its labels', why } }, remarks });
}
