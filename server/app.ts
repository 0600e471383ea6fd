import compression from 'compression';
import { constants } from 'node:zlib';
import express, { type Express, type Router } from 'express';
import helmet from 'helmet';
import { existsSync } from 'node:fs';
import { createServer } from 'node:http';
import { under } from '@relay/core/naming/under';
import pino from 'pino';
import { allRows } from '@relay/contract/routes/all';
import { arrivalHandlers } from './arrivals/routes.ts';
import { bind } from './bind.ts';
import { checkHandlers } from './checks/routes.ts';
import { identityHandlers } from './clips/identityRoutes.ts';
import { clipHandlers } from './clips/routes.ts';
import { correctionHandlers } from './corrections/routes.ts';
import { Desk } from './desk/desk.ts';
import { cutHandlers } from './cuts/routes.ts';
import { swapHandlers } from './swaps/routes.ts';
import { handoffHandlers } from './handoffs/routes.ts';
import { originalHandlers } from './originals/routes.ts';
import { spaceHandlers } from './space/routes.ts';
import { inletHandlers } from './inlets/routes.ts';
import { startInletThread } from './inlets/thread.ts';
import { benchHandlers } from './bench/routes.ts';
import { cabinetHandlers } from './cabinet/routes.ts';
import { recipeHandlers } from './recipes/routes.ts';
import { runHandlers } from './runs/routes.ts';
import { siteHandlers } from './site/routes.ts';
import { markBrowsers } from './asked.ts';
import type { Context } from './context.ts';
import { openDatabase, patiently } from './db/dataSource.ts';
import { answerErrors, notThere, onlyOwnPages } from './http.ts';
import { LiveStream } from './live/stream.ts';
import { openQueue } from './queue/boss.ts';
import { tell } from './live/notify.ts';
import { watchMounts } from './stores/mountWatch.ts';
import { noRoots, Roots, type AllowedRoots } from './stores/roots.ts';
import { Stores } from './stores/stores.ts';

export interface ServerSettings {
  databaseUrl: string;
  storesFile: string;
  cacheFolder: string;
  /** The built interface. */
  webFolder: string;
  /** What its pages may add stores from, and where the demo lies. */
  roots?: AllowedRoots;
  demoFolder?: string;
  port: number;
}

/** Where every kind of what a page loads may come from: from here, and nowhere else. */
const sources = {
  'default-src': ["'none'"],
  // Cubes are applied by WebAssembly.
  'script-src': ["'self'", "'wasm-unsafe-eval'"],
  'script-src-attr': ["'none'"],
  // The table and the charts set styles on elements.
  'style-src': ["'self'", "'unsafe-inline'"],
  'img-src': ["'self'", 'data:', 'blob:'],
  'media-src': ["'self'", 'blob:'],
  'font-src': ["'self'", 'data:'],
  'connect-src': ["'self'"],
  'worker-src': ["'self'", 'blob:'],
  'manifest-src': ["'self'"],
  'object-src': ["'none'"],
  'frame-src': ["'none'"],
  'child-src': ["'none'"],
  'frame-ancestors': ["'none'"],
  'base-uri': ["'none'"],
  'form-action': ["'self'"],
};

/** Every route, behind what holds for all of them. */
function apiOf(context: Context, live: LiveStream): Router {
  const api = express.Router();
  // Nobody between here and the page keeps a production's facts; the page asks whether they are still so.
  api.use((_request, response, next) => {
    response.set('Cache-Control', 'private, no-cache');
    next();
  });
  bind(api, allRows.site, siteHandlers(context, live));
  bind(api, allRows.arrivals, arrivalHandlers(context));
  bind(api, allRows.inlets, inletHandlers(context));
  bind(api, allRows.clips, clipHandlers(context));
  bind(api, allRows.identity, identityHandlers(context));
  bind(api, allRows.cabinet, cabinetHandlers(context));
  bind(api, allRows.bench, benchHandlers(context));
  bind(api, allRows.corrections, correctionHandlers(context));
  bind(api, allRows.recipes, recipeHandlers(context));
  bind(api, allRows.runs, runHandlers(context));
  bind(api, allRows.checks, checkHandlers(context));
  bind(api, allRows.handoffs, handoffHandlers(context));
  bind(api, allRows.originals, originalHandlers(context));
  bind(api, allRows.space, spaceHandlers(context));
  bind(api, allRows.cuts, cutHandlers(context));
  bind(api, allRows.swaps, swapHandlers(context));
  api.use(() => {
    throw notThere('What you asked for');
  });
  return api;
}

/**
 * The built interface: what has a mark of its content in its name never changes; every other path is the page, but for
 * what looks like a file.
 */
function servePages(app: Express, folder: string): void {
  app.use(
    '/assets',
    express.static(under(folder, 'assets'), { index: false, immutable: true, maxAge: '1y', fallthrough: false }),
  );
  app.use(express.static(folder, { index: false, maxAge: '1h' }));
  app.get('/{*page}', (request, response) => {
    if (/\.\w{1,8}$/.test(request.path)) throw notThere('What you asked for');
    response.sendFile(under(folder, 'index.html'), { dotfiles: 'allow', headers: { 'Cache-Control': 'no-cache' } });
  });
}

/** The server: API, live line and interface, on this machine's own address only. */
export async function startServer(settings: ServerSettings): Promise<{ close(): Promise<void> }> {
  const log = pino({ name: 'server' }, pino.destination(2));
  const db = await patiently(() => openDatabase(settings.databaseUrl));
  const boss = await patiently(() =>
    openQueue(settings.databaseUrl, (error) => log.warn({ error: error.message }, 'queue')),
  );
  const live = new LiveStream(settings.databaseUrl);
  const stores = new Stores(settings.storesFile);
  const allowed = settings.roots ?? noRoots;
  const context: Context = {
    db,
    boss,
    stores,
    roots: new Roots(allowed, stores),
    demoFolder: settings.demoFolder ?? '',
    cacheFolder: settings.cacheFolder,
    desk: new Desk(settings),
  };

  const { databaseUrl, storesFile, cacheFolder } = settings;
  const inlets = startInletThread({ databaseUrl, storesFile, cacheFolder, mountTable: allowed.mountTable });
  const mounts = watchMounts(
    allowed.mountTable,
    () => void tell(db, { kind: 'changed', what: 'stores', production: null }).catch(() => undefined),
  );

  const app = express();
  app.disable('x-powered-by');
  app.use(
    helmet({ contentSecurityPolicy: { useDefaults: false, directives: sources }, strictTransportSecurity: false }),
  );
  app.use(onlyOwnPages);
  app.use(markBrowsers);
  app.use(
    compression({
      // Lists of thousands weigh megabytes: packed hard, they would be waited for longer than they are sent.
      level: 1,
      brotli: { params: { [constants.BROTLI_PARAM_QUALITY]: 1 } },
      filter: (request, response) =>
        !request.originalUrl.startsWith('/api/live') && compression.filter(request, response),
    }),
  );
  app.use('/api', apiOf(context, live));
  if (existsSync(settings.webFolder)) servePages(app, settings.webFolder);
  app.use(answerErrors((error) => log.error({ error: error.stack }, 'not foreseen')));

  const server = createServer(app);
  await new Promise<void>((resolve, reject) => {
    server.once('error', reject);
    server.listen(settings.port, '127.0.0.1', resolve);
  });
  return {
    async close() {
      mounts.close();
      await inlets.close();
      await live.close();
      server.closeAllConnections();
      await new Promise((resolve) => server.close(resolve));
      await context.desk.close();
      await boss.stop({ graceful: false, wait: false }).catch(() => undefined);
      await db.destroy().catch(() => undefined);
    },
  };
}
