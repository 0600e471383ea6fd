import { parentPort, workerData } from 'node:worker_threads';
import pino from 'pino';
import { openDatabase, patiently } from './db/dataSource.ts';
import { ComingNames } from './inlets/comingNames.ts';
import { InletKeeper } from './inlets/keeper.ts';
import type { InletThreadSettings } from './inlets/thread.ts';
import { openQueue } from './queue/boss.ts';
import { Stores } from './stores/stores.ts';

/** The thread in which inlets are kept: ten thousand files that arrive at once hold up no page. */
const { databaseUrl, storesFile, cacheFolder, mountTable } = workerData as InletThreadSettings;
const log = pino({ name: 'inlets' }, pino.destination(2));
const complain = (error: Error): void => log.error({ error: error.stack }, 'inlet');

const db = await patiently(() => openDatabase(databaseUrl, false, 4), 60_000);
const boss = await patiently(() => openQueue(databaseUrl, complain, false, 1), 60_000);
const keeper = new InletKeeper({
  ...{ db, boss, stores: new Stores(storesFile), cacheFolder, mountTable, complain },
  coming: new ComingNames(),
});
keeper.start();

parentPort?.once('message', () => {
  void keeper
    .close()
    .then(() => boss.stop({ graceful: false, wait: false }))
    .then(() => db.destroy())
    .catch(complain)
    .finally(() => process.exit(0));
});
