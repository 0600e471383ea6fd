import type PgBoss from 'pg-boss';
import type { DataSource } from 'typeorm';
import { expect, it } from 'vitest';
import { helpersOf } from './helpers.ts';

/**
 * A database that is away at every other question, as one that is started again is; its answers are those of TypeORM
 * for PostgreSQL.
 */
function shaky(answer: unknown): { db: DataSource; asked: () => number } {
  let asked = 0;
  const query = async (): Promise<unknown> => {
    asked += 1;
    if (asked % 2 === 1) throw Object.assign(new Error('connect ECONNREFUSED'), { code: 'ECONNREFUSED' });
    return answer;
  };
  const db = {
    query,
    transaction: async (work: (tx: unknown) => Promise<void>) =>
      work({
        query: async () => {
          await query();
        },
      }),
  };
  return { db: db as unknown as DataSource, asked: () => asked };
}

const boss = { insert: async () => undefined } as unknown as PgBoss;
const helpers = (answer: unknown): ReturnType<typeof helpersOf> & { asked: () => number } => {
  const { db, asked } = shaky(answer);
  return { ...helpersOf(db, boss, 'leg', 'worker', 'host'), asked };
};

it('a leg that is cut outlives a database that is away for a moment', async () => {
  expect(await helpers([{ idle: 2 }]).idle()).toBe(2);
  expect(await helpers([[{ place: 1 }], 1]).claim()).toBe(1);
  expect(await helpers([[], 1]).end(1, { state: 'done', parts: ['a'], seen: 'b' })).toBe(true);
  expect(await helpers([]).now()).toEqual([]);
  expect(await helpers([[{ parts: ['a', 'b'] }, { parts: [] }], 2]).drop()).toEqual([['a', 'b'], []]);
});

it('what only says that it still works does not wait for it', async () => {
  const beating = helpers([[], 1]);
  await expect(beating.beat(1, 10)).rejects.toThrow('ECONNREFUSED');
  expect(beating.asked()).toBe(1);
});
