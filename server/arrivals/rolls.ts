import { hostname } from 'node:os';
import { basename } from 'node:path';
import type { RollAnswer, RollCopy, RollLine, RollState } from '@relay/contract/arrivals';
import { under } from '@relay/core/naming/under';
import { diskOf } from '@relay/work/disk/disk';
import { clearingOf, type CopyRule } from '@relay/core/custody/clearing';
import type { HashName } from '@relay/core/custody/manifest';
import type { Problem } from '@relay/core/result';
import type PgBoss from 'pg-boss';
import type { DataSource, EntityManager } from 'typeorm';
import { readHistory } from '@relay/work/custody/history';
import { verifyFolder } from '@relay/work/custody/verify';
import { refreshClips } from '../clips/refresh.ts';
import { patiently } from '../db/dataSource.ts';
import { tell } from '../live/notify.ts';
import { isThere, placeIn } from '@relay/work/disk/store';
import type { Stores } from '../stores/stores.ts';
import { arrive, type ArrivalProgress, type ArrivalResult } from '@relay/work/arrive/arrive';
import { beating } from '@relay/work/heart';
import { IsNull, Not } from 'typeorm';
import { custodyEvent, roll, rollCopy } from '../db/entities/arrivals.ts';
import { newReading } from './readings.ts';
import { clip } from '../db/entities/clips.ts';
import { byItsClock } from '../db/entities/columns.ts';
import { leaseSeconds } from '../pace.ts';

interface RollWork {
  id: string;
  productionId: string;
  name: string;
  cardStore: string;
  cardFolder: string;
  hash: HashName;
  alsoMd5: boolean;
  rule: CopyRule;
}

/** Writes down something that happened to a roll; its history is read from these and from the manifests. */
export async function note(db: DataSource | EntityManager, rollId: string, who: string, what: string): Promise<void> {
  await ('manager' in db ? db.manager : db).insert(custodyEvent, { rollId, who, what });
}

/** Brings a roll's card in: claims it, copies, proves, writes down what came of it, and has the first copy read. */
export async function carryOutArrival(
  { db, boss, stores, journals }: { db: DataSource; boss: PgBoss; stores: Stores; journals: string },
  rollId: string,
  worker: string,
  leaving: AbortSignal,
): Promise<void> {
  const [claimed] = await db.query<[RollWork[], number]>(
    `UPDATE roll
     SET state = 'copying', worker = $2, beat_at = now(), started_at = coalesce(started_at, now()), ended_at = NULL
     FROM production p
     WHERE roll.id = $1 AND p.id = roll.production_id AND roll.state = 'waiting' AND roll.wanted = 'go'
     RETURNING roll.id, roll.production_id AS "productionId", roll.name, roll.card_store AS "cardStore",
       roll.card_folder AS "cardFolder", roll.hash, roll.also_md5 AS "alsoMd5", p.copy_rule AS rule`,
    [rollId, worker],
  );
  const work = claimed[0];
  if (!work) return;
  const stop = new AbortController();
  const onLeave = (): void => stop.abort();
  leaving.addEventListener('abort', onLeave, { once: true });
  let progress: ArrivalProgress = { files: 0, filesDone: 0, bytes: 0, bytesDone: 0 };
  let wanted = 'go' as 'go' | 'pause' | 'stop';
  const beat = async (): Promise<void> => {
    const [rows] = await db.query<[{ wanted: typeof wanted }[], number]>(
      `UPDATE roll
       SET beat_at = now(), files = $3, files_done = $4, bytes = $5, bytes_done = $6
       WHERE id = $1 AND worker = $2
       RETURNING wanted`,
      [work.id, worker, progress.files, progress.filesDone, progress.bytes, progress.bytesDone],
    );
    wanted = rows[0]?.wanted ?? 'stop';
    if (wanted !== 'go') stop.abort();
    await tell(db, { kind: 'roll', production: work.productionId, roll: work.id, state: 'copying', ...progress });
  };
  const heart = beating(600, beat);
  try {
    await note(db, work.id, 'worker', `Copying begins, from ${work.cardFolder || 'the store'}`);
    const copies = (await db.manager.find(rollCopy, { where: { rollId: work.id }, order: { ordinal: 'ASC' } })).map(
      ({ id, storeId, folder }) => ({ id, store: storeId, folder }),
    );
    const result = await bringIn({ stores, journals }, work, copies, stop.signal, (now) => {
      progress = now;
    });
    heart.stop();
    const given = leaving.aborted && wanted === 'go';
    const state: RollState = given
      ? 'waiting'
      : result.state === 'stopped'
        ? wanted === 'pause'
          ? 'paused'
          : 'stopped'
        : result.state;
    await patiently(() => keep(db, { work, worker, copies }, result, state));
    if (state === 'proved') await readRoll(db, boss, work, copies[0] as { store: string; folder: string });
    await refreshRoll(db, work.productionId, work.id);
    await tell(db, { kind: 'changed', what: 'rolls', production: work.productionId });
  } catch (error) {
    // Nothing foreseen: the roll stays resumable, with the reason in its history.
    await db.manager.update(roll, { id: work.id, worker }, { state: 'failed', endedAt: byItsClock });
    await note(db, work.id, 'worker', `Copying broke off: ${(error as Error).message}`);
    await tell(db, { kind: 'changed', what: 'rolls', production: work.productionId });
  } finally {
    heart.stop();
    leaving.removeEventListener('abort', onLeave);
  }
}

async function bringIn(
  { stores, journals }: { stores: Stores; journals: string },
  work: RollWork,
  copies: readonly { store: string; folder: string }[],
  signal: AbortSignal,
  onProgress: (progress: ArrivalProgress) => void,
): Promise<ArrivalResult> {
  const [cardStore, ...targets] = await Promise.all(
    [work.cardStore, ...copies.map((copy) => copy.store)].map((id) => stores.get(id)),
  );
  const known = targets.filter((store) => store !== null);
  if (!cardStore || known.length < targets.length) throw new Error('a store of this roll is no longer known');
  for (const store of known) await stores.markFirst(store);
  return arrive({
    roll: work.name,
    card: { root: cardStore.path, folder: work.cardFolder },
    journals,
    hash: work.hash,
    alsoMd5: work.alsoMd5,
    rule: work.rule,
    owner: `arrival.${work.id}`,
    host: hostname(),
    signal,
    onProgress,
    destinations: known.map((store, index) => ({
      store: store.name,
      at: placeIn(store, copies[index]?.folder ?? ''),
      there: () => isThere(store),
    })),
  });
}

async function keep(
  db: DataSource,
  { work, worker, copies }: { work: RollWork; worker: string; copies: readonly { id: string }[] },
  result: ArrivalResult,
  state: RollState,
): Promise<void> {
  await db.transaction(async (tx) => {
    await tx.query(
      `UPDATE roll
       SET state = $3, result = $4, files = $5, bytes = $6,
         ended_at = CASE WHEN $3 = 'waiting' THEN NULL ELSE now() END,
         files_done = CASE WHEN $3 = 'proved' THEN $5 ELSE files_done END,
         bytes_done = CASE WHEN $3 = 'proved' THEN $6 ELSE bytes_done END, worker = NULL
       WHERE id = $1 AND worker = $2`,
      [
        work.id,
        worker,
        state,
        JSON.stringify({
          clearing: result.clearing,
          problems: result.problems.slice(0, 500),
          notCopied: result.notCopied.slice(0, 500),
          cardManifest: result.cardManifest,
        }),
        result.files,
        result.bytes,
      ],
    );
    for (const [index, copy] of result.copies.entries()) {
      const { filesProved, disk, readFromDisk, manifest, problem } = copy;
      await tx.update(rollCopy, { id: copies[index]?.id }, { filesProved, disk, readFromDisk, manifest, problem });
    }
  });
  await note(
    db,
    work.id,
    'worker',
    state === 'proved' || state === 'failed'
      ? result.clearing.says
      : state === 'waiting'
        ? 'The worker left; another goes on'
        : `Copying ${state}: ${result.copies.map((copy) => `${copy.filesProved} of ${result.files} files proved on ${copy.store}`).join(', ')}`,
  );
}

/** A proved roll is read into its production from its first copy. */
async function readRoll(
  db: DataSource,
  boss: PgBoss,
  work: RollWork,
  copy: { store: string; folder: string },
): Promise<void> {
  await newReading(db, boss, {
    productionId: work.productionId,
    storeId: copy.store,
    folder: copy.folder,
    rollId: work.id,
  });
}

async function refreshRoll(db: DataSource, production: string, rollId: string): Promise<void> {
  const clips = await db.manager.find(clip, {
    select: { id: true },
    where: { rollId, description: Not(IsNull()) },
  });
  if (clips.length > 0)
    await refreshClips(
      db,
      production,
      clips.map((clip) => clip.id),
    );
}

/** Verifies one copy of a roll against its manifests and writes down what was found. */
export async function carryOutVerification(db: DataSource, stores: Stores, copyId: string): Promise<void> {
  const [copy] = await db.query<{ id: string; roll: string; store: string; folder: string; production: string }[]>(
    `SELECT roll_copy.id, roll_id AS roll, store_id AS store, folder, production_id AS production
     FROM roll_copy
     JOIN roll ON roll.id = roll_copy.roll_id
     WHERE roll_copy.id = $1 AND verify_wanted IS NOT NULL`,
    [copyId],
  );
  if (!copy) return;
  const store = await stores.get(copy.store);
  let disk: string | null = null;
  let found: {
    verified: boolean;
    same: number;
    missing: string[];
    changed: { path: string; why: string }[];
    extra: string[];
    problem: Problem | null;
    generation?: string | null;
  };
  // A beat, so that a worker that dies over a large copy is told from one that is still reading.
  const heart = beating(15_000, () =>
    db.manager.update(rollCopy, { id: copy.id, verifyWanted: Not(IsNull()) }, { verifyWanted: byItsClock }),
  );
  try {
    if (!store) throw new Error('its store is no longer known');
    if (!(await isThere(store))) throw new Error(`${store.name} is not there`);
    disk = await diskOf(under(store.path, copy.folder));
    const result = await verifyFolder(placeIn(store, copy.folder));
    const doubted = [...result.doubts.map(({ file, why }) => ({ path: file, why })), ...result.unread];
    found = {
      verified: result.verified,
      same: result.same,
      missing: result.missing,
      changed: [...doubted, ...result.changed],
      extra: result.extra,
      problem: result.problem,
      generation: result.generation,
    };
  } catch (error) {
    found = {
      verified: false,
      same: 0,
      missing: [],
      changed: [],
      extra: [],
      problem: {
        what: `${copy.folder} could not be verified: ${(error as Error).message}`,
        remedy: 'See that the store is mounted, then verify again',
      },
    };
  } finally {
    heart.stop();
  }
  await db.manager.update(
    rollCopy,
    { id: copy.id },
    { verification: found, verifiedAt: byItsClock, verifyWanted: null, ...(disk === null ? {} : { disk }) },
  );
  const wrong = (['missing', 'changed', 'extra'] as const)
    .filter((kind) => found[kind].length > 0)
    .map((kind) => `${found[kind].length} ${kind}`)
    .join(', ');
  await note(
    db,
    copy.roll,
    'worker',
    `${store?.name ?? copy.store} verified again: ${found.problem ? found.problem.what : found.verified ? `all ${found.same} files as stated` : wrong}`,
  );
  await refreshRoll(db, copy.production, copy.roll);
  await tell(db, { kind: 'changed', what: 'rolls', production: copy.production });
}

/** Rolls and verifications that nobody works on any more, to be queued again. */
export async function orphanedRolls(db: DataSource): Promise<{ rolls: string[]; copies: string[] }> {
  await db.query(
    `UPDATE roll
     SET state = CASE wanted WHEN 'pause' THEN 'paused' WHEN 'stop' THEN 'stopped' ELSE 'waiting' END, worker = NULL
     WHERE state = 'copying' AND beat_at < now() - make_interval(secs => $1)`,
    [leaseSeconds],
  );
  const unqueued = (queue: string, key: string, id: string): string =>
    `NOT EXISTS (SELECT 1 FROM pgboss.job WHERE job.name = '${queue}' AND job.state IN ('created', 'retry') AND job.data->>'${key}' = ${id}::text)`;
  const rolls = await db.query<{ id: string }[]>(
    `SELECT id
     FROM roll
     WHERE state = 'waiting'
       AND wanted = 'go'
       AND created_at < now() - interval '3 seconds'
       AND ${unqueued('arrival', 'roll', 'roll.id')}`,
  );
  const copies = await db.query<{ id: string }[]>(
    `SELECT id
     FROM roll_copy
     WHERE verify_wanted < now() - interval '1 minute' AND ${unqueued('verify', 'copy', 'roll_copy.id')}`,
  );
  return { rolls: rolls.map((row) => row.id), copies: copies.map((row) => row.id) };
}

interface RollRecord extends Omit<RollLine, 'copies' | 'problems' | 'clearing'> {
  copies: Omit<RollCopy, 'storeName'>[] | null;
  result: Pick<ArrivalResult, 'problems' | 'notCopied' | 'cardManifest'> | null;
  rule: CopyRule;
  hash: string;
  alsoMd5: boolean;
}

async function rollRecords(db: DataSource, where: string, value: string): Promise<RollRecord[]> {
  return await db.query<RollRecord[]>(
    `SELECT roll.id, roll.name, roll.day, card_store AS "cardStore", card_folder AS "cardFolder", state, files,
       files_done AS "filesDone", bytes::float AS bytes, bytes_done::float AS "bytesDone",
       roll.created_at AS "createdAt", started_at AS "startedAt", ended_at AS "endedAt", result, hash,
       also_md5 AS "alsoMd5", p.copy_rule AS rule,
       (SELECT count(*)::int FROM clip WHERE clip.roll_id = roll.id AND clip.description IS NOT NULL) AS clips,
       (
         SELECT json_agg(
           json_build_object(
             'id', c.id, 'store', c.store_id, 'folder', c.folder, 'filesProved', c.files_proved, 'disk', c.disk, 'readFromDisk',
             c.read_from_disk, 'manifest', c.manifest, 'problem', c.problem, 'verification', c.verification,
             'verifiedAt', c.verified_at, 'verifying', c.verify_wanted IS NOT NULL
           ) ORDER BY c.ordinal
         )
         FROM roll_copy c
         WHERE c.roll_id = roll.id
       ) AS copies
     FROM roll
     JOIN production p ON p.id = roll.production_id
     WHERE ${where} = $1
     ORDER BY roll.created_at DESC
     LIMIT 1000`,
    [value],
  );
}

function lineOf(row: RollRecord, stores: ReadonlyMap<string, string>): RollLine {
  const { result, rule, ...rest } = row;
  const copies = (row.copies ?? []).map((copy) => ({ ...copy, storeName: stores.get(copy.store) ?? copy.store }));
  const problems = result?.problems ?? [];
  const unread =
    row.state === 'copying' || row.state === 'waiting'
      ? ['copying is not finished']
      : row.state === 'paused' || row.state === 'stopped'
        ? [`copying was ${row.state}`]
        : [];
  const against = [
    ...unread,
    ...problems.map((problem) => problem.what),
    ...(result?.notCopied ?? []).map((entry) => `${entry.shownPath} was not copied: ${entry.why}`),
    ...(result?.cardManifest?.changed ?? []).map((change) => `${change.path} differs from the manifest on the card`),
    ...(result?.cardManifest?.missing ?? []).map(
      (path) => `${path} is in the manifest on the card, but not on the card`,
    ),
    ...copies.flatMap((copy) =>
      copy.verification && !copy.verification.verified ? [`${copy.storeName} was verified again and differs`] : [],
    ),
  ];
  return {
    ...rest,
    copies,
    problems,
    clearing: clearingOf(
      rule,
      row.files,
      copies.map((copy) => ({
        store: copy.storeName,
        filesProved: copy.filesProved,
        disk: copy.disk,
        readFromDisk: copy.readFromDisk,
        problem: copy.problem?.what ?? null,
      })),
      against,
    ),
  };
}

async function storeNames(stores: Stores): Promise<Map<string, string>> {
  return new Map((await stores.list()).map((store) => [store.id, store.name]));
}

export async function rollLines(db: DataSource, stores: Stores, production: string): Promise<RollLine[]> {
  const names = await storeNames(stores);
  return (await rollRecords(db, 'roll.production_id', production)).map((row) => lineOf(row, names));
}

/** One roll with its whole history: what happened, and every generation of every copy that can be read now. */
// eslint-disable-next-line complexity -- a list of facts, each of which a roll may lack
export async function rollAnswer(db: DataSource, stores: Stores, id: string): Promise<RollAnswer | null> {
  const [row] = await rollRecords(db, 'roll.id', id);
  if (!row) return null;
  const line = lineOf(row, await storeNames(stores));
  const generations: RollAnswer['generations'] = [];
  for (const copy of line.copies) {
    const store = await stores.get(copy.store);
    const history = store ? await readHistory(placeIn(store, copy.folder)).catch(() => null) : null;
    for (const { file, manifest, doubt } of history?.generations ?? []) {
      generations.push({
        copy: copy.storeName,
        file: basename(file),
        createdAt: manifest?.createdAt ?? '',
        host: manifest?.host ?? '',
        process: manifest?.process ?? '',
        files: manifest?.entries.length ?? 0,
        failed: manifest?.entries.filter((entry) => entry.action === 'failed').length ?? 0,
        doubt,
      });
    }
  }
  const events = await db.manager.find(custodyEvent, {
    where: { rollId: id },
    order: { at: 'ASC', id: 'ASC' },
    take: 1000,
  });
  return {
    ...line,
    hash: row.hash,
    alsoMd5: row.alsoMd5,
    notCopied: row.result?.notCopied ?? [],
    cardManifest: row.result?.cardManifest ?? null,
    events: events.map(({ at, who, what }) => ({ at: at.toISOString(), who, what })),
    generations,
  };
}
