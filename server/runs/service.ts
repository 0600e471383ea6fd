import type { PullWish } from '@relay/contract/runs';
import type { LegState } from '@relay/contract/states';
import { inWaves } from '@relay/core/recipe/mark';
import type { OutputPlan } from '@relay/core/recipe/legPlan';
import { byPlace } from '@relay/core/recipe/places';
import type { OutputPlace, Recipe } from '@relay/core/recipe/recipe';
import { ok } from '@relay/core/result';
import { addEstimates, estimateOutput } from '@relay/core/size/estimate';
import type PgBoss from 'pg-boss';
import type { DataSource, EntityManager } from 'typeorm';
import { setImmediate } from 'node:timers/promises';
import { tell } from '../live/notify.ts';
import { queueLegs } from '../queue/boss.ts';
import type { PlannedClip } from './plans.ts';
import { run } from '../db/entities/runs.ts';

/** Legs of a run, or one. */
export type LegsOf = { run: string } | { leg: string };

function columnOf(where: LegsOf): [column: string, value: string] {
  return 'run' in where ? ['run_id', where.run] : ['id', where.leg];
}

export interface RunToStart {
  production: string;
  name: string;
  recipe: Recipe;
  /** Which recipe, as it was at which version; null where it was none that is kept. */
  from: { id: string; version: number } | null;
  store: string;
  folder: string;
  /** Proxies and review copies of everything first, intermediates after: each original is decoded twice. */
  inWaves?: boolean;
  notBefore?: string | null;
  wantedBy?: string | null;
  priority?: number;
  /** The inlet that began it; null where a person did. */
  inlet?: string | null;
  /** The cut that its stretches are for. */
  pull?: PullWish | null;
}

const dateOf = (text: string | null | undefined): Date | null => (text ? new Date(text) : null);

/** What outputs will likely take of each store. */
function bytesByStore(outputs: readonly OutputPlan[], own: OutputPlace): Record<string, number> {
  const bytes: Record<string, number> = {};
  for (const { place, outputs: there } of byPlace(outputs, own))
    bytes[place.store] =
      (bytes[place.store] ?? 0) + addEstimates(there.map((output) => estimateOutput(output))).bytes.likely;
  return bytes;
}

/** Legs that are written down at a time. */
const lot = 250;

/** A leg as it is written down, but for its plan. */
interface LegToWrite {
  ordinal: number;
  [column: string]: unknown;
}

/** Legs that are written down together, and their plans as text. */
interface Lot {
  rows: LegToWrite[];
  plans: (string | null)[];
}

interface WrittenLeg {
  id: string;
  state: LegState;
  ordinal: number;
}

/** Plans as text, a few at a time: what is being sent to the database goes on between. */
async function laidOut(rows: LegToWrite[], legs: readonly Pick<PlannedClip, 'plan'>[]): Promise<Lot> {
  const plans: (string | null)[] = [];
  for (const { plan } of legs) {
    plans.push(plan.ok ? JSON.stringify(plan.value) : null);
    if (plans.length % 10 === 0) await setImmediate();
  }
  return { rows, plans };
}

/** Plans go each by itself: taken out of one long text, they would take five times as long. */
function writeLot(tx: EntityManager, { rows, plans }: Lot): Promise<WrittenLeg[]> {
  const planned = rows.map(({ ordinal }, index) => `(${ordinal}, $${index + 2}::json)`);
  return tx.query<WrittenLeg[]>(
    `INSERT INTO leg (
       run_id, clip_id, ordinal, wave, state, plan, problem, frames_total, ended_at, makes, codecs, stores,
       bytes_by_store
     )
     SELECT run_id, clip_id, ordinal, wave, state, planned.plan, NULLIF(problem, 'null'::jsonb),
       frames_total, ended_at, makes, codecs, stores, bytes_by_store
     FROM jsonb_to_recordset($1::jsonb) AS r(
       run_id uuid, clip_id uuid, ordinal int, wave int, state text, problem jsonb,
       frames_total int, ended_at timestamptz, makes text, codecs text[], stores text[], bytes_by_store jsonb
     )
     JOIN (VALUES ${planned.join(', ')}) AS planned(ordinal, plan) USING (ordinal)
     RETURNING id, state, ordinal`,
    [JSON.stringify(rows), ...plans],
  );
}

/** A run that was written down, and those of its legs that wait, in their order. */
export interface WrittenRun {
  id: string;
  production: string;
  waiting: string[];
}

/** Writes a run and its legs down. Clips without a plan become legs that have failed, with the reason. */
export async function writeRun(
  db: DataSource | EntityManager,
  wanted: RunToStart,
  planned: readonly PlannedClip[],
): Promise<WrittenRun> {
  return db.transaction(async (tx) => {
    const { id } = await tx.save(run, {
      productionId: wanted.production,
      name: wanted.name,
      recipe: wanted.recipe,
      storeId: wanted.store,
      folder: wanted.folder,
      recipeId: wanted.from?.id ?? null,
      recipeVersion: wanted.from?.version ?? null,
      priority: wanted.priority ?? 0,
      notBefore: dateOf(wanted.notBefore),
      wantedBy: dateOf(wanted.wantedBy),
      inletId: wanted.inlet ?? null,
      pull: wanted.pull ?? null,
    });
    const waiting = await writeLegs(tx, id, wanted, planned, 0);
    return { id, production: wanted.production, waiting };
  });
}

/** Writes more legs down behind those of a run; null where that is gone. Its recipe and places are those that it was begun with. */
export async function addToRun(
  db: DataSource | EntityManager,
  id: string,
  wanted: RunToStart,
  planned: readonly PlannedClip[],
): Promise<WrittenRun | null> {
  return db.transaction(async (tx) => {
    const [found] = await tx.query<{ next: number }[]>(
      `SELECT coalesce((SELECT max(ordinal) + 1 FROM leg WHERE run_id = run.id), 0)::int AS next
       FROM run
       WHERE id = $1
       FOR UPDATE`,
      [id],
    );
    if (!found) return null;
    const waiting = await writeLegs(tx, id, wanted, planned, found.next);
    return { id, production: wanted.production, waiting };
  });
}

/** Answers those legs that wait, in their order. */
async function writeLegs(
  tx: EntityManager,
  id: string,
  wanted: RunToStart,
  planned: readonly PlannedClip[],
  from: number,
): Promise<string[]> {
  const legs = planned.flatMap(({ clip, plan }) =>
    plan.ok && wanted.inWaves
      ? inWaves(plan.value).map((part) => ({ clip, wave: part.wave, plan: ok(part.plan) }))
      : [{ clip, wave: 1, plan }],
  );
  const rows = legs
    .sort((a, b) => a.wave - b.wave)
    .map(({ clip, wave, plan }, index) => ({
      run_id: id,
      clip_id: clip.id,
      ordinal: from + index,
      wave,
      state: plan.ok ? 'waiting' : 'failed',
      problem: plan.ok ? null : plan.problem,
      frames_total: plan.ok ? (plan.value.outputs[0]?.video.frames ?? 0) : 0,
      ended_at: plan.ok ? null : new Date().toISOString(),
      makes: plan.ok ? [...new Set(plan.value.outputs.map(({ deliverable }) => deliverable))].sort().join(', ') : '',
      codecs: plan.ok ? [...new Set(plan.value.outputs.map(({ codec }) => codec.id))] : [],
      bytes_by_store: plan.ok ? bytesByStore(plan.value.outputs, { store: wanted.store, folder: wanted.folder }) : {},
      stores: plan.ok ? [...new Set(plan.value.outputs.map(({ place }) => place?.store ?? wanted.store))] : [],
    }));
  const made: WrittenLeg[] = [];
  let writing: Promise<WrittenLeg[]> = Promise.resolve([]);
  for (let at = 0; at < rows.length; at += lot) {
    // While the database takes one lot, the next is laid out.
    const next = await laidOut(rows.slice(at, at + lot), legs.slice(at, at + lot));
    made.push(...(await writing));
    writing = writeLot(tx, next);
    // That it was refused is thrown where it is waited for, above; until then nobody would listen.
    writing.catch(() => undefined);
  }
  made.push(...(await writing));
  return made
    .filter((leg) => leg.state === 'waiting')
    .sort((a, b) => a.ordinal - b.ordinal)
    .map((leg) => leg.id);
}

/** Queues a run's legs, so that workers take them. */
export async function queueRun(db: DataSource, boss: PgBoss, { production, waiting }: WrittenRun): Promise<void> {
  await queueLegs(boss, waiting);
  await tell(db, { kind: 'changed', what: 'runs', production });
}

/** Writes a run and its legs down, then queues them; answers its id. */
export async function startRun(
  db: DataSource,
  boss: PgBoss,
  wanted: RunToStart,
  planned: readonly PlannedClip[],
): Promise<string> {
  const written = await writeRun(db, wanted, planned);
  await queueRun(db, boss, written);
  return written.id;
}

/** Stops legs: those that wait at once, those under way as soon as their worker hears of it. */
export async function stopLegs(db: DataSource, where: LegsOf): Promise<void> {
  const [column, value] = columnOf(where);
  await db.query(
    `UPDATE leg
     SET state = 'stopped', ended_at = now(), problem = $2
     WHERE ${column} = $1 AND state IN ('waiting', 'held')`,
    [value, JSON.stringify({ what: 'Stopped before it began', remedy: 'Retry when it should be made' })],
  );
  await db.query(`UPDATE leg SET stop_wanted = true WHERE ${column} = $1 AND state IN ('running', 'proving')`, [value]);
}

/** Queues again what failed or was stopped. What has no plan, or is proved, stays as it is. */
export async function retryLegs(db: DataSource, boss: PgBoss, where: LegsOf): Promise<number> {
  const [column, value] = columnOf(where);
  const [rows] = await db.query<[{ id: string; ordinal: number }[], number]>(
    `UPDATE leg
     SET state = 'waiting', problem = NULL, attempts = 0, lapses = 0, blames = 0, alone = false, frames_done = 0,
       speed = NULL, started_at = NULL, ended_at = NULL, stop_wanted = false, queued_at = now(), worker = NULL
     WHERE ${column} = $1 AND state IN ('failed', 'stopped') AND plan IS NOT NULL
     RETURNING id, ordinal`,
    [value],
  );
  const legs = rows.sort((a, b) => a.ordinal - b.ordinal).map((row) => row.id);
  if (legs.length > 0) {
    await db.query('DELETE FROM output WHERE leg_id = ANY($1) AND xxh3 IS NULL', [legs]);
    await db.query(
      `UPDATE inlet_thing t
       SET ended_at = NULL, ended = NULL
       FROM leg
       WHERE leg.id = ANY($1) AND leg.run_id = ANY(t.runs) AND leg.clip_id = ANY(t.clips)`,
      [legs],
    );
    await queueLegs(boss, legs);
  }
  return legs.length;
}

/** Holds legs that wait: no worker takes them until they are released. What is under way goes on. */
export async function holdLegs(db: DataSource, where: LegsOf): Promise<number> {
  const [column, value] = columnOf(where);
  const [, count] = await db.query<[unknown, number]>(
    `UPDATE leg SET state = 'held' WHERE ${column} = $1 AND state = 'waiting'`,
    [value],
  );
  return count;
}

export async function releaseLegs(db: DataSource, boss: PgBoss, where: LegsOf): Promise<number> {
  const [column, value] = columnOf(where);
  const [rows] = await db.query<[{ id: string; ordinal: number }[], number]>(
    `UPDATE leg SET state = 'waiting', queued_at = now() WHERE ${column} = $1 AND state = 'held' RETURNING id, ordinal`,
    [value],
  );
  await queueLegs(
    boss,
    rows.sort((a, b) => a.ordinal - b.ordinal).map(({ id }) => id),
  );
  return rows.length;
}

/**
 * Moves a leg that waits to just before another of its run and wave, or behind all of them for null: the places that
 * they hold are dealt out anew. Answers whether it could be.
 */
export async function moveLeg(db: DataSource, leg: string, before: string | null): Promise<boolean> {
  if (before === leg) return true;
  return db.transaction(async (tx) => {
    const rows = await tx.query<{ id: string; ordinal: number }[]>(
      `SELECT other.id, other.ordinal
       FROM leg one
       JOIN leg other ON other.run_id = one.run_id AND other.wave = one.wave
       WHERE one.id = $1 AND one.state IN ('waiting', 'held') AND other.state IN ('waiting', 'held')
       ORDER BY other.hand DESC, other.ordinal
       FOR UPDATE OF other`,
      [leg],
    );
    if (!rows.some(({ id }) => id === leg) || (before !== null && !rows.some(({ id }) => id === before))) return false;
    const others = rows.map(({ id }) => id).filter((id) => id !== leg);
    const place = before === null ? others.length : others.indexOf(before);
    const order = [...others.slice(0, place), leg, ...others.slice(place)];
    const places = rows.map(({ ordinal }) => ordinal).sort((a, b) => a - b);
    await tx.query(
      `UPDATE leg
       SET ordinal = moved.ordinal, hand = 0
       FROM unnest($1::uuid[], $2::int[]) AS moved(id, ordinal)
       WHERE leg.id = moved.id`,
      [order, places],
    );
    return true;
  });
}

/** Puts a leg before all others that wait. */
export async function firstOfAll(db: DataSource, leg: string): Promise<void> {
  await db.query(
    `UPDATE leg
     SET hand = 1 + (SELECT coalesce(max(hand), 0) FROM leg WHERE state IN ('waiting', 'held'))
     WHERE id = $1 AND state IN ('waiting', 'held')`,
    [leg],
  );
}

/** What can be said of a run while it goes on. */
export interface RunChange {
  priority?: number | undefined;
  notBefore?: string | null | undefined;
  wantedBy?: string | null | undefined;
}

export async function changeRun(db: DataSource, id: string, change: RunChange): Promise<void> {
  const said = Object.values(change).some((value) => value !== undefined);
  const { priority, notBefore, wantedBy } = change;
  if (said)
    await db.manager.update(
      run,
      { id },
      {
        priority,
        ...(notBefore === undefined ? {} : { notBefore: dateOf(notBefore) }),
        ...(wantedBy === undefined ? {} : { wantedBy: dateOf(wantedBy) }),
      },
    );
}
