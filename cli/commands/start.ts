import { usualInlet } from '@relay/contract/inlets';
import { usualCopyRule } from '@relay/core/custody/clearing';
import { cp, mkdir, readFile, rename, rm, stat, statfs, writeFile } from 'node:fs/promises';
import { resolve } from 'node:path';
import { under } from '@relay/core/naming/under';
import type { SiteAnswer } from '@relay/contract/site';
import { arrivalRows } from '@relay/contract/routes/arrivals';
import { cabinetRows } from '@relay/contract/routes/cabinet';
import { cutRows } from '@relay/contract/routes/cuts';
import { inletRows } from '@relay/contract/routes/inlets';
import { recipeRows } from '@relay/contract/routes/recipes';
import { siteRows } from '@relay/contract/routes/site';
import { askAt } from '../site/ask.ts';
import { finishAndCut, starterRecipes } from '@relay/core/recipe/recipe';
import { demoCuts } from '@relay/demo/cuts';
import { demoLooks } from '@relay/demo/luts';
import { layOutCards, paintDemo } from '@relay/demo/paint';
import { grantToWorkers } from '@relay/server/db/grants';
import { openDatabase } from '@relay/server/db/dataSource';
import { prepareQueue } from '@relay/server/queue/boss';
import { Stores } from '@relay/server/stores/stores';
import { give, layOutHome } from '../site/account.ts';
import { keepRunning } from '../site/child.ts';
import { home, painted, places } from '../site/home.ts';
import { rootsToAllow } from '../site/roots.ts';
import { freePort, startPostgres, type Database } from '../site/postgres.ts';
import { complain, endProgress, Misuse, progressLine } from './output.ts';

const usualPort = 4700;
/** Less than this and nothing could be painted, built or made. */
const leastFreeBytes = 600e6;

export interface StartOptions {
  port?: string;
  store?: string[];
  root?: string[];
  demo: boolean;
}

/** `relay start`: everything, until Ctrl-C. */
// eslint-disable-next-line max-lines-per-function -- what is started, in its order, and ended in the other
export async function startCommand(values: StartOptions): Promise<number> {
  const wantedPort = values.port === undefined ? usualPort : Number(values.port);
  if (!Number.isInteger(wantedPort) || wantedPort < 0 || wantedPort > 65_535)
    throw new Misuse('--port takes a number up to 65535');
  await mkdir(home, { recursive: true }).catch((error: NodeJS.ErrnoException) => {
    throw new Misuse(`${home} cannot be made (${error.code}): give yourself the right to write there`);
  });
  const disk = await statfs(home);
  if (disk.bavail * disk.bsize < leastFreeBytes)
    throw new Misuse(
      `too little disk space: ${Math.round((disk.bavail * disk.bsize) / 1e6)} MB are free at ${home}, 600 MB are needed`,
    );
  await refuseSecondStart();
  await layOutHome();
  const port = await freePort(wantedPort);
  if (values.port !== undefined && wantedPort !== 0 && port !== wantedPort)
    throw new Misuse(`port ${wantedPort} is taken: choose another with --port`);
  const { demo } = values;
  const roots = await rootsGiven(values.root);
  await addStores(values.store ?? [], demo);

  const stops: (() => Promise<void>)[] = [];
  let stopping = false;
  const stopAll = async (): Promise<void> => {
    stopping = true;
    for (const stop of stops.reverse()) await stop().catch(() => undefined);
    await rm(places.site, { force: true });
  };
  const told = new Promise<void>((resolveTold) => {
    for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP'] as const) process.once(signal, () => resolveTold());
  });
  void told.then(() => {
    stopping = true;
  });
  try {
    const painting = demo
      ? paintDemo(painted, [process.execPath, process.argv[1] as string, 'paint-one'], (line) =>
          process.stderr.isTTY ? progressLine(line) : complain(line),
        ).then(layOutDemo)
      : Promise.resolve();
    painting.catch(() => undefined);
    let database: Database & { port: number } = await startPostgres({
      dataFolder: places.database,
      secretFile: places.secret,
      logFolder: places.logs,
    });
    stops.push(() => database.stop());
    const watchDatabase = (): void =>
      void database.ended.then(async () => {
        if (stopping) return;
        complain('the database ended and is started again');
        try {
          database = await startAgain(database.port, () => stopping);
          watchDatabase();
        } catch (error) {
          complain((error as Error).message);
          process.kill(process.pid, 'SIGTERM');
        }
      });
    watchDatabase();
    const db = await openDatabase(database.url, true);
    for (const { definition, group, note } of starterRecipes) {
      await db.query(
        `INSERT INTO recipe (definition, grp, note, owner) SELECT $1::jsonb, $2, $3, 'Brisk Relay' WHERE NOT EXISTS (SELECT 1 FROM recipe WHERE definition->>'name' = $1::jsonb->>'name')`,
        [JSON.stringify(definition), group, note],
      );
    }
    await prepareQueue(database.url);
    await grantToWorkers(db);
    await db.destroy();
    await painting;
    // The bay's cards are moved about by the server, the rest of the demo is worked on by workers.
    for (const folder of [places.bay, places.estuary]) give(folder);
    await layOutHome();
    endProgress();

    const env = { RELAY_HOME: home, RELAY_SCRATCH: places.scratch };
    const worker = keepRunning('worker', places.logs, { ...env, RELAY_DATABASE: database.workerUrl }, complain);
    stops.push(() => worker.stop());
    const server = keepRunning(
      'serve',
      places.logs,
      { ...env, RELAY_DATABASE: database.url, RELAY_PORT: String(port), RELAY_ROOTS: rootsToAllow(roots) },
      complain,
    );
    stops.push(() => server.stop());
    const address = `http://127.0.0.1:${port}`;
    // Renamed into place, so that who reads it never finds it half written.
    const writeSite = async (): Promise<void> => {
      await writeFile(
        `${places.site}.new`,
        JSON.stringify({
          pid: process.pid,
          address,
          database: database.workerUrl,
          databasePid: database.pid,
          serverPid: server.pid(),
          workerPid: worker.pid(),
        }),
        { mode: 0o600 },
      );
      await rename(`${places.site}.new`, places.site);
    };
    await writeSite();
    // For tests and for whoever looks: who runs as what, also after one of them was started again.
    const note = setInterval(() => void writeSite().catch(() => undefined), 1_000);
    stops.push(async () => clearInterval(note));
    await Promise.race([untilAnswers(address), told]);
    if (!stopping && demo) await Promise.race([openDemo(address), told]);
    if (!stopping) await Promise.race([sayIsolation(address), told]);
    if (!stopping) process.stdout.write(`Brisk Relay is ready at ${address}\nCtrl-C stops it.\n`);
    await told;
    process.stderr.write('Stopping…\n');
    return 0;
  } finally {
    await stopAll();
  }
}

/**
 * Starts a database again that was killed. Its helpers may live on for a moment and hold its shared memory: then
 * PostgreSQL refuses, and is asked again for half a minute.
 */
async function startAgain(port: number, given: () => boolean): Promise<Database & { port: number }> {
  for (let tries = 0; ; tries += 1) {
    try {
      return await startPostgres(
        { dataFolder: places.database, secretFile: places.secret, logFolder: places.logs },
        port,
      );
    } catch (error) {
      if (tries >= 15 || given()) throw error;
      await new Promise((resolveWait) => setTimeout(resolveWait, 2_000));
    }
  }
}

async function refuseSecondStart(): Promise<void> {
  const site = JSON.parse(await readFile(places.site, 'utf8').catch(() => '{}')) as { pid?: number; address?: string };
  if (!site.pid || site.pid === process.pid) return;
  const command = await readFile(`/proc/${site.pid}/cmdline`, 'utf8').catch(() => '');
  if (command.includes('relay.mjs'))
    throw new Misuse(`Brisk Relay is already running at ${site.address ?? 'its address'}`);
}

/** Folders that pages may add stores from, where they are told. */
async function rootsGiven(given: readonly string[] | undefined): Promise<string[] | undefined> {
  const paths = given?.map((path) => resolve(path));
  for (const path of paths ?? [])
    if (!(await stat(path).catch(() => null))?.isDirectory()) throw new Misuse(`--root ${path} is not a folder`);
  return paths;
}

async function addStores(given: readonly string[], demo: boolean): Promise<void> {
  const stores = new Stores(places.stores);
  const known = await stores.list();
  const ours = [
    ['Estuary RAID', places.estuary],
    ['Shuttle', places.shuttle],
    ['Card bay', places.bay],
  ] as const;
  for (const [name, folder] of demo ? ours : []) {
    // Our own folders are made anew when somebody cleared them away.
    const made = (await mkdir(folder, { recursive: true })) !== undefined;
    const there = known.find((store) => store.path === folder);
    if (known.length === 0 || (there && made) || (!there && folder === places.bay))
      await stores.put(there?.name ?? name, folder, made);
  }
  for (const text of given) {
    const [name, ...rest] = text.split('=');
    const path = resolve(rest.join('='));
    if (!name || rest.length === 0) throw new Misuse('--store takes NAME=PATH');
    if (!(await stat(path).catch(() => null))?.isDirectory()) throw new Misuse(`${path} is not a folder`);
    await stores.put(name, path);
  }
}

/** The painted material where this site uses it: originals on their store, cards on the bay's tray. */
async function layOutDemo(): Promise<void> {
  await cp(under(painted, 'estuary'), places.estuary, { recursive: true, preserveTimestamps: true, force: false });
  await layOutCards(painted, places.bay);
}

async function untilAnswers(address: string): Promise<void> {
  for (let wait = 0; wait < 300; wait += 1) {
    if (await askAt(address, siteRows.productions, {}).catch(() => null)) return;
    await new Promise((resolveWait) => setTimeout(resolveWait, 100));
  }
  throw new Error(`the server did not answer within 30 s; ${places.logs}/serve.log says why`);
}

/** Says once where strangers' files are read with all that we may see; the site's page keeps saying it. */
async function sayIsolation(address: string): Promise<void> {
  const { isolation } = (await askAt(address, siteRows.site, {})) as Partial<SiteAnswer>;
  if (isolation !== undefined && isolation !== null)
    complain(`FFmpeg runs without a sandbox: ${isolation}. Bring in only cards that you trust`);
}

/** On the very first start: the demo production, with its clips read. Afterwards nothing is added by itself. */
async function openDemo(address: string): Promise<void> {
  if ((await askAt(address, siteRows.productions, {})).length > 0) return;
  const production = await askAt(address, siteRows.addProduction, { body: { name: 'Salt Lantern' } });
  // Its stores are folders of this machine, on one disk.
  await askAt(address, siteRows.changeProduction, {
    production: production.id,
    body: { copyRule: { ...usualCopyRule, oneDisk: true } },
  });
  for (const look of demoLooks) {
    const { hash } = await askAt(address, cabinetRows.addFromStore, {
      body: { store: 'estuary-raid', path: `looks/${look.file}` },
    });
    await askAt(address, cabinetRows.change, {
      hash,
      body: { tags: look.tags, takes: look.takes ?? null, gives: look.gives ?? null },
    });
  }
  await addDemoInlet(address, production.id);
  await addDemoCut(address, production.id);
  const reading = await askAt(address, arrivalRows.read, {
    production: production.id,
    body: {
      store: 'estuary-raid',
      folder: 'salt-lantern',
    },
  });
  for (let wait = 0; wait < 600; wait += 1) {
    const now = (await askAt(address, arrivalRows.readings, { production: production.id })).find(
      (one) => one.id === reading.id,
    );
    if (now?.state === 'done' || now?.state === 'failed') return;
    progressLine(`Reading the demo originals, ${now?.done ?? 0} of ${now?.total ?? 0}`);
    await new Promise((resolveWait) => setTimeout(resolveWait, 200));
  }
}

/** A cut of the demo's clips with its versions, so that there is one to rehearse. */
async function addDemoCut(address: string, production: string): Promise<void> {
  let cut: string | undefined;
  for (const { file } of demoCuts) {
    await askAt(address, cutRows.addFromStore, {
      production,
      body: { store: 'estuary-raid', path: `cuts/${file}`, rate: '23.976', ...(cut === undefined ? {} : { cut }) },
    });
    cut ??= (await askAt(address, cutRows.cuts, { production }))[0]?.id;
  }
}

/** An inlet that stands ready, paused: its page has a button that drops a painted card into it. */
async function addDemoInlet(address: string, production: string): Promise<void> {
  const recipes = await askAt(address, recipeRows.recipes, {});
  const recipe = recipes.find(({ definition }) => definition.name === finishAndCut.name);
  if (!recipe) return;
  const { id } = await askAt(address, inletRows.add, {
    production,
    body: {
      name: 'Ferry inlet',
      source: { kind: 'folders', folders: [{ store: 'estuary-raid', folder: 'salt-lantern-inlet' }] },
      recipes: [{ recipe: recipe.id, store: 'shuttle', folder: 'salt-lantern-inlet-outputs' }],
      ...usualInlet,
    },
  });
  await askAt(address, inletRows.pause, { inlet: id, body: { paused: true } });
}
