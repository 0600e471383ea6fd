import type { FilterAnswer } from '@relay/contract/clips';
import type { DataSource } from 'typeorm';

/** Filters of the sheet that people keep, by name. */

export async function filters(db: DataSource, production: string): Promise<FilterAnswer[]> {
  return db.query<FilterAnswer[]>('SELECT id, name, words FROM saved_filter WHERE production_id = $1 ORDER BY name', [
    production,
  ]);
}

/** Keeps a filter; one of the same name is kept anew. */
export async function keepFilter(
  db: DataSource,
  production: string,
  name: string,
  words: string,
): Promise<FilterAnswer> {
  const [row] = await db.query<FilterAnswer[]>(
    `INSERT INTO saved_filter (production_id, name, words)
     VALUES ($1, $2, $3)
     ON CONFLICT (production_id, name) DO UPDATE SET words = excluded.words
     RETURNING id, name, words`,
    [production, name, words],
  );
  return row as FilterAnswer;
}

export async function dropFilter(db: DataSource, id: string): Promise<void> {
  await db.query('DELETE FROM saved_filter WHERE id = $1', [id]);
}
