import type { SpaceSet } from '@relay/contract/space';
import type { spaceRows } from '@relay/contract/routes/space';
import type { Handlers } from '../bind.ts';
import type { Context } from '../context.ts';
import { tell } from '../live/notify.ts';
import { removalQueue } from '../queue/boss.ts';
import { bringBackRemoved } from './again.ts';
import { cacheSize, clearCache } from './cache.ts';
import type { spaceTasks } from './deskTasks.ts';
import { removalAnswer, removalLines, resumeRemoval, stopRemoval } from './queries.ts';

/** What the application keeps for itself, as a set among the others. */
async function cacheSet(cacheFolder: string): Promise<SpaceSet[]> {
  const { files, bytes } = await cacheSize(cacheFolder);
  if (files === 0) return [];
  return [
    {
      ...{ key: 'cache', kind: 'cache', run: '', stores: [], files, bytes, goes: files, goesBytes: bytes, stays: [] },
      safe: 'drawn again as soon as somebody asks for it',
    },
  ];
}

/** Getting space back. */
export function spaceHandlers(context: Context): Handlers<typeof spaceRows> {
  const { db, boss, stores, cacheFolder } = context;
  const desk = context.desk.of<typeof spaceTasks>();
  const changed = (production: string | null): Promise<void> =>
    tell(db, { kind: 'changed', what: 'space', production });
  return {
    space: async ({ params, query }) => {
      const [{ sets, cuts }, cache] = await Promise.all([
        desk.do('spaceOf', params.production, query.cut ?? null),
        cacheSet(cacheFolder),
      ]);
      return { sets: [...sets, ...cache], cuts };
    },
    effect: async ({ params, body }) => desk.json('effectOf', params.production, body),
    remove: async ({ params, body, who }) => {
      const id = await desk.do('orderRemoval', params.production, body, who);
      await changed(params.production);
      return { id };
    },
    removals: async ({ params }) => removalLines(db, params.production),
    removal: async ({ params }) => removalAnswer(db, stores, params.removal),
    stopRemoval: async ({ params }) => changed(await stopRemoval(db, params.removal)),
    resumeRemoval: async ({ params }) => {
      const production = await resumeRemoval(db, params.removal);
      await boss.send(removalQueue, { removal: params.removal });
      await changed(production);
    },
    comeBack: async ({ params, body }) => {
      const { production, ...back } = await bringBackRemoved(context, params.removal, body.places);
      await changed(production);
      return back;
    },
    clearCache: async () => {
      const bytes = await clearCache(cacheFolder);
      await changed(null);
      return { bytes };
    },
  };
}
