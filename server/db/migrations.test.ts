import { randomUUID } from 'node:crypto';
import { groupOf } from '@relay/core/clip/group';
import { sampleClip } from '@relay/core/clip/sample';
import { rational } from '@relay/core/time/rational';
import { DataSource } from 'typeorm';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { startDatabase, type TestDatabase } from '../../testing/database.ts';
import { openDatabase } from './dataSource.ts';
import { FirstLeg1763900000000 } from './migrations/1763900000000-firstLeg.ts';

let database: TestDatabase;
beforeAll(async () => {
  database = await startDatabase();
});
afterAll(async () => {
  await database?.close();
});

/** Undoes migrations from the last to one, that among them. */
async function undo(db: DataSource, name: string): Promise<void> {
  for (let undone = ''; undone !== name;) {
    const [last] = await db.query<{ name: string }[]>('SELECT name FROM migrations ORDER BY id DESC LIMIT 1');
    if (!last) throw new Error(`${name} was not there`);
    await db.undoLastMigration();
    undone = last.name;
  }
}

describe('the tables', () => {
  it('group clips in SQL just as core does, whatever their facts', async () => {
    const [row] = await database.db.query<
      {
        id: string;
      }[]
    >(`INSERT INTO production (name) VALUES ('Groups') RETURNING id`);
    const clips = [
      sampleClip(),
      sampleClip({ video: null }),
      sampleClip({}, { rate: rational(60_000, 1001), scan: 'bottom-field-first' }),
      sampleClip({}, { pixelAspect: rational(64, 45), raster: { width: 720, height: 576 } }),
      sampleClip({}, { rateConstant: false }),
      sampleClip({}, { colour: { primaries: null, transfer: null, matrix: null, range: null }, codecId: 'prores' }),
      sampleClip({}, { colour: { primaries: 'bt2020', transfer: 'arib-std-b67', matrix: 'bt2020nc', range: 'full' } }),
      sampleClip({ device: 'Tarnmoor T6' }, { bitDepth: 8 }),
    ];
    for (const [index, clip] of clips.entries()) {
      await database.db.query(
        `INSERT INTO clip (production_id, store_id, root, path, stem, roll, description) VALUES ($1, 'raid', '', $2, $2, 'A001', $3)`,
        [row?.id, `clip ${index}`, JSON.stringify(clip)],
      );
    }
    const made = await database.db.query<{ grp: string; seconds: number | null; rate: number | null }[]>(
      'SELECT grp, seconds, rate FROM clip WHERE production_id = $1 ORDER BY path',
      [row?.id],
    );
    expect(made.map((one) => one.grp)).toEqual(clips.map(groupOf));
    expect(made[0]?.seconds).toBeCloseTo(3.003, 6);
    expect([made[1]?.seconds, made[1]?.rate]).toEqual([null, null]);
  });

  it('of the first leg are brought up to date with what is in them, and back', async () => {
    // Tables of their own, in a schema of their own: nobody may make databases.
    await database.db.query('CREATE SCHEMA earlier');
    const url = `${database.url}?options=${encodeURIComponent('-c search_path=earlier')}`;
    const before = await new DataSource({
      type: 'postgres',
      url,
      migrations: [FirstLeg1763900000000],
      migrationsRun: true,
    }).initialize();
    const [row] = await before.query<{ id: string }[]>(`INSERT INTO production (name) VALUES ('Old') RETURNING id`);
    const old: Partial<ReturnType<typeof sampleClip>> = sampleClip();
    delete old.chapters;
    const id = randomUUID();
    await before.query(
      `INSERT INTO clip (id, production_id, store_id, root, path, stem, roll, description) VALUES ($1, $2, 'raid', '', 'a.mov', 'a', 'A001', $3)`,
      [id, row?.id, JSON.stringify(old)],
    );
    await before.destroy();
    const db = await openDatabase(url, true);
    expect(await db.query("SELECT description->'chapters' AS chapters, grp, version, findings FROM clip")).toEqual([
      { chapters: [], grp: groupOf(sampleClip()), version: 1, findings: [] },
    ]);
    expect(await db.query('SELECT copy_rule, rate FROM production')).toEqual([
      { copy_rule: { copies: 2, stores: 2 }, rate: null },
    ]);
    await db.query(
      `INSERT INTO correction_rule (production_id, field, scope, key, value, who) SELECT id, unnest(ARRAY['colour', 'crop']), 'production', '', '{"steps": []}', 'test' FROM production`,
    );
    await db.query(
      `INSERT INTO recipe (definition) VALUES ('{"deliverables": [{"name": "a", "burn": {"lines": [], "image": {}}}, {"name": "b"}]}')`,
    );
    // A run from before deliverables had places of their own: its legs need its store, its outputs lie there.
    await undo(db, 'Places1765400000000');
    await db.query(
      `INSERT INTO run (production_id, name, recipe, store_id, folder) SELECT id, 'r', '{}', 'raid', 'out' FROM production`,
    );
    await db.query(
      `INSERT INTO leg (run_id, clip_id, ordinal, bytes_likely) SELECT run.id, clip.id, 0, 7 FROM run, clip`,
    );
    await db.query(
      `INSERT INTO output (leg_id, deliverable, role, path, state) SELECT id, 'd', 'proxy', 'p', 'proved' FROM leg`,
    );
    await db.runMigrations();
    expect(await db.query('SELECT stores, bytes_by_store FROM leg')).toEqual([
      { stores: ['raid'], bytes_by_store: { raid: 7 } },
    ]);
    expect(await db.query('SELECT store_id, folder FROM output')).toEqual([{ store_id: 'raid', folder: 'out' }]);
    await undo(db, 'Places1765400000000');
    expect(await db.query('SELECT bytes_likely FROM leg')).toEqual([{ bytes_likely: '7' }]);
    await db.query('DELETE FROM run');
    await db.undoLastMigration();
    // Two cameras that recorded alike were one group; what was said of it holds for each, and can still be undone.
    await db.undoLastMigration();
    const [{ grp } = { grp: '' }] = await db.query<{ grp: string }[]>('SELECT grp FROM clip');
    expect(groupOf(sampleClip()).startsWith(`${grp}|`)).toBe(true);
    await db.query(
      `INSERT INTO clip (production_id, store_id, root, path, stem, roll, description) SELECT id, 'raid', '', 'b.mov', 'b', 'B001', $1 FROM production`,
      [JSON.stringify(sampleClip({ device: 'Tarnmoor T6' }))],
    );
    await db.query(
      `INSERT INTO correction_rule (production_id, field, scope, key, value, who) SELECT id, 'shape', 'group', $1, '{"squeeze": 2}', 'test' FROM production`,
      [grp],
    );
    await db.query(
      `INSERT INTO correction_change (production_id, what, who, before, after) SELECT id, 'x', 'test', $1, '[]' FROM production`,
      [JSON.stringify([{ field: 'shape', scope: 'group', key: grp }])],
    );
    await db.runMigrations();
    const parted = [groupOf(sampleClip()), groupOf(sampleClip({ device: 'Tarnmoor T6' }))].sort();
    expect(
      await db.query(`SELECT key, value FROM correction_rule WHERE scope = 'group' ORDER BY key COLLATE "C"`),
    ).toEqual(parted.map((key) => ({ key, value: { squeeze: 2 } })));
    const [{ before: undoes } = { before: [] }] = await db.query<{ before: { key: string }[] }[]>(
      'SELECT before FROM correction_change',
    );
    expect(undoes.map(({ key }) => key).sort()).toEqual(parted);
    await undo(db, 'GroupsByCamera1765200000000');
    expect(await db.query(`SELECT key FROM correction_rule WHERE scope = 'group'`)).toEqual([{ key: grp }]);
    await db.query("DELETE FROM clip WHERE path = 'b.mov'");
    await db.query("DELETE FROM correction_rule WHERE scope = 'group'");
    await db.query('DELETE FROM correction_change');
    // The sheet's index, plans as text, blame, segments, many legs, workers, runs, recipes, images.
    for (let back = 0; back < 9; back += 1) await db.undoLastMigration();
    expect(await db.query(`SELECT definition->'deliverables' AS d FROM recipe`)).toEqual([
      { d: [{ name: 'a', burn: { lines: [] } }, { name: 'b' }] },
    ]);
    await db.undoLastMigration();
    // Chains stay, other corrections have no place before.
    expect(await db.query('SELECT scope, chain FROM colour_rule')).toEqual([
      { scope: 'production', chain: { steps: [] } },
    ]);
    await db.undoLastMigration();
    await db.undoLastMigration();
    expect((await db.query<object[]>('SELECT * FROM clip')).length).toBe(1);
    await db.destroy();
  });
});
