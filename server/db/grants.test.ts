import pg from 'pg';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { inventProduction, inventRun, startDatabase, type TestDatabase } from '../../testing/database.ts';

let database: TestDatabase;
beforeAll(async () => {
  database = await startDatabase();
});
afterAll(() => database?.close());

/** What becomes of a statement: null where it is carried out, else why not. */
async function tried(url: string, statement: string): Promise<string | null> {
  const client = new pg.Client({ connectionString: url });
  try {
    await client.connect();
    await client.query('BEGIN');
    await client.query(statement);
    return null;
  } catch (error) {
    return (error as Error).message;
  } finally {
    await client.end().catch(() => undefined);
  }
}

describe("the database's roles", () => {
  it('run no programs, read no files of the machine, and make no roles or databases', async () => {
    for (const url of [database.url, database.workerUrl]) {
      for (const statement of [
        "COPY (SELECT 1) TO PROGRAM 'touch /tmp/ran'",
        "COPY production FROM PROGRAM 'id'",
        "SELECT pg_read_file('/etc/passwd')",
        'CREATE ROLE another LOGIN',
        'ALTER ROLE relay_worker SUPERUSER',
        'CREATE DATABASE another',
      ]) {
        expect(await tried(url, statement), statement).toMatch(
          /permission denied|must be superuser|cannot run inside a transaction/,
        );
      }
    }
    const [row] = await database.db.query<
      {
        super: boolean;
      }[]
    >('SELECT bool_or(rolsuper AND rolcanlogin) AS super FROM pg_roles');
    expect(row?.super).toBe(false);
  });

  it("the worker's does a worker's work, and nothing else", async () => {
    const { production, clips } = await inventProduction(database.db, 'Roles', ['C1']);
    const { run, legs } = await inventRun(database, production, clips);
    expect(await tried(database.workerUrl, `UPDATE leg SET frames_done = 1 WHERE id = '${legs[0] ?? ''}'`)).toBeNull();
    expect(await tried(database.workerUrl, `SELECT * FROM run JOIN recipe ON true`)).toBeNull();
    for (const statement of [
      'DROP TABLE leg',
      'CREATE TABLE mine (x int)',
      'DELETE FROM clip',
      'TRUNCATE leg',
      `DELETE FROM leg WHERE run_id = '${run}'`,
      `UPDATE run SET folder = '/'`,
      `UPDATE production SET name = 'x'`,
      'DELETE FROM recipe',
      `UPDATE recipe SET note = ''`,
      `INSERT INTO lut (hash, name) VALUES ('x', 'x')`,
      `DELETE FROM custody_event`,
      `UPDATE custody_event SET what = ''`,
      'DELETE FROM output',
      `INSERT INTO setting DEFAULT VALUES`,
      'DROP SCHEMA pgboss CASCADE',
      'GRANT ALL ON leg TO public',
    ]) {
      const said = await tried(database.workerUrl, statement);
      expect(said ?? '', statement).toMatch(/permission denied|must be owner|no privileges|^$/);
      // GRANT of what one does not own is carried out with a warning, and gives nothing.
      if (!statement.startsWith('GRANT')) expect(said, statement).not.toBeNull();
    }
  });
});
