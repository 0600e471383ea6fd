import { cutCsv } from '@relay/core/cut/csv';
import { writeEdl } from '@relay/core/cut/edl/write';
import { writeOtio } from '@relay/core/cut/otio/write';
import { isFound } from '@relay/core/relink/grade';
import { missingCsv, missingText } from '@relay/core/relink/missing';
import type { DataSource } from 'typeorm';
import { versionOf } from './cuts.ts';
import { rehearsalOf } from './rehearsal.ts';

/** A file to be taken along. */
export interface Written {
  name: string;
  text: string;
}

const writers = { edl: writeEdl, otio: writeOtio, csv: cutCsv } as const;

/** A version in another form. */
export async function rewritten(db: DataSource, id: string, to: keyof typeof writers): Promise<Written> {
  const { of, number, read } = await versionOf(db, id);
  return { name: `${of.name} ${number}.${to}`, text: writers[to](read.cut) };
}

/** What of a version is not found. */
export async function missing(db: DataSource, id: string, to: 'csv' | 'text'): Promise<Written> {
  const { cut, version, events } = await rehearsalOf(db, id);
  const wanted = events.filter(({ grade }) => grade !== null && !isFound(grade));
  const name = `${cut.name} ${version.number} missing`;
  return to === 'csv'
    ? { name: `${name}.csv`, text: missingCsv(wanted) }
    : { name: `${name}.txt`, text: missingText(`${cut.name}, version ${version.number}`, wanted) };
}
