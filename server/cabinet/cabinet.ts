import { largestLutBytes, type LutAnswer, type LutLine, type lutChange } from '@relay/contract/colour';
import type { Examined } from '@relay/core/colour/examine/examine';
import { createHash } from 'node:crypto';
import { basename } from 'node:path';
import type { DataSource } from 'typeorm';
import { OutOfPlace } from '@relay/core/naming/under';
import { holding, NotAsItShould } from '@relay/work/disk/held';
import { readBytes } from '@relay/work/disk/place';
import type { Store } from '@relay/work/disk/store';
import type { z } from 'zod';
import { readLut } from '@relay/core/colour/examine/readLut';
import { notThere, Refused } from '../http.ts';
import type { LutText } from '@relay/work/leg/colour';
import { lut } from '../db/entities/cabinet.ts';

type Row = Omit<LutLine, 'createdAt' | 'sound' | 'toDecide' | 'notes'> & { createdAt: Date; examined: Examined };

/** Names of all LUTs with the same bytes' rules counted: a chain names its LUTs by hash. */
const columns = `
  lut.hash, lut.name, lut.file_name AS "fileName", lut.format, octet_length(lut.bytes) AS "sizeBytes", lut.says, lut.examined, lut.tags, lut.takes, lut.gives, lut.range_in AS "rangeIn", lut.range_out AS "rangeOut", lut.created_at AS "createdAt",
  (SELECT count(*)::int - 1 FROM lut other WHERE lower(other.name) = lower(lut.name)) AS older,
  (SELECT count(*)::int FROM correction_rule r WHERE r.field = 'colour' AND EXISTS (SELECT 1 FROM lut v WHERE lower(v.name) = lower(lut.name) AND r.value->'steps' @> jsonb_build_array(jsonb_build_object('lut', v.hash)))) AS "usedBy"`;

function lineOf({ examined, createdAt, ...row }: Row): LutLine {
  return {
    ...row,
    createdAt: createdAt.toISOString(),
    sound: examined.sound,
    toDecide: examined.findings.filter((finding) => finding.level !== 'note').length,
    notes: examined.findings.filter((finding) => finding.level === 'note').length,
  };
}

/** What is in the cabinet: the newest version of each name. */
export async function lutLines(db: DataSource): Promise<LutLine[]> {
  const rows = await db.query<Row[]>(
    `SELECT ${columns}
     FROM lut
     WHERE put_away_at IS NULL
       AND NOT EXISTS (
         SELECT 1
         FROM lut newer
         WHERE lower(newer.name) = lower(lut.name)
           AND newer.put_away_at IS NULL
           AND (newer.created_at, newer.hash) > (lut.created_at, lut.hash)
       )
     ORDER BY lower(name)`,
  );
  return rows.map(lineOf);
}

export async function lutAnswer(db: DataSource, hash: string): Promise<LutAnswer> {
  const [row] = await db.query<Row[]>(`SELECT ${columns} FROM lut WHERE hash = $1`, [hash]);
  if (!row) throw notThere('The LUT');
  const versions = await db.query<{ hash: string; fileName: string; createdAt: Date }[]>(
    `SELECT hash, file_name AS "fileName", created_at AS "createdAt"
     FROM lut
     WHERE lower(name) = lower($1)
     ORDER BY created_at DESC`,
    [row.name],
  );
  const names = JSON.stringify([{ lut: hash }]);
  const used = await db.query<LutAnswer['used']>(
    `SELECT p.name AS production,
       CASE r.scope WHEN 'production' THEN 'everything' WHEN 'group' THEN 'group ' || r.key WHEN 'roll' THEN 'roll ' || r.key ELSE coalesce((SELECT stem FROM clip WHERE id::text = r.key), 'a clip') END AS "where"
     FROM correction_rule r
     JOIN production p ON p.id = r.production_id
     WHERE r.field = 'colour' AND r.value->'steps' @> $1::jsonb
     ORDER BY 1, 2
     LIMIT 100`,
    [names],
  );
  const runs = await db.query<LutAnswer['runs']>(
    `SELECT DISTINCT run.id, run.name, run.created_at, run.production_id AS production
     FROM run
     JOIN leg ON leg.run_id = run.id
     WHERE (leg.plan->'corrections'->'colour'->'steps')::jsonb @> $1::jsonb
     ORDER BY run.created_at DESC
     LIMIT 50`,
    [names],
  );
  return {
    ...lineOf(row),
    examined: row.examined,
    versions: versions.map((one) => ({ ...one, createdAt: one.createdAt.toISOString() })),
    used,
    runs: runs.map(({ id, name, production }) => ({ id, name, production })),
  };
}

/** A name without what only parts its words, to tell whether two say the same. */
function lettersOf(name: string): string {
  return name.toLowerCase().replace(/[^\p{L}\p{N}]/gu, '');
}

/**
 * Takes a file into the cabinet, at the desk: read, examined, its bytes kept. The same bytes again are the same LUT.
 */
export async function takeIn(db: DataSource, bytes: Uint8Array, fileName: string): Promise<string> {
  const plain = basename(fileName).slice(0, 200) || 'lut';
  const refuse = (what: string, remedy: string): never => {
    throw new Refused(400, { what: `${plain}: ${what}`, remedy });
  };
  if (bytes.length > largestLutBytes) refuse('it is too large for a LUT', 'Make it again with fewer points');
  const read = readLut({ text: Buffer.from(bytes).toString('utf8'), fileName: plain });
  if (!read.ok) return refuse(read.problem.what, read.problem.remedy);
  const { title, format, says, examined, rangeIn, rangeOut } = read.value;
  const hash = createHash('sha256').update(bytes).digest('hex');
  // People know a LUT by its file; makers' titles are often one for all of theirs.
  const name = plain.replace(/\.\w+$/, '').trim() || plain;
  const titled = title && lettersOf(title) !== lettersOf(name) ? `${says}, titled ${title.slice(0, 80)}` : says;
  await db.query(
    `INSERT INTO lut (hash, name, file_name, bytes, format, says, examined, range_in, range_out)
     VALUES ($1, $2, $3, $4, $5, $6, $7, $8, $9)
     ON CONFLICT (hash) DO UPDATE SET put_away_at = NULL`,
    [hash, name, plain, Buffer.from(bytes), format, titled, JSON.stringify(examined), rangeIn, rangeOut],
  );
  return hash;
}

/** The bytes of a LUT file that lies on a store. */
export async function lutFileIn(store: Store, path: string): Promise<Uint8Array> {
  try {
    return await holding(async (held) => readBytes(await held.file(store.path, path), largestLutBytes));
  } catch (error) {
    if (error instanceof OutOfPlace)
      throw new Refused(400, { what: `${path} leaves ${store.name}`, remedy: 'Choose a file inside the store' });
    if (error instanceof NotAsItShould)
      throw new Refused(400, {
        what: `${path} is no LUT: ${error.message}`,
        remedy: 'Choose another file, or make it again with fewer points',
      });
    throw new Refused(404, { what: `${path} is not there`, remedy: `See that ${store.name} is mounted` });
  }
}

/** Says anew what a LUT is called, is for, takes and gives; what is not said stays. */
export async function changeLut(db: DataSource, hash: string, said: z.output<typeof lutChange>): Promise<void> {
  if (Object.keys(said).length > 0) await db.manager.update(lut, { hash }, said);
}

/** Puts a LUT away with all its versions; nothing is destroyed, since old runs must be able to be made again. */
export async function putAway(db: DataSource, hash: string): Promise<void> {
  await db.query(
    `UPDATE lut
     SET put_away_at = now()
     WHERE lower(name) = (SELECT lower(name) FROM lut WHERE hash = $1)`,
    [hash],
  );
}

/** The bytes of a LUT. */
export async function lutBytes(db: DataSource, hash: string): Promise<{ bytes: Buffer; fileName: string }> {
  const row = await db.manager.findOne(lut, { select: { bytes: true, fileName: true }, where: { hash } });
  if (!row) throw notThere('The LUT');
  return row;
}

/** How legs get at their LUTs. */
export function cabinetText(db: DataSource): LutText {
  return async (hash) => {
    const row = await db.manager.findOne(lut, { select: { bytes: true, fileName: true }, where: { hash } });
    return row && { text: row.bytes.toString('utf8'), fileName: row.fileName };
  };
}
