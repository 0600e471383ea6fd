import type { FoundRoll, SearchState } from '@relay/contract/originals';
import { beginSearch, carryOutSearch, orphanedSearches } from './find.ts';
import { originalsPlaces } from './places.ts';
import { searchAnswer } from './queries.ts';
import { takeFound, undoTaken } from './take.ts';
import { newReading } from '../arrivals/readings.ts';
import { clipsToRun, planClips } from '../runs/plans.ts';
import { relinkRows } from '../runs/sheetKeeper.ts';
import { startRun } from '../runs/service.ts';
import { appendFile, cp, mkdir, rename, stat, truncate, utimes } from 'node:fs/promises';
import { join } from 'node:path';
import { addGeneration } from '@relay/work/custody/history';
import { hashFile } from '@relay/work/disk/hash';
import { expect, it } from 'vitest';
import { proxyOnly, useNight } from '../../testing/night.ts';
import { until } from '../../testing/site.ts';

const night = useNight();
const home = (): string => join(night.database.home, 'estuary');

async function readIn(folder: string): Promise<void> {
  const { db, boss } = night.database;
  const { id } = await newReading(db, boss, { productionId: night.production, storeId: 'estuary', folder });
  await until(`${folder} is read`, async () => {
    const [row] = await db.query<{ state: string }[]>('SELECT state FROM reading WHERE id = $1', [id]);
    return row?.state === 'done';
  });
}

async function look(folder: string, lookedFor: string): Promise<{ id: string; rolls: FoundRoll[] }> {
  const { db, stores } = night.database;
  const places = await originalsPlaces(night.database, night.production);
  const wanted = places.filter((place) => place.folder === lookedFor);
  const id = await beginSearch(
    night.database,
    night.production,
    {
      lookedFor: wanted.map(({ store, folder: at, roll }) => ({ store, folder: at, roll })),
      at: { store: 'estuary', folder },
    },
    'assistant',
  );
  let state: SearchState = 'waiting';
  await until('the search ends', async () => {
    ({ state } = await searchAnswer(db, stores, id));
    return state === 'found' || state === 'failed';
  });
  expect(state).toBe('found');
  return { id, rolls: (await searchAnswer(db, stores, id)).rolls };
}

async function lies(): Promise<string[]> {
  const rows = await night.database.db.query<{ at: string }[]>(
    `SELECT store_id || ':' || root || '/' || path AS at FROM clip WHERE production_id = $1 ORDER BY path, root`,
    [night.production],
  );
  return rows.map(({ at }) => at);
}

it('originals that moved are found by samples, taken over, made of again without anything new, and put back', async () => {
  const { db, boss } = night.database;
  await night.work({ legsOnly: false });
  await mkdir(join(home(), 'first/A001'), { recursive: true });
  for (const n of [1, 2, 3]) await cp(join(home(), `cards/C00${n}.mov`), join(home(), `first/A001/A001C00${n}.mov`));
  // Of one name and size each, and by content apart.
  await appendFile(join(home(), 'first/A001/A001C001.mov'), 'one');
  await appendFile(join(home(), 'first/A001/A001C002.mov'), 'two');
  await appendFile(join(home(), 'first/A001/A001C003.mov'), 'six');
  await readIn('first/A001');
  const ids = (await clipsToRun(db, night.production, null)).map(({ id }) => id);
  const run = async (): Promise<string> =>
    startRun(
      db,
      boss,
      {
        ...{ production: night.production, name: 'proxies', recipe: proxyOnly, from: null },
        ...{ store: 'shuttle', folder: `out-${night.folder}` },
      },
      planClips(await clipsToRun(db, night.production, ids), proxyOnly),
    );
  const first = await run();
  await until('proxies are made', async () => (await night.legsOf(first)).every(({ state }) => state === 'proved'));
  const at = { store: 'shuttle', folder: `out-${night.folder}` };
  const sheet = await relinkRows(db, at);
  expect(sheet.map(({ roll }) => roll)).toEqual(['A001', 'A001', 'A001']);

  // Restored from an archive, with new times; one came back as another's content, one too short.
  await mkdir(join(home(), 'restored/2026'), { recursive: true });
  await rename(join(home(), 'first/A001'), join(home(), 'restored/2026/from tape'));
  const now = join(home(), 'restored/2026/from tape');
  await utimes(join(now, 'A001C001.mov'), new Date(), new Date());
  await cp(join(now, 'A001C001.mov'), join(now, 'A001C002.mov'));
  const [gone] = await originalsPlaces(night.database, night.production);
  expect(gone).toMatchObject({ folder: 'first/A001', roll: 'A001', files: 3, gone: 3, storeThere: true });
  const { id, rolls } = await look('restored', 'first/A001');
  expect(rolls).toEqual([
    expect.objectContaining({
      ...{ files: 3, samples: 2, manifest: 0, size: 0, same: 0, roots: ['restored/2026/from tape'], misfitCount: 1 },
      misfits: [{ path: 'A001C002.mov', why: 'has the same name and size, and another content' }],
    }),
  ]);
  await takeFound(night.database, id, false, 'assistant');
  expect(await lies()).toEqual([
    'estuary:restored/2026/from tape/A001C001.mov',
    'estuary:first/A001/A001C002.mov',
    'estuary:restored/2026/from tape/A001C003.mov',
  ]);
  await expect(takeFound(night.database, id, false, 'assistant')).rejects.toMatchObject({
    problem: { what: 'It was taken over already' },
  });

  // What was made is known as made: nothing is encoded again, and its lines still lead home.
  const again = await run();
  await until(
    'what moved is proved again',
    async () => (await night.legsOf(again)).filter(({ state }) => state === 'proved').length === 2,
  );
  const kept = await db.query<{ already: boolean }[]>(
    `SELECT already_there AS already FROM output o JOIN leg ON leg.id = o.leg_id WHERE leg.run_id = $1 AND o.state = 'proved'`,
    [again],
  );
  expect(kept).toEqual([{ already: true }, { already: true }]);
  expect(await relinkRows(db, at)).toEqual(sheet);
  // Read in again where they lie now, none of them is read anew for its other time.
  await readIn('restored/2026/from tape');
  expect((await lies()).filter((line) => line.endsWith('A001C001.mov'))).toHaveLength(1);

  await expect(undoTaken(db, id, 'assistant')).resolves.toBe(night.production);
  expect((await lies()).filter((line) => line.includes('first/A001'))).toHaveLength(3);
  // Where no samples were kept, a manifest that lies there is held against what was taken down when they were run.
  await db.query('UPDATE clip SET sampled = NULL');
  const state = async (name: string, xxh3?: string) => ({
    ...{ path: name, sizeBytes: (await stat(join(now, name))).size, modifiedAt: null, action: 'original' as const },
    hashes: { xxh3: xxh3 ?? (await hashFile(join(now, name))) },
  });
  await addGeneration(now, {
    ...{ createdAt: '2026-11-29T09:00:00Z', host: 'tape', tool: 'Another', process: 'transfer' },
    entries: [await state('A001C001.mov'), await state('A001C002.mov'), await state('A001C003.mov', '0'.repeat(16))],
  });
  expect((await look('restored', 'first/A001')).rolls).toEqual([
    expect.objectContaining({
      ...{ samples: 0, manifest: 1, size: 0, misfitCount: 2 },
      misfits: ['A001C002.mov', 'A001C003.mov'].map((path) => ({
        path,
        why: 'is another file by the manifest that lies there',
      })),
    }),
  ]);
  await expect(undoTaken(db, id, 'assistant')).rejects.toMatchObject({
    problem: { what: 'Nothing of it is taken over' },
  });
});

it('what is known at the new place as clips of its own is not taken over; nor what is known by size alone, unasked', async () => {
  const { db } = night.database;
  await night.work({ legsOnly: false });
  await mkdir(join(home(), 'second/B001'), { recursive: true });
  await cp(join(home(), 'cards/C004.mov'), join(home(), 'second/B001/B001C001.mov'));
  await readIn('second/B001');
  await rename(join(home(), 'second/B001'), join(home(), 'second/B001 moved'));
  await db.query(`UPDATE clip SET sampled = NULL WHERE root = 'second/B001'`);
  const found = await look('second', 'second/B001');
  expect(found.rolls).toEqual([expect.objectContaining({ samples: 0, size: 1, misfitCount: 0 })]);
  await expect(takeFound(night.database, found.id, false, 'assistant')).rejects.toMatchObject({
    problem: { what: 'Nothing of it lies elsewhere than it did' },
  });
  await readIn('second/B001 moved');
  await expect(takeFound(night.database, found.id, true, 'assistant')).rejects.toMatchObject({
    problem: { remedy: 'Remove that reading under Arrivals, then take these over' },
  });
  await db.query(`DELETE FROM clip WHERE root = 'second/B001 moved'`);
  await takeFound(night.database, found.id, true, 'assistant');
  expect(await lies()).toContain('estuary:second/B001 moved/B001C001.mov');

  await truncate(join(home(), 'second/B001 moved/B001C001.mov'), 1_000);
  const short = await look('second', 'second/B001 moved');
  expect(short.rolls[0]?.misfits).toEqual([{ path: 'B001C001.mov', why: 'has another size: B001 moved/B001C001.mov' }]);
  expect(await orphanedSearches(db)).toEqual([]);

  // A worker that was killed in the middle: another takes the search up, and finds the same.
  await db.query(
    `UPDATE original_search SET state = 'looking', found = NULL, beat_at = now() - interval '1 hour' WHERE id = $1`,
    [short.id],
  );
  expect(await orphanedSearches(db)).toEqual([short.id]);
  await carryOutSearch(night.database, short.id, new AbortController().signal);
  expect((await searchAnswer(db, night.database.stores, short.id)).rolls).toEqual(short.rolls);
});
