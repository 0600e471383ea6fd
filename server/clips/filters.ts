import type { FilterAnswer } from '@relay/contract/clips';
import type { DataSource } from 'typeorm';
import { savedFilter, type SavedFilterRow } from '../db/entities/clips.ts';

/** Filters of the sheet that people keep, by name. */

const answerOf = ({ id, name, words }: SavedFilterRow): FilterAnswer => ({ id, name, words });

export async function filters(db: DataSource, production: string): Promise<FilterAnswer[]> {
  const rows = await db.manager.find(savedFilter, { where: { productionId: production }, order: { name: 'ASC' } });
  return rows.map(answerOf);
}

/** Keeps a filter; one of the same name is kept anew. */
export async function keepFilter(
  db: DataSource,
  production: string,
  name: string,
  words: string,
): Promise<FilterAnswer> {
  await db.manager.upsert(savedFilter, { productionId: production, name, words }, ['productionId', 'name']);
  return answerOf(await db.manager.findOneByOrFail(savedFilter, { productionId: production, name }));
}

export async function dropFilter(db: DataSource, id: string): Promise<void> {
  await db.manager.delete(savedFilter, { id });
}
