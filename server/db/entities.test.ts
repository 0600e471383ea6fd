import { sampleClip } from '@relay/core/clip/sample';
import { finishAndCut } from '@relay/core/recipe/recipe';
import { rational } from '@relay/core/time/rational';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { startDatabase, type TestDatabase } from '../../testing/database.ts';
import { entities } from './entities/all.ts';
import { clip } from './entities/clips.ts';
import { production } from './entities/productions.ts';
import { leg, output, run } from './entities/runs.ts';

let database: TestDatabase;
beforeAll(async () => {
  database = await startDatabase();
});
afterAll(async () => {
  await database?.close();
});

/** What tells columns apart, as text. */
interface Column {
  table: string;
  column: string;
  type: string;
  nullable: boolean;
  default: boolean;
}

/** Tables of the database as they were migrated, but for the list of migrations itself. */
async function columnsThere(): Promise<Column[]> {
  return database.db.query<Column[]>(
    `SELECT table_name AS "table", column_name AS "column", udt_name AS type, is_nullable = 'YES' AS nullable,
       (column_default IS NOT NULL OR is_identity = 'YES') AND is_generated = 'NEVER' AS "default"
     FROM information_schema.columns
     WHERE table_schema = 'public' AND table_name <> 'migrations'
     ORDER BY 1, 2`,
  );
}

/** PostgreSQL's own short names of types (its documentation, table 8.1). */
const shortNames: Readonly<Record<string, string>> = {
  int: 'int4',
  smallint: 'int2',
  bigint: 'int8',
  real: 'float4',
  'double precision': 'float8',
  boolean: 'bool',
};

describe('the entities', () => {
  it('are the tables: every column of each, with its type, whether it may be empty, and whether it has a default', async () => {
    const described = database.db.entityMetadatas
      .flatMap(({ tableName, columns }) =>
        columns.map((column): Column => {
          const type = shortNames[String(column.type)] ?? String(column.type);
          return {
            table: tableName,
            column: column.databaseName,
            type: column.isArray ? `_${type}` : type,
            nullable: column.isNullable,
            default: column.default !== undefined || column.isGenerated || column.isCreateDate,
          };
        }),
      )
      .sort((a, b) => (`${a.table} ${a.column}` < `${b.table} ${b.column}` ? -1 : 1));
    const there = (await columnsThere()).sort((a, b) => (`${a.table} ${a.column}` < `${b.table} ${b.column}` ? -1 : 1));
    expect(described).toEqual(there);
    expect(new Set(there.map(({ table }) => table)).size).toBe(entities.length);
  });

  it('name the same keys as the tables', async () => {
    const there = await database.db.query<{ table: string; columns: string[] }[]>(
      `SELECT conrelid::regclass::text AS "table",
         ARRAY(SELECT attname::text FROM pg_attribute WHERE attrelid = conrelid AND attnum = ANY(conkey) ORDER BY attname) AS columns
       FROM pg_constraint
       WHERE contype = 'p' AND connamespace = 'public'::regnamespace AND conrelid <> 'migrations'::regclass
       ORDER BY 1`,
    );
    const described = database.db.entityMetadatas
      .map(({ tableName, primaryColumns }) => ({
        table: tableName,
        columns: primaryColumns.map((column) => column.databaseName).sort(),
      }))
      .sort((a, b) => (a.table < b.table ? -1 : 1));
    expect(described).toEqual(there);
  });

  it('write and read what they describe: sizes past two to the 31, JSON, lists, times, and what the database works out', async () => {
    const { manager } = database.db;
    const home = await manager.save(production, { name: 'Entities', rate: rational(25) });
    const description = sampleClip({ path: 'A001/A001C001.mov' });
    const made = await manager.save(clip, {
      productionId: home.id,
      storeId: 'raid',
      root: '',
      path: description.path,
      stem: description.stem,
      roll: 'A001',
      description,
      sizeBytes: 3_000_000_000_001,
    });
    const ordered = await manager.save(run, {
      productionId: home.id,
      name: 'Night',
      recipe: finishAndCut,
      storeId: 'raid',
      folder: 'out',
    });
    const work = await manager.save(leg, {
      runId: ordered.id,
      clipId: made.id,
      ordinal: 0,
      codecs: ['prores', 'h264'],
    });
    await manager.save(output, {
      legId: work.id,
      deliverable: 'd',
      role: 'proxy',
      storeId: 's',
      folder: 'f',
      path: 'p',
      state: 'proved',
    });

    const found = await manager.findOneOrFail(clip, { where: { id: made.id } });
    expect(found).toMatchObject({ sizeBytes: 3_000_000_000_001, description, version: 1, said: {}, findings: [] });
    expect(found.seconds).toBeCloseTo(3.003, 6);
    expect(found.group).not.toBe('');
    const [one] = await manager.find(output, {
      where: { legId: work.id },
      relations: { leg: { run: true, clip: true } },
    });
    expect(one?.leg).toMatchObject({ state: 'waiting', codecs: ['prores', 'h264'], run: { name: 'Night' } });
    expect(one?.leg?.clip?.path).toBe(description.path);
    expect(one?.createdAt).toBeInstanceOf(Date);
  });
});
