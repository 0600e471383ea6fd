import type { CutChoice, CutLine, CutVersion, cutFromStore } from '@relay/contract/cuts';
import { largestListBytes } from '@relay/contract/cuts';
import { formOf } from '@relay/core/cut/read';
import { OutOfPlace } from '@relay/core/naming/under';
import { decodedText } from '@relay/core/text/decode';
import { parseRate } from '@relay/core/time/rate';
import { readListFor } from '@relay/work/cut/readList';
import { holding, NotAsItShould } from '@relay/work/disk/held';
import { readBytes } from '@relay/work/disk/place';
import type { Store } from '@relay/work/disk/store';
import type { DataSource } from 'typeorm';
import type { z } from 'zod';
import { cut, cutVersion, type CutVersionRow } from '../db/entities/cuts.ts';
import { production as productions } from '../db/entities/productions.ts';
import { notThere, Refused } from '../http.ts';
import { originalsOf, outputsOf } from './originals.ts';

const versionColumns = {
  id: true,
  cutId: true,
  number: true,
  fileName: true,
  form: true,
  events: true,
  who: true,
  createdAt: true,
} as const;

export function versionLine({
  id,
  number,
  fileName,
  form,
  events,
  createdAt,
  who,
}: Omit<CutVersionRow, 'bytes' | 'read'>): CutVersion {
  return { id, number, fileName, form, events, createdAt: createdAt.toISOString(), who };
}

/** The cuts of a production, the latest first, each with its versions, the newest first. */
export async function cutLines(db: DataSource, production: string): Promise<CutLine[]> {
  const found = await db.manager.find(cut, { where: { productionId: production }, order: { createdAt: 'DESC' } });
  return Promise.all(found.map(async ({ id, name }) => ({ id, name, versions: await versionsOf(db, id) })));
}

/** What a choice by cut offers: of each the newest version, by its name. */
export async function cutChoices(db: DataSource, production: string): Promise<CutChoice[]> {
  return (await cutLines(db, production)).flatMap(({ name, versions: [newest] }) =>
    newest ? [{ version: newest.id, name: `${name}, version ${newest.number}` }] : [],
  );
}

export async function versionsOf(db: DataSource, id: string): Promise<CutVersion[]> {
  const rows = await db.manager.find(cutVersion, {
    select: versionColumns,
    where: { cutId: id },
    order: { number: 'DESC' },
  });
  return rows.map(versionLine);
}

/** A name as the database keeps it: without what is no letter. */
function plain(name: string): string {
  return (
    name
      .replaceAll(/[\p{Cc}\p{Cs}]+/gu, ' ')
      .trim()
      .slice(0, 200) || 'Without a name'
  );
}

/** The bytes of a list in a store. */
export async function listIn(store: Store, { path }: z.output<typeof cutFromStore>): Promise<Buffer> {
  try {
    return await holding(async (held) => readBytes(await held.file(store.path, path), largestListBytes));
  } catch (error) {
    if (error instanceof OutOfPlace)
      throw new Refused(400, { what: `${path} leaves ${store.name}`, remedy: 'Choose a file inside the store' });
    if (error instanceof NotAsItShould)
      throw new Refused(400, { what: `${path} is no edit list: ${error.message}`, remedy: 'Choose another file' });
    throw new Refused(404, { what: `${path} is not there`, remedy: `See that ${store.name} is mounted` });
  }
}

export interface Arriving {
  production: string;
  /** The cut that it is a version of; a new one without. */
  cut: string | undefined;
  fileName: string;
  rate: string | undefined;
  who: string;
}

/**
 * Reads an edit list and keeps it: as a cut of its own, or as the next version of one. A list that states no rate is read
 * at the one that is given, else at the production's, else at the one at which most of it is found.
 */
export async function bringIn(db: DataSource, bytes: Buffer, arriving: Arriving): Promise<CutVersion> {
  const of = await db.manager.findOneBy(productions, { id: arriving.production });
  if (!of) throw notThere('The production');
  const rate = arriving.rate === undefined ? null : parseRate(arriving.rate);
  if (rate && !rate.ok) throw new Refused(400, rate.problem);
  const originals = await originalsOf(db, of.id);
  const outputs = await outputsOf(db, of.id, originals);
  const read = await readListFor(bytes, rate?.value ?? of.rate, originals, outputs);
  if (!read.ok) throw new Refused(400, { ...read.problem, what: `${arriving.fileName}: ${read.problem.what}` });
  const { cut: made } = read.value;
  return db.transaction(async (tx) => {
    const known =
      arriving.cut === undefined ? null : await tx.findOneBy(cut, { id: arriving.cut, productionId: of.id });
    if (arriving.cut !== undefined && !known) throw notThere('The cut');
    const own =
      known ??
      (await tx.save(cut, {
        productionId: of.id,
        name: plain(made.title || arriving.fileName.replace(/\.\w{1,8}$/, '')),
      }));
    // Versions of one cut are counted one after the other.
    await tx.query('SELECT pg_advisory_xact_lock(hashtext($1))', [`cut ${own.id}`]);
    const last = await tx.maximum(cutVersion, 'number', { cutId: own.id });
    const row = await tx.save(cutVersion, {
      cutId: own.id,
      number: (last ?? 0) + 1,
      fileName: plain(arriving.fileName),
      form: formOf(decodedText(bytes.subarray(0, 4_096))),
      bytes,
      events: made.events.length,
      read: read.value,
      who: arriving.who,
    });
    return versionLine(row);
  });
}

export async function forget(db: DataSource, id: string): Promise<void> {
  const { affected } = await db.manager.delete(cut, { id });
  if (affected === 0) throw notThere('The cut');
}

/** A version with all that was read of it. */
export async function versionOf(
  db: DataSource,
  id: string,
): Promise<CutVersionRow & { of: { id: string; name: string; productionId: string } }> {
  const row = await db.manager.findOneBy(cutVersion, { id });
  const of = row && (await db.manager.findOneBy(cut, { id: row.cutId }));
  if (!row || !of) throw notThere('The version of the cut');
  return { ...row, of };
}
