import { hostname } from 'node:os';
import { under } from '@relay/core/naming/under';
import { basename, dirname } from 'node:path';
import type { LegProgress } from '@relay/media/leg/perform';
import pino from 'pino';
import type { DataSource } from 'typeorm';
import type PgBoss from 'pg-boss';
import { carryOutReading } from './arrivals/reading.ts';
import { carryOutArrival, carryOutVerification } from './arrivals/rolls.ts';
import { carryOutMeasuring } from './checks/measurings.ts';
import { carryOutLook } from './clips/looking.ts';
import { clockOf, isDatabaseAway, openDatabase, patiently } from './db/dataSource.ts';
import { tell } from './live/notify.ts';
import {
  arrivalQueue,
  legQueue,
  lookQueue,
  openQueue,
  queueLegs,
  readingQueue,
  joinedCopyQueue,
  measureQueue,
  handoffQueue,
  searchQueue,
  removalQueue,
  verifyQueue,
  type ArrivalJob,
  type LegJob,
  type LookJob,
  type ReadingJob,
  type JoinedCopyJob,
  type MeasureJob,
  type HandoffJob,
  type SearchJob,
  type RemovalJob,
  type VerifyJob,
} from './queue/boss.ts';
import {
  anyWaiting,
  claimForemost,
  endLeg,
  renewLease,
  runsOneAlone,
  stillOurs,
  giveBack,
  mostBlames,
  workerName,
  type ClaimedLeg,
} from './runs/claims.ts';
import { recordedOutput, recordOutput } from './runs/recorded.ts';
import { cabinetText } from './cabinet/cabinet.ts';
import { runLeg } from '@relay/work/leg/leg';
import { claimSegment, type ClaimedSegment } from './runs/segmentClaims.ts';
import { restMs, standBackMs, sweepMs } from './pace.ts';
import { helpersOf, keeperOf } from './runs/helpers.ts';
import { helpWith } from '@relay/work/leg/segments';
import { carryOutJoinedCopy } from './runs/joinedCopies.ts';
import { rootsHere, UnknownStore } from './runs/rootsHere.ts';
import { SheetKeeper } from './runs/sheetKeeper.ts';
import { keptImage } from './recipes/images.ts';
import { LikeClips } from '@relay/core/size/likeClips';
import { minutesUntilWork } from '@relay/core/site/quietHours';
import { isolated } from '@relay/media/process/sandbox';
import { carryOutHandoff } from './handoffs/carry.ts';
import { verifyHandoff } from './handoffs/returned.ts';
import { carryOutSearch } from './originals/find.ts';
import { carryOutRemoval } from './space/carry.ts';
import { beatWorker, leaveWorker } from './queue/roster.ts';
import { setting } from './site/settings.ts';
import { isThere } from '@relay/work/disk/store';
import { Stores } from './stores/stores.ts';
import { sweep } from './sweep.ts';
import { beating } from '@relay/work/heart';

export interface WorkerSettings {
  databaseUrl: string;
  storesFile: string;
  cacheFolder: string;
  /** The machine, where it is called otherwise than it calls itself. */
  host?: string;
  /** Legs at a time. */
  slots: number;
  /** What people call it. */
  title: string;
  /** Codecs that it takes legs of; null for all. */
  codecs: readonly string[] | null;
  /**
   * Takes legs only: cards, readings and looks are for the site's own worker, whose stores and cache are the server's.
   */
  legsOnly: boolean;
}

/**
 * A process that takes from the queues: legs, cards to be brought in, folders to be read, clips to be looked at, copies
 * to be verified.
 */
// eslint-disable-next-line max-lines-per-function -- what is started, in its order, and ended in the other
export async function startWorker(settings: WorkerSettings): Promise<{ close(): Promise<void> }> {
  const log = pino({ name: 'worker' }, pino.destination(2));
  const host = settings.host ?? hostname();
  const name = workerName(host, process.pid, Date.now());
  const db = await patiently(() => openDatabase(settings.databaseUrl));
  const boss = await patiently(() =>
    openQueue(settings.databaseUrl, (error) => log.warn({ error: error.message }, 'queue'), false),
  );
  const stores = new Stores(settings.storesFile);
  const sheets = new SheetKeeper(db, stores, (error) => log.warn({ error: error.message }, 'relink sheet'));
  await patiently(() => sheets.addRecent());
  const leaving = new AbortController();
  const underWay = new Set<Promise<void>>();
  const track = async (work: Promise<void>): Promise<void> => {
    underWay.add(work);
    try {
      await work;
    } catch (error) {
      log.error({ error: (error as Error).message }, 'work broke off');
    } finally {
      underWay.delete(work);
    }
  };

  // Before anything is taken: what was begun earlier is another's.
  const sweeping = { db, boss, stores, host, started: settings.legsOnly ? null : await patiently(() => clockOf(db)) };
  const atWork: AtWork = {
    ...{ db, boss, stores, sheets, host, worker: name, codecs: settings.codecs },
    likeClips: new LikeClips(),
  };
  for (let slot = 0; slot < settings.slots; slot += 1) {
    await boss.work<LegJob>(legQueue, { batchSize: 1, pollingIntervalSeconds: 0.5 }, async ([job]) => {
      if (job && !leaving.signal.aborted) await track(takeLeg(job.data, atWork, leaving.signal));
    });
  }
  const takes = async <Job extends object>(queue: string, work: (job: Job) => Promise<void>): Promise<void> => {
    await boss.work<Job>(queue, { batchSize: 1, pollingIntervalSeconds: 0.5 }, async ([job]) => {
      if (job && !leaving.signal.aborted) await track(work(job.data));
    });
  };
  if (!settings.legsOnly) {
    const journals = under(dirname(settings.storesFile), 'journals');
    await takes<ReadingJob>(readingQueue, (job) =>
      carryOutReading(db, boss, stores, settings.cacheFolder, job.reading),
    );
    // Two: one clip's pictures are decoded while another's are measured.
    for (let pair = 0; pair < 2; pair += 1)
      await takes<LookJob>(lookQueue, (job) => carryOutLook(db, stores, settings.cacheFolder, job.clip));
    await takes<ArrivalJob>(arrivalQueue, (job) =>
      carryOutArrival({ db, boss, stores, journals }, job.roll, name, leaving.signal),
    );
    await takes<JoinedCopyJob>(joinedCopyQueue, (job) =>
      carryOutJoinedCopy(db, stores, job.joinedCopy, leaving.signal),
    );
    await takes<MeasureJob>(measureQueue, (job) => carryOutMeasuring(db, stores, job.measuring, leaving.signal));
    await takes<HandoffJob>(handoffQueue, (job) =>
      job.verify
        ? verifyHandoff({ db, stores }, job.handoff, leaving.signal)
        : carryOutHandoff({ db, stores, journals }, job.handoff, name, leaving.signal),
    );
    await takes<SearchJob>(searchQueue, (job) => carryOutSearch({ db, stores }, job.search, leaving.signal));
    await takes<RemovalJob>(removalQueue, (job) => carryOutRemoval({ db, stores }, job.removal, name, leaving.signal));
    await takes<VerifyJob>(verifyQueue, (job) => carryOutVerification(db, stores, job.copy));
  }
  const state = await isolated();
  const beat = async (): Promise<void> =>
    beatWorker(db, {
      name,
      title: settings.title,
      host,
      slots: settings.slots,
      codecs: settings.codecs,
      stores: await storesThere(stores),
      isolation: state.works ? null : state.why,
    });
  const sweeper = setInterval(
    () =>
      void beat()
        .then(() => sweep(sweeping))
        .catch((error: Error) => (isDatabaseAway(error) ? undefined : log.error({ error: error.message }, 'sweep'))),
    sweepMs,
  );
  await patiently(beat);
  await patiently(() => sweep(sweeping));
  log.info({ name, slots: settings.slots }, 'ready');
  return {
    async close() {
      clearInterval(sweeper);
      leaving.abort();
      await boss.stop({ graceful: false, wait: false }).catch(() => undefined);
      await Promise.race([Promise.allSettled(underWay), new Promise((resolve) => setTimeout(resolve, 8_000))]);
      await leaveWorker(db, name).catch(() => undefined);
      await sheets.close();
      await db.destroy().catch(() => undefined);
    },
  };
}

/** Ids of the stores that are there on this machine. */
async function storesThere(stores: Stores): Promise<string[]> {
  const all = await stores.list();
  const there = await Promise.all(all.map(isThere));
  return all.filter((_, index) => there[index]).map(({ id }) => id);
}

interface AtWork {
  db: DataSource;
  boss: PgBoss;
  stores: Stores;
  sheets: SheetKeeper;
  worker: string;
  host: string;
  codecs: readonly string[] | null;
  likeClips: LikeClips;
}

type Claimed = { leg: ClaimedLeg } | { segment: ClaimedSegment };

/**
 * The foremost leg that this worker may take now, else a segment of one that another has; null, once others had time
 * to, where there is none for it.
 */
async function claimForUs(
  job: LegJob,
  { db, boss, stores, worker, host, codecs }: AtWork,
  leaving: AbortSignal,
): Promise<Claimed | null> {
  const quiet = await patiently(() => setting(db, 'quiet'));
  const now = new Date();
  const resting = quiet !== null && minutesUntilWork(quiet, now.getHours() * 60 + now.getMinutes()) > 0;
  const there = await storesThere(stores);
  const leg = resting ? null : await patiently(() => claimForemost(db, worker, { stores: there, codecs }));
  if (leg) return { leg };
  // One that is kept apart has its worker to itself.
  const apart = !resting && (await patiently(() => runsOneAlone(db, worker)));
  const segment =
    resting || apart ? null : await patiently(() => claimSegment(db, worker, host, { stores: there, codecs }));
  if (segment) return { segment };
  if (!(await patiently(() => anyWaiting(db)))) return null;
  // There is work, but none for us: the job goes back for others to find.
  await patiently(() => queueLegs(boss, [job.leg]));
  await new Promise<void>((resolve) => {
    const timer = setTimeout(resolve, resting ? restMs : standBackMs);
    leaving.addEventListener(
      'abort',
      () => {
        clearTimeout(timer);
        resolve();
      },
      { once: true },
    );
  });
  return null;
}

/** Carries out one leg: claims it, keeps its lease while it runs, and writes down what came of it. */
async function takeLeg(job: LegJob, at: AtWork, leaving: AbortSignal): Promise<void> {
  const { db, boss, stores, worker } = at;
  const claimed = await claimForUs(job, at, leaving);
  if (!claimed) return;
  if ('segment' in claimed) return help(at, claimed.segment, leaving);
  const { leg } = claimed;
  const stop = new AbortController();
  const onLeave = (): void => stop.abort();
  leaving.addEventListener('abort', onLeave, { once: true });
  let state: 'running' | 'proving' = 'running';
  let progress: LegProgress = { framesDone: 0, framesTotal: leg.plan.outputs[0]?.video.frames ?? 0, speed: null };
  let lost = false;
  const beat = async (): Promise<void> => {
    const hold = await renewLease(db, leg.id, worker, { state, ...progress });
    if (hold === 'lost') lost = true;
    if (hold !== 'kept') stop.abort();
    await tell(db, { kind: 'leg', run: leg.runId, leg: leg.id, state, ...progress });
  };
  // While the database is away the leg goes on; its lease is renewed as soon as it is back.
  const heart = beating(700, beat);
  try {
    await patiently(beat);
    const result = await carryOut(
      at,
      leg,
      stop.signal,
      (now) => {
        progress = now;
      },
      (now) => {
        state = now;
      },
    );
    heart.stop();
    if (lost) return;
    // A worker that leaves gives its leg back instead of ending it.
    if (result.state === 'stopped' && leaving.aborted) {
      await db.query(
        `UPDATE leg
         SET state = 'waiting', worker = NULL, lease_until = NULL, attempts = 0, frames_done = 0, speed = NULL,
           queued_at = now() - interval '1 hour'
         WHERE id = $1 AND worker = $2`,
        [leg.id, worker],
      );
      return;
    }
    // A store that went away is no fault of the leg's: it waits until some worker has it again.
    if (result.state === 'failed' && !(await allThere(stores, leg))) {
      await patiently(() => giveBack(db, leg.id, worker, [...result.log, 'a store went away'], true));
      await queueLegs(boss, [leg.id], true);
      return;
    }
    // What stood still is tried again, on whatever worker comes by, until it has broken off too often.
    if (result.stalled && leg.blames + 1 < mostBlames) {
      await patiently(() => giveBack(db, leg.id, worker, result.log));
      await queueLegs(boss, [leg.id], true);
      return;
    }
    await patiently(() => endLeg(db, leg.id, worker, result));
    await patiently(() =>
      tell(db, {
        kind: 'leg',
        run: leg.runId,
        leg: leg.id,
        state: result.state,
        framesDone: progress.framesDone,
        framesTotal: progress.framesTotal,
        speed: null,
      }),
    );
  } finally {
    heart.stop();
    leaving.removeEventListener('abort', onLeave);
  }
}

/** Whether the stores of a leg are there on this machine. */
async function allThere(stores: Stores, leg: ClaimedLeg): Promise<boolean> {
  const there = await storesThere(stores);
  return [leg.sourceStore, ...leg.stores].every((id) => there.includes(id));
}

/** Makes a segment of a leg that another worker holds. */
async function help({ db, stores, worker }: AtWork, segment: ClaimedSegment, leaving: AbortSignal): Promise<void> {
  const here = await rootsHere(stores, segment).catch(() => null);
  if (!here) return;
  await helpWith(segment, here.roots, cabinetText(db), keeperOf(db, segment, worker), leaving);
}

async function carryOut(
  { db, boss, stores, sheets, worker, host, likeClips }: AtWork,
  leg: ClaimedLeg,
  signal: AbortSignal,
  onProgress: (progress: LegProgress) => void,
  onState: (state: 'running' | 'proving') => void,
): ReturnType<typeof runLeg> {
  const failed = (what: string, remedy: string): Awaited<ReturnType<typeof runLeg>> => ({
    state: 'failed',
    outputs: [],
    problem: { what, remedy },
    originalXxh3: null,
    log: [],
    stalled: false,
  });
  try {
    const { roots, outStores } = await rootsHere(stores, leg);
    for (const store of outStores) await stores.markFirst(store);
    const own = { store: leg.outStore, folder: leg.outFolder };
    const deliverableOf = new Map(leg.plan.outputs.map((output) => [output.path, output.deliverable]));
    return await runLeg(leg.plan, {
      ...roots,
      owner: leg.id,
      whole: leg.readAs ?? basename(leg.sourceRoot),
      signal,
      likeClips,
      onProgress,
      onState,
      helpers: helpersOf(db, boss, leg.id, worker, host),
      lutText: cabinetText(db),
      imageBytes: keptImage(db),
      recorded: (path, place = own) => patiently(() => recordedOutput(db, place, path)),
      record: async (row, place = own) => {
        // Still ours? Another worker may have taken the leg over while this one could not reach the database.
        if (!(await patiently(() => stillOurs(db, leg.id, worker))))
          throw new Error('another worker has taken this leg over');
        const deliverable = deliverableOf.get(row.output) ?? row.role;
        await patiently(() => recordOutput(db, leg.id, row, { deliverable, place }));
        sheets.add(place.store, place.folder);
      },
    });
  } catch (error) {
    if (isDatabaseAway(error)) throw error;
    return error instanceof UnknownStore
      ? failed(error.message, 'Add it again, then retry')
      : failed((error as Error).message, 'See that its stores are mounted, then retry');
  }
}
