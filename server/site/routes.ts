import type { siteRows } from '@relay/contract/routes/site';
import type { Handlers } from '../bind.ts';
import type { clipTasks } from '../clips/deskTasks.ts';
import { storeOr404, type Context } from '../context.ts';
import { notThere, Refused } from '../http.ts';
import { tell } from '../live/notify.ts';
import type { LiveStream } from '../live/stream.ts';
import { removeProduction } from '../removal/removal.ts';
import { addProduction, changeProduction, productions } from './productions.ts';
import { keepSetting } from './settings.ts';
import { siteNow } from './siteNow.ts';
import { foldersIn, forgetStore, settleStore, storeAnswers } from './stores.ts';

/** Productions, stores, and what the wire at the bottom of every page says. */
export function siteHandlers(context: Context, live: Pick<LiveStream, 'open'>): Handlers<typeof siteRows> {
  const { db, stores } = context;
  const desk = context.desk.of<typeof clipTasks>();
  return {
    productions: async () => productions(db),
    addProduction: async ({ body: { name } }) => {
      const made = await addProduction(db, name);
      if (!made)
        throw new Refused(409, {
          what: `There is a production called ${name} already`,
          remedy: 'Open it, or choose another name',
        });
      await tell(db, { kind: 'changed', what: 'productions', production: made.id });
      return made;
    },
    production: async ({ params }) => {
      const [found] = await productions(db, params.production);
      if (!found) throw notThere('The production');
      return found;
    },
    changeProduction: async ({ params: { production }, body }) => {
      await changeProduction(db, production, body);
      if (body.rate !== undefined) await desk.do('refreshClips', production);
      await tell(db, { kind: 'changed', what: 'productions', production });
      const [found] = await productions(db, production);
      if (!found) throw notThere('The production');
      return found;
    },
    removeProduction: async ({ params: { production } }) => {
      await removeProduction(db, production);
      await tell(db, { kind: 'changed', what: 'productions', production });
    },
    stores: async () => storeAnswers(context),
    changeStore: async ({ params, body: { elsewhere } }) => {
      const store = await storeOr404(context, params.store);
      const said = Object.entries(elsewhere).filter(([, path]) => path !== undefined && path !== '');
      await stores.putElsewhere(store.id, Object.fromEntries(said));
    },
    roots: async () => context.roots.list(),
    rootFolders: async ({ query }) => foldersIn(await context.roots.root(query.root), query.folder),
    addStore: async ({ body }) => {
      const settled = await settleStore(context, body);
      await tell(db, { kind: 'changed', what: 'stores', production: null });
      return settled;
    },
    forgetStore: async ({ params }) => {
      await forgetStore(context, await storeOr404(context, params.store));
      await tell(db, { kind: 'changed', what: 'stores', production: null });
    },
    moveStore: async ({ params, body }) => {
      await context.roots.lies(await storeOr404(context, params.store), body);
      await tell(db, { kind: 'changed', what: 'stores', production: null });
    },
    moveStoreBack: async ({ params }) => {
      await stores.movedBack(await storeOr404(context, params.store));
      await tell(db, { kind: 'changed', what: 'stores', production: null });
    },
    folders: async ({ params, query }) => foldersIn(await storeOr404(context, params.store), query.folder),
    site: async () => siteNow(context),
    changeSite: async ({ body }) => keepSetting(db, 'quiet', body.quiet),
    live: async ({ request, response }) => live.open(request, response),
  };
}
