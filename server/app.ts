import express from 'express';
import helmet from 'helmet';
import { existsSync } from 'node:fs';
import { createServer } from 'node:http';
import { join } from 'node:path';
import pino from 'pino';
import { arrivalRoutes } from './arrivals/routes.ts';
import { bayRoutes } from './arrivals/bay.ts';
import { rollRoutes } from './arrivals/rollRoutes.ts';
import { checkRoutes } from './checks/routes.ts';
import { identityRoutes } from './clips/identityRoutes.ts';
import { reportRoutes } from './clips/report.ts';
import { clipRoutes } from './clips/routes.ts';
import type { Context } from './context.ts';
import { correctionRoutes } from './corrections/routes.ts';
import { lookRoutes } from './looks/routes.ts';
import { openDatabase, patiently } from './db/dataSource.ts';
import { handoffRoutes } from './handoffs/routes.ts';
import { answerErrors, notThere, onlyOwnPages } from './http.ts';
import { LiveStream } from './live/stream.ts';
import { openQueue } from './queue/boss.ts';
import { recipeRoutes } from './recipes/routes.ts';
import { runRoutes } from './runs/routes.ts';
import { siteRoutes } from './site/routes.ts';
import { Stores } from './stores/stores.ts';

export interface ServerSettings {
  databaseUrl: string;
  storesFile: string;
  cacheFolder: string;
  /** The built interface. */
  webFolder: string;
  port: number;
}

/** The server: API, live line and interface, on this machine's own address only. */
export async function startServer(settings: ServerSettings): Promise<{ close(): Promise<void> }> {
  const log = pino({ name: 'server' }, pino.destination(2));
  const db = await patiently(() => openDatabase(settings.databaseUrl));
  const boss = await patiently(() => openQueue(settings.databaseUrl, (error) => log.warn({ error: error.message }, 'queue')));
  const live = new LiveStream(settings.databaseUrl);
  const context: Context = { db, boss, stores: new Stores(settings.storesFile), cacheFolder: settings.cacheFolder };

  const app = express();
  app.disable('x-powered-by');
  app.use(helmet({
    // Styles that the table and the charts set on elements; nothing else from anywhere but here.
    contentSecurityPolicy: { directives: { 'default-src': ["'self'"], 'style-src': ["'self'", "'unsafe-inline'"], 'img-src': ["'self'", 'data:', 'blob:'], 'media-src': ["'self'", 'blob:'], 'upgrade-insecure-requests': null } },
    strictTransportSecurity: false,
  }));
  app.use(onlyOwnPages);
  const api = express.Router();
  api.get('/live', live.open);
  // A whole production's CSV comes in one request.
  api.use(express.json({ limit: '24mb' }));
  for (const routes of [siteRoutes, arrivalRoutes, rollRoutes, bayRoutes, clipRoutes, identityRoutes, reportRoutes, lookRoutes, correctionRoutes, recipeRoutes, runRoutes, checkRoutes, handoffRoutes]) api.use(routes(context));
  api.use(() => {
    throw notThere('What you asked for');
  });
  app.use('/api', api);
  if (existsSync(settings.webFolder)) {
    app.use(express.static(settings.webFolder, { index: false, maxAge: '1h' }));
    app.get('/{*page}', (_request, response) => response.sendFile(join(settings.webFolder, 'index.html'), { dotfiles: 'allow', headers: { 'Cache-Control': 'no-cache' } }));
  }
  app.use(answerErrors((error) => log.error({ error: error.stack }, 'not foreseen')));

  const server = createServer(app);
  await new Promise<void>((resolve, reject) => {
    server.once('error', reject);
    server.listen(settings.port, '127.0.0.1', resolve);
  });
  return {
    async close() {
      await live.close();
      server.closeAllConnections();
      await new Promise((resolve) => server.close(resolve));
      await boss.stop({ graceful: false, wait: false }).catch(() => undefined);
      await db.destroy().catch(() => undefined);
    },
  };
}
