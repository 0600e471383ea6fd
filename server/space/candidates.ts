import type { SpaceKind } from '@relay/contract/space';
import { under } from '@relay/core/naming/under';
import type { OutputPlan } from '@relay/core/recipe/legPlan';
import { staysBecause, type MadeFile } from '@relay/core/space/mayGo';
import type { CopyRule } from '@relay/core/custody/clearing';
import { outputBytes } from '@relay/work/disk/hash';
import { holding } from '@relay/work/disk/held';
import { isThere, placeIn, type Store } from '@relay/work/disk/store';
import { inLanes } from '@relay/work/lanes';
import type { DataSource } from 'typeorm';
import { production as productions } from '../db/entities/productions.ts';
import { clipsUsedBy } from '../cuts/rehearsal.ts';
import { notThere } from '../http.ts';
import type { Stores } from '../stores/stores.ts';
import { needKey, needsNow } from './needs.ts';
import { placesNotMade, type NotMade } from './notMade.ts';
import { knownOriginals, OriginalsLook } from './originalsStand.ts';
import { nameBefore, setAsideIn } from './superseded.ts';

/** Files that are looked at at a time. */
const lanes = 8;

/** Something that was made here and lies somewhere, as it is known. */
export interface Made {
  kind: Exclude<SpaceKind, 'cache'>;
  store: string;
  folder: string;
  path: string;
  sizeBytes: number;
  xxh3: string;
  run: string;
  runName: string;
  leg: string;
  clip: string;
  /** Its original, as people know it. */
  original: string;
  deliverable: string;
  role: string;
  /** As it was planned; null of an older version. */
  planned: OutputPlan | null;
  /** Of an older version: what was written down last under the name that it had. */
  newer: Made | null;
}

/** Tells a place from others. */
export function placeOf({ store, folder, path }: Pick<Made, 'store' | 'folder' | 'path'>): string {
  return needKey(store, under(folder, path));
}

/** The same, with why it stays; null where it may go. */
export interface Candidate extends Made {
  stays: string | null;
}

interface OutputRecord extends Omit<Made, 'kind' | 'newer'> {
  pulled: boolean;
}

/** Every good output that was written down, the newest first; of some paths only, or of all. */
function outputsMade(db: DataSource, production: string, paths: readonly string[] | null): Promise<OutputRecord[]> {
  return db.query<OutputRecord[]>(
    `SELECT o.store_id AS store, o.folder, o.path, o.size_bytes::float AS "sizeBytes", o.xxh3, o.deliverable, o.role,
       run.id AS run, run.name AS "runName", run.pull IS NOT NULL AS pulled, leg.id AS leg, clip.id AS clip,
       clip.path AS original,
       (
         SELECT planned.value
         FROM json_array_elements(leg.plan->'outputs') planned
         WHERE planned.value->>'path' = o.path
         LIMIT 1
       ) AS planned
     FROM output o
     JOIN leg ON leg.id = o.leg_id
     JOIN run ON run.id = leg.run_id
     JOIN clip ON clip.id = leg.clip_id
     WHERE run.production_id = $1 AND o.state IN ('proved', 'needs eyes') AND o.xxh3 IS NOT NULL
       AND ($2::text[] IS NULL OR o.path = ANY ($2::text[]))
     ORDER BY o.created_at DESC, o.path`,
    [production, paths],
  );
}

/** The newest of each place, and older ones that lie aside, where those are wanted; `bytesAt` tells what lies at a place. */
async function everythingMade(
  rows: readonly OutputRecord[],
  stores: ReadonlyMap<string, Store>,
  bytesAt: (store: string, path: string) => Promise<number>,
  older: boolean,
): Promise<Made[]> {
  const newest = new Map<string, Made>();
  const byPlace = new Map<string, { store: string; folder: string; rows: Map<string, OutputRecord[]> }>();
  for (const row of rows) {
    const { store, folder, path, pulled, role } = row;
    const key = placeOf(row);
    if (!newest.has(key)) newest.set(key, { ...row, kind: pulled ? 'pulled' : (role as Made['kind']), newer: null });
    const place = byPlace.get(needKey(store, folder)) ?? { store, folder, rows: new Map<string, OutputRecord[]>() };
    place.rows.set(path, [...(place.rows.get(path) ?? []), row]);
    byPlace.set(needKey(store, folder), place);
  }
  const made = [...newest.values()];
  for (const { store: id, folder, rows: known } of older ? byPlace.values() : []) {
    const store = stores.get(id);
    if (!store) continue;
    for (const { path, was } of await setAsideIn(store, { store: id, folder }, new Set(known.keys()))) {
      const bytes = await bytesAt(id, under(folder, path));
      const newer = newest.get(needKey(id, under(folder, was))) ?? null;
      const record = known.get(was)?.find((row) => row.sizeBytes === bytes && row.xxh3 !== newer?.xxh3);
      // What nobody wrote down so is not known to be ours.
      if (record) made.push({ ...record, path, kind: 'superseded', planned: null, newer });
    }
  }
  return made;
}

/** LUTs and pictures that plans name, and that are not kept any more: their names, by hash. */
async function lostOf(db: DataSource, made: readonly Made[]): Promise<(planned: OutputPlan | null) => string[]> {
  const named = (planned: OutputPlan | null): { hash: string; name: string }[] => {
    const colour = planned?.colour;
    const steps = colour && colour.kind !== 'as-shot' ? colour.chain.steps : [];
    const image = planned?.burn?.image?.image;
    return [
      ...steps.flatMap((step) =>
        step.kind === 'lut' && !step.muted ? [{ hash: step.lut, name: `the LUT ${step.name}` }] : [],
      ),
      ...(image ? [{ hash: image, name: 'the picture that is laid over it' }] : []),
    ];
  };
  const wanted = [...new Set(made.flatMap(({ planned }) => named(planned).map(({ hash }) => hash)))];
  const kept = await db.query<{ hash: string }[]>(
    `SELECT hash FROM lut WHERE hash = ANY ($1::text[])
     UNION
     SELECT hash FROM overlay_image WHERE hash = ANY ($1::text[])`,
    [wanted],
  );
  const known = new Set(kept.map(({ hash }) => hash));
  return (planned) => named(planned).flatMap(({ hash, name }) => (known.has(hash) ? [] : [name]));
}

export interface CandidatesWanted {
  production: string;
  /** Of clips that this version of a cut uses; of all where null. */
  cut: string | null;
  /** Of these alone, with samples of their originals read now; of all, by names and sizes, where null. */
  only: readonly Pick<Made, 'store' | 'folder' | 'path'>[] | null;
}

/** Everything that was made here for a production and lies somewhere, with what keeps it from being deleted. */
export async function candidatesOf(
  { db, stores }: { db: DataSource; stores: Stores },
  { production, cut, only }: CandidatesWanted,
): Promise<{ rule: CopyRule; candidates: Candidate[]; notMade: NotMade }> {
  const of = await db.manager.findOneBy(productions, { id: production });
  if (!of) throw notThere('The production');
  const rule = of.copyRule;
  const all = await stores.list();
  const known = new Map(all.map((store) => [store.id, store]));
  const there = await Promise.all(all.map(isThere));
  const reached = new Set(all.flatMap(({ id }, index) => (there[index] ? [id] : [])));
  const bytesAt = async (id: string, path: string): Promise<number> => {
    const store = known.get(id);
    if (!store || !reached.has(id)) return 0;
    return holding(async (held) => outputBytes(await held.place(placeIn(store, ''), path))).catch(() => 0);
  };
  // An older version is known by the name that it had.
  const paths = only?.flatMap(({ path }) => [path, nameBefore(path) ?? path]) ?? null;
  const wanted = only && new Set(only.map(placeOf));
  const older = only?.some(({ path }) => nameBefore(path) !== null) ?? true;
  const used = cut === null ? null : await clipsUsedBy(db, cut);
  const made = (await everythingMade(await outputsMade(db, production, paths), known, bytesAt, older)).filter(
    (one) => (used?.has(one.clip) ?? true) && (wanted?.has(placeOf(one)) ?? true),
  );
  const [notMade, needs, lost] = [await placesNotMade(db, all), await needsNow(db), await lostOf(db, made)];
  const look = new OriginalsLook(known, only !== null);
  const originals = new Map(
    (await knownOriginals(db, [...new Set(made.map(({ clip }) => clip))])).map((one) => [one.clip, one]),
  );
  const copies = new Map(
    await inLanes([...originals.values()], lanes, async (one) => [one.clip, await look.copiesOf(one)] as const),
  );
  const candidates = await inLanes(made, lanes, async (one): Promise<Candidate | null> => {
    const path = under(one.folder, one.path);
    const bytes = await bytesAt(one.store, path);
    // What is gone already, or away, takes no space that could come back.
    if (bytes === 0) return null;
    const file: MadeFile = {
      there: bytes === one.sizeBytes,
      original: notMade.has(one.store, path),
      readOnly: known.get(one.store)?.readOnly ?? false,
      newerThere:
        one.kind === 'superseded'
          ? one.newer !== null && (await bytesAt(one.store, under(one.folder, one.newer.path))) === one.newer.sizeBytes
          : null,
      lost: one.planned === null && one.kind !== 'superseded' ? ['its plan'] : lost(one.planned),
      copies: copies.get(one.clip) ?? [],
      neededBy: needs.get(needKey(one.store, path)) ?? [],
    };
    return { ...one, stays: staysBecause(rule, file) };
  });
  return { rule, candidates: candidates.filter((one) => one !== null), notMade };
}
