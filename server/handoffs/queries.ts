import type { HandedAnswer, HandedLine, HandoffChoices } from '@relay/contract/handoffs';
import { memberSystems, systemNames, systemPath } from '@relay/core/naming/systemPath';
import { pairsOf } from '@relay/core/handoff/pairs';
import { under } from '@relay/core/naming/under';
import { isThere } from '@relay/work/disk/store';
import { In, type DataSource } from 'typeorm';
import { clip } from '../db/entities/clips.ts';
import { handoff, handoffEvent, handoffItem, receiver, type HandoffRow } from '../db/entities/handoffs.ts';
import { filters } from '../clips/filters.ts';
import { cutChoices } from '../cuts/cuts.ts';
import { notThere, Refused } from '../http.ts';
import type { Stores } from '../stores/stores.ts';
import { sayPairs } from './check.ts';
import { asBusy, receiversOf } from './order.ts';

interface Known {
  db: DataSource;
  stores: Stores;
}

/** What lines need to know besides their rows. */
interface Around {
  receivers: ReadonlyMap<string, string>;
  stores: ReadonlyMap<string, string>;
}

async function around({ db, stores }: Known, production: string): Promise<Around> {
  const whose = await receiversOf(db, production);
  return {
    receivers: new Map(whose.map(({ id, name }) => [id, name])),
    stores: new Map((await stores.list()).map(({ id, name }) => [id, name])),
  };
}

function lineOf({ receivers, stores }: Around, row: HandoffRow): HandedLine {
  return {
    id: row.id,
    name: row.name,
    receiver: receivers.get(row.receiverId) ?? '',
    store: row.storeId,
    storeName: stores.get(row.storeId) ?? row.storeId,
    folder: row.folder,
    state: row.state,
    files: row.files,
    filesDone: row.filesDone,
    bytes: row.bytes,
    bytesDone: row.bytesDone,
    who: row.who,
    createdAt: row.createdAt.toISOString(),
    endedAt: row.endedAt?.toISOString() ?? null,
    problem: row.result?.problem ?? null,
    left: row.result?.problems.length ?? 0,
    lost: row.lostAt !== null,
  };
}

/** A production's hand-offs, the newest first. */
export async function handedLines(known: Known, production: string): Promise<HandedLine[]> {
  const rows = await known.db.manager.find(handoff, {
    where: { productionId: production },
    order: { createdAt: 'DESC' },
    take: 500,
  });
  const beside = await around(known, production);
  return rows.map((row) => lineOf(beside, row));
}

/** A hand-off by its id. @throws Refused where there is none */
export async function handoffOr404(db: DataSource, id: string): Promise<HandoffRow> {
  const row = await db.manager.findOneBy(handoff, { id });
  if (!row) throw notThere('The hand-off');
  return row;
}

/** Everything about one hand-off. */
export async function handedAnswer(known: Known, id: string): Promise<HandedAnswer> {
  const { db } = known;
  const row = await handoffOr404(db, id);
  const [beside, items, events, whose] = await Promise.all([
    around(known, row.productionId),
    db.manager.find(handoffItem, { where: { handoffId: id }, order: { path: 'ASC' } }),
    db.manager.find(handoffEvent, { where: { handoffId: id }, order: { id: 'ASC' }, take: 1_000 }),
    db.manager.findOneByOrFail(receiver, { id: row.receiverId }),
  ]);
  const shown = [...new Set(items.flatMap(({ clipId }) => clipId ?? []))];
  const withPoster = await db.manager.find(clip, { select: { id: true }, where: { id: In(shown), poster: true } });
  const pictured = new Set(withPoster.map((one) => one.id));
  const rows = items.flatMap(({ relink }) => relink ?? []);
  const { roots } = pairsOf(rows, 'proxy', 'intermediate');
  return {
    ...lineOf(beside, row),
    returned: row.returned,
    verifying: row.verifyWanted !== null,
    choice: row.choice,
    items: items.map(({ place, path, kind, sizeBytes, came, replaces, outputId, clipId }) => ({
      place,
      path,
      kind,
      sizeBytes,
      came,
      replaces: replaces !== null,
      output: outputId,
      clip: clipId,
      poster: clipId !== null && pictured.has(clipId),
    })),
    problems: row.result?.problems ?? [],
    toDelete: row.toDelete.map(({ path }) => path),
    manifest: row.result?.manifest ?? null,
    readFromDisk: row.result?.readFromDisk ?? false,
    events: events.map(({ at, who, what }) => ({ at: at.toISOString(), who, what })),
    exchange: roots
      ? memberSystems.flatMap((system) => {
          const root = whose.roots[system];
          if (root === undefined || root === '') return [];
          const [low, high] = [roots.low, roots.high].map((path) => systemPath(root, path, system)) as [string, string];
          return [{ system: systemNames[system], low, high }];
        })
      : [],
    pairs: sayPairs(rows),
  };
}

/** What there is to choose a hand-off from. */
export async function handoffChoices({ db }: Known, production: string): Promise<HandoffChoices> {
  const runs = await db.query<HandoffChoices['runs']>(
    `SELECT run.id, run.name, count(o.id)::int AS outputs
     FROM run
     JOIN leg ON leg.run_id = run.id
     JOIN output o ON o.leg_id = leg.id AND o.state IN ('proved', 'needs eyes')
     WHERE run.production_id = $1
     GROUP BY run.id
     ORDER BY run.created_at DESC
     LIMIT 500`,
    [production],
  );
  const [facts] = await db.query<Pick<HandoffChoices, 'roles' | 'deliverables' | 'rolls' | 'days'>[]>(
    `SELECT coalesce(array_agg(DISTINCT o.role), '{}') AS roles,
       coalesce(array_agg(DISTINCT o.deliverable), '{}') AS deliverables, coalesce(array_agg(DISTINCT clip.roll), '{}') AS rolls,
       coalesce(array_agg(DISTINCT roll.day) FILTER (WHERE roll.day IS NOT NULL), '{}') AS days
     FROM output o
     JOIN leg ON leg.id = o.leg_id
     JOIN clip ON clip.id = leg.clip_id
     LEFT JOIN roll ON roll.id = clip.roll_id
     WHERE clip.production_id = $1 AND o.state IN ('proved', 'needs eyes')`,
    [production],
  );
  const receivers = await db.query<HandoffChoices['receivers']>(
    `SELECT name, file_system AS "fileSystem", roots,
       (SELECT count(*)::int FROM handoff WHERE handoff.receiver_id = receiver.id) AS handoffs
     FROM receiver
     WHERE production_id = $1
     ORDER BY name`,
    [production],
  );
  return {
    runs,
    ...(facts ?? { roles: [], deliverables: [], rolls: [], days: [] }),
    filters: (await filters(db, production)).map(({ name, words }) => ({ name, words })),
    cuts: await cutChoices(db, production),
    receivers,
  };
}

/** Stops a hand-off that waits or is copied; what came over stays there. */
export async function stopHandoff(db: DataSource, id: string): Promise<HandoffRow> {
  const row = await handoffOr404(db, id);
  await db.query(
    `UPDATE handoff
     SET stop_wanted = true, state = CASE WHEN state = 'waiting' THEN 'stopped' ELSE state END
     WHERE id = $1 AND state IN ('waiting', 'copying')`,
    [id],
  );
  return row;
}

/** Has a hand-off go on that stopped or failed. @throws Refused where it is copied, or done */
export async function resumeHandoff({ db, stores }: Known, id: string): Promise<HandoffRow> {
  const row = await handoffOr404(db, id);
  const store = await stores.get(row.storeId);
  if (!store || !(await isThere(store)))
    throw new Refused(409, {
      what: `${store?.name ?? row.storeId} is not there: ${under(store?.path ?? '', row.folder) || 'its folder'} lies on it`,
      remedy: 'Put the drive in, then go on',
    });
  const [again] = await db
    .query<[{ id: string }[], number]>(
      `UPDATE handoff
       SET state = 'waiting', stop_wanted = false, worker = NULL
       WHERE id = $1 AND state IN ('stopped', 'failed')
       RETURNING id`,
      [id],
    )
    .catch(asBusy);
  if (again.length === 0)
    throw new Refused(409, { what: `${row.name} is not stopped`, remedy: 'Wait until it is done' });
  return row;
}
