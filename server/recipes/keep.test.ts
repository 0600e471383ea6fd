import { finishAndCut } from '@relay/core/recipe/recipe';
import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest';
import { startDatabase, type TestDatabase } from '../../testing/database.ts';
import { addRecipe, changeRecipe, versionsOf } from './keep.ts';

let database: TestDatabase;
beforeAll(async () => {
  database = await startDatabase();
});
afterAll(async () => {
  vi.useRealTimers();
  await database?.close();
});

describe('changing a recipe', () => {
  it('tells when by the database, whatever the clock of the machine shows', async () => {
    const { id } = await addRecipe(database.db, { definition: finishAndCut, group: 'Cut', note: '' }, 'assistant');
    vi.useFakeTimers({ toFake: ['Date'], now: Date.UTC(2001, 0, 1) });
    const changed = await changeRecipe(database.db, id, 'assistant', (before) => ({
      definition: { ...before, name: 'Other' },
    }));
    vi.useRealTimers();
    expect(changed).toMatchObject({ version: 2, definition: { name: 'Other' }, group: 'Cut' });
    expect(Math.abs(Date.parse(changed.changedAt) - Date.now())).toBeLessThan(600_000);
    const versions = await versionsOf(database.db, id);
    expect(versions.map(({ version, definition }) => [version, definition.name])).toEqual([[1, finishAndCut.name]]);
  });

  it('makes no version where only its group or its note changes', async () => {
    const { id } = await addRecipe(database.db, { definition: finishAndCut, group: 'Cut', note: '' }, 'assistant');
    const changed = await changeRecipe(database.db, id, 'assistant', (definition) => ({ definition, note: 'Nights' }));
    expect(changed).toMatchObject({ version: 1, note: 'Nights', group: 'Cut' });
    expect(await versionsOf(database.db, id)).toEqual([]);
  });

  it('refuses what was said of a version that is no longer the last', async () => {
    const { id } = await addRecipe(database.db, { definition: finishAndCut, group: 'Cut', note: '' }, 'assistant');
    const rename = (name: string) =>
      changeRecipe(database.db, id, 'assistant', (before) => ({ definition: { ...before, name } }), 1);
    await rename('First');
    await expect(rename('Second')).rejects.toThrow(/changed by somebody else/);
  });
});
