import type { Result } from '../result.ts';
import type { ReadCut } from './cut.ts';
import { readEdl } from './edl/read.ts';
import { readOtio } from './otio/read.ts';
import type { RateAsked } from './rate.ts';

export const cutForms = ['edl', 'otio'] as const;
export type CutForm = (typeof cutForms)[number];

/** Which form a list is in, by how it begins: JSON is OpenTimelineIO's. */
export function formOf(text: string): CutForm {
  return /^[\uFEFF\s]*[[{]/.test(text.slice(0, 1_000)) ? 'otio' : 'edl';
}

/** Reads an edit list of any form. A form more is a reader more, in a folder beside the others, and a row here. */
export function readCut(text: string, asked: RateAsked): Result<ReadCut> {
  const readers = { edl: readEdl, otio: readOtio } as const;
  return readers[formOf(text)](text, asked);
}
