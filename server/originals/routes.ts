import type { originalRows } from '@relay/contract/routes/originals';
import type { Handlers } from '../bind.ts';
import { storeOr404, type Context } from '../context.ts';
import { tell } from '../live/notify.ts';
import { foldersIn } from '../site/stores.ts';
import type { originalTasks } from './deskTasks.ts';
import { beginSearch } from './find.ts';
import { searchAnswer, searchLines } from './queries.ts';
import { takeFound, undoTaken } from './take.ts';

/** Where originals lie, and those that were moved. */
export function originalHandlers(context: Context): Handlers<typeof originalRows> {
  const { db, stores } = context;
  const desk = context.desk.of<typeof originalTasks>();
  const moved = async (production: string): Promise<void> => {
    for (const what of ['originals', 'clips', 'rolls'] as const) await tell(db, { kind: 'changed', what, production });
  };
  return {
    originals: async ({ params: { production } }) => ({
      places: await desk.do('originalsPlaces', production),
      searches: await searchLines(db, stores, production),
    }),
    search: async ({ params, body, who }) => {
      // Says so where it is not there.
      await foldersIn(await storeOr404(context, body.at.store), body.at.folder);
      const id = await beginSearch(context, params.production, body, who);
      await tell(db, { kind: 'changed', what: 'originals', production: params.production });
      return { id };
    },
    found: async ({ params }) => searchAnswer(db, stores, params.search),
    take: async ({ params, body, who }) => moved(await takeFound(context, params.search, body.bySize, who)),
    undo: async ({ params, who }) => moved(await undoTaken(db, params.search, who)),
  };
}
