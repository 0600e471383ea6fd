import type { KeptPattern } from '@relay/contract/recipes';
import type { PathPattern } from '@relay/core/naming/pathPattern';
import type { DataSource } from 'typeorm';
import { pathPattern } from '../db/entities/recipes.ts';

/** Path patterns that are kept by name. */

export async function keptPatterns(db: DataSource): Promise<KeptPattern[]> {
  const rows = await db.manager.find(pathPattern, { order: { name: 'ASC' } });
  return rows.map(({ id, name, pattern }) => ({ id, name, pattern }));
}

/** Keeps a pattern; one of the same name is kept anew. */
export async function keepPattern(db: DataSource, name: string, pattern: PathPattern): Promise<KeptPattern> {
  await db.manager.upsert(pathPattern, { name, pattern }, ['name']);
  const { id } = await db.manager.findOneByOrFail(pathPattern, { name });
  return { id, name, pattern };
}

export async function dropPattern(db: DataSource, id: string): Promise<void> {
  await db.manager.delete(pathPattern, { id });
}
