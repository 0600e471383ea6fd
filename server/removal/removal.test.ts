import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import { inventProduction, inventRun, startDatabase, type TestDatabase } from '../../testing/database.ts';
import { forgetStore } from '../site/stores.ts';
import { stopLegs } from '../runs/service.ts';
import { removeOutput, removeProduction, removeReading, removeRun } from './removal.ts';

let database: TestDatabase;
let production: string;
let run: string;
let legs: string[];
let reading: string;
let counter = 0;

const count = async (table: string): Promise<number> => {
  const where = {
    clip: 'production_id = $1',
    reading: 'production_id = $1',
    run: 'production_id = $1',
    leg: 'run_id IN (SELECT id FROM run WHERE production_id = $1)',
    output: 'leg_id IN (SELECT l.id FROM leg l JOIN run r ON r.id = l.run_id WHERE r.production_id = $1)',
  }[table];
  const [row] = await database.db.query<{ n: number }[]>(`SELECT count(*)::int AS n FROM ${table} WHERE ${where}`, [
    production,
  ]);
  return row?.n ?? -1;
};

beforeAll(async () => {
  database = await startDatabase();
});
afterAll(() => database?.close());
beforeEach(async () => {
  counter += 1;
  const made = await inventProduction(database.db, `Production ${counter}`, ['C1', 'C2']);
  ({ production } = made);
  const [row] = await database.db.query<{ id: string }[]>(
    `INSERT INTO reading (production_id, store_id, folder, state) VALUES ($1, 'estuary', 'cards', 'done') RETURNING id`,
    [production],
  );
  reading = row?.id as string;
  ({ run, legs } = await inventRun(database, production, made.clips, `out-${counter}`));
});

const stopAll = (): Promise<unknown> => stopLegs(database.db, { run });

describe('what is removed', () => {
  it('a run goes with its legs, once none is open; its clips stay', async () => {
    await expect(removeRun(database.db, run)).rejects.toMatchObject({
      status: 409,
      message: '2 legs of it are not done',
    });
    expect(await count('leg')).toBe(2);
    await stopAll();
    expect(await removeRun(database.db, run)).toEqual({ production });
    expect([await count('run'), await count('leg'), await count('clip')]).toEqual([0, 0, 2]);
    await expect(removeRun(database.db, run)).rejects.toMatchObject({ status: 404 });
  });

  it('a folder that was read goes with its clips, and not while a run knows them', async () => {
    await expect(removeReading(database.db, reading)).rejects.toMatchObject({
      status: 409,
      message: 'Clips of it were run: 1 run knows them',
    });
    await stopAll();
    await removeRun(database.db, run);
    await database.db.query(
      `INSERT INTO clip (production_id, store_id, root, path, stem, roll, size_bytes, refusal) VALUES ($1, 'estuary', 'other', 'x.mov', 'x', 'X', 1, '{}')`,
      [production],
    );
    expect(await removeReading(database.db, reading)).toEqual({ production });
    // What was read from another folder stays.
    expect([await count('clip'), await count('reading')]).toEqual([1, 0]);
  });

  it('a folder that is being read stays until it is', async () => {
    await stopAll();
    await removeRun(database.db, run);
    await database.db.query(`UPDATE reading SET state = 'running' WHERE id = $1`, [reading]);
    await expect(removeReading(database.db, reading)).rejects.toMatchObject({ status: 409 });
    await expect(removeProduction(database.db, production)).rejects.toMatchObject({ status: 409 });
  });

  it('a production goes with everything, and not while legs of it are open; others stay', async () => {
    const other = await inventProduction(database.db, `Other ${counter}`, ['C1']);
    await expect(removeProduction(database.db, production)).rejects.toMatchObject({ status: 409 });
    await stopAll();
    await removeProduction(database.db, production);
    for (const table of ['clip', 'reading', 'run', 'leg']) expect([table, await count(table)]).toEqual([table, 0]);
    ({ production } = other);
    expect(await count('clip')).toBe(1);
    await expect(removeProduction(database.db, run)).rejects.toMatchObject({ status: 404 });
  });

  it("an output's record goes alone, once its leg is done", async () => {
    const [row] = await database.db.query<{ id: string }[]>(
      `INSERT INTO output (leg_id, deliverable, role, store_id, folder, path, state) VALUES ($1, 'Proxy', 'proxy', 'shuttle', 'out', 'proxy/C1.mov', 'proved') RETURNING id`,
      [legs[0]],
    );
    const output = row?.id as string;
    await expect(removeOutput(database.db, output)).rejects.toMatchObject({ status: 409 });
    await stopAll();
    expect(await removeOutput(database.db, output)).toEqual({ production });
    expect([await count('output'), await count('leg')]).toEqual([0, 2]);
  });
});

it('a store goes off the list only where nothing that is known lies on it', async () => {
  const { db, stores, home } = database;
  await stores.put('Estuary', home);
  await stores.put('Spare', home.replace(/$/, '/database'));
  const context = { db, stores } as Parameters<typeof forgetStore>[0];
  const store = async (id: string) => (await stores.get(id)) as NonNullable<Awaited<ReturnType<typeof stores.get>>>;
  await expect(forgetStore(context, await store('estuary'))).rejects.toMatchObject({ status: 409 });
  await forgetStore(context, await store('spare'));
  expect((await stores.list()).map(({ id }) => id)).toEqual(['estuary']);
});
