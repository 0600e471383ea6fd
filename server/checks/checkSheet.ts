import type { CheckSheet, ContactSheet } from '@relay/contract/checkSheet';
import { chosenBy, sheetState, usualRule, type CheckRule } from '@relay/core/checks/checkSheet';
import type { Rational } from '@relay/core/time/rational';
import { frameLabel } from '@relay/core/time/frameLabel';
import type { StartTimecode } from '@relay/core/clip/description';
import type { DataSource } from 'typeorm';
import { run as runTable } from '../db/entities/runs.ts';
import { notThere, Refused } from '../http.ts';

/** What of a run is to be looked at, and what was said of it. All SQL about it stands here. */

interface Made {
  id: string;
  deliverable: string;
  path: string;
  stem: string;
  roll: string;
  needsEyes: boolean;
  corrected: boolean;
  worst: number | null;
  worstFrame: number | null;
  frames: number;
  /** Whether it is measured, or will be. */
  measuring: string | null;
}

async function madeBy(db: DataSource, run: string): Promise<Made[]> {
  return db.query<Made[]>(
    `SELECT o.id, o.deliverable, o.path, clip.stem, coalesce(clip.roll, '') AS roll, o.state = 'needs eyes' AS "needsEyes",
       coalesce((leg.plan->'corrections')::text, '{}') <> '{}' AS corrected,
       CASE WHEN m.xxh3 = o.xxh3 THEN m.worst_ssim END AS worst, m.worst_frame AS "worstFrame",
       CASE WHEN m.state <> 'measured' OR m.xxh3 = o.xxh3 THEN m.state END AS measuring,
       coalesce((o.proof->>'frames')::int, leg.frames_total) AS frames
     FROM output o
     JOIN leg ON leg.id = o.leg_id
     JOIN clip ON clip.id = leg.clip_id
     LEFT JOIN measuring m ON m.output_id = o.id
     WHERE leg.run_id = $1 AND o.state IN ('proved', 'needs eyes')
     ORDER BY leg.ordinal, o.role, o.path`,
    [run],
  );
}

/** What lies now where some outputs were made, since they may have been made again, and what was said of that. */
async function standing(
  db: DataSource,
  ids: readonly string[],
): Promise<Map<string, Pick<CheckSheet['lines'][number], 'now' | 'look'>>> {
  const rows = await db.query<(Pick<CheckSheet['lines'][number], 'now' | 'look'> & { id: string })[]>(
    `SELECT mine.id, json_build_object('id', newest.id, 'state', newest.state, 'run', newest.run) AS now, said.look
     FROM output mine
     JOIN LATERAL (
       SELECT o.id, o.state, o.xxh3, leg.run_id AS run
       FROM output o
       JOIN leg ON leg.id = o.leg_id
       WHERE o.store_id = mine.store_id AND o.folder = mine.folder AND o.path = mine.path
       ORDER BY o.created_at DESC
       LIMIT 1
     ) newest ON true
     LEFT JOIN LATERAL (
       SELECT CASE WHEN k.verdict <> 'taken back' THEN
           json_build_object('verdict', k.verdict, 'note', k.note, 'frame', k.frame, 'who', k.who, 'at', k.at)
         END AS look
       FROM output_look k
       JOIN output p ON p.id = k.output_id
       WHERE p.store_id = mine.store_id AND p.folder = mine.folder AND p.path = mine.path
         AND k.xxh3 IS NOT DISTINCT FROM newest.xxh3
       ORDER BY k.at DESC
       LIMIT 1
     ) said ON true
     WHERE mine.id = ANY($1)`,
    [ids],
  );
  return new Map(rows.map(({ id, ...row }) => [id, row]));
}

async function runOf(db: DataSource, id: string): Promise<{ name: string; rule: CheckRule; ended: boolean }> {
  const [row] = await db.query<{ name: string; rule: CheckRule | null; ended: boolean }[]>(
    `SELECT run.name, run.check_rule AS rule,
       NOT EXISTS (SELECT 1 FROM leg WHERE leg.run_id = run.id AND leg.ended_at IS NULL) AS ended
     FROM run
     WHERE run.id = $1`,
    [id],
  );
  if (!row) throw notThere('The run');
  return { ...row, rule: row.rule ?? usualRule };
}

/** A run's check sheet: what its rule asks for, and what was said of each. */
export async function checkSheetOf(db: DataSource, run: string): Promise<CheckSheet> {
  const [{ name, rule, ended }, made] = [await runOf(db, run), await madeBy(db, run)];
  const chosen = chosenBy(rule, made);
  const byId = new Map(made.map((one) => [one.id, one]));
  const stands = await standing(
    db,
    chosen.map(({ id }) => id),
  );
  const lines = chosen.map(({ id, why }) => {
    const { deliverable, path, stem, roll, frames, worstFrame } = byId.get(id) as Made;
    const { now, look } = stands.get(id) ?? { now: { id, state: 'proved' as const, run }, look: null };
    const frame = look?.frame ?? (why.includes('among the worst') ? worstFrame : null) ?? Math.floor(frames / 2);
    return { id, deliverable, path, stem, roll, why, frame, now, look };
  });
  return {
    name,
    rule,
    ended,
    outputs: made.length,
    deliverables: [...new Set(made.map(({ deliverable }) => deliverable))],
    measured: made.filter(({ measuring }) => measuring === 'measured').length,
    measuring: made.filter(({ measuring }) => measuring === 'waiting' || measuring === 'running').length,
    state: sheetState(
      lines.map(({ look }) => look?.verdict ?? null),
      ended,
    ),
    lines,
  };
}

/** Keeps what is to be looked at of a run. Answers its production. */
export async function keepCheckRule(db: DataSource, run: string, rule: CheckRule): Promise<string> {
  const [rows] = await db.query<[{ production: string }[], number]>(
    'UPDATE run SET check_rule = $2 WHERE id = $1 RETURNING production_id AS production',
    [run, JSON.stringify(rule)],
  );
  if (!rows[0]) throw notThere('The run');
  return rows[0].production;
}

/** @throws Refused where a run may be handed on only once it is looked at, and is not */
export async function mayBeHandedOn(db: DataSource, run: string): Promise<void> {
  const found = await db.manager.findOne(runTable, { select: { checkRule: true }, where: { id: run } });
  if (!found?.checkRule?.handoff) return;
  const { name, state, ended } = await checkSheetOf(db, run);
  if (state.met) return;
  throw new Refused(409, {
    what: ended
      ? `${name} is to be looked at first: ${state.accepted} of ${state.asked} are accepted`
      : `${name} is to be looked at first, and is not done yet`,
    remedy: 'Go through its check sheet, or let its rule ask for less',
  });
}

/** Clips on a contact sheet at most. */
const mostOnSheet = 3_000;

interface OnSheet {
  output: string;
  deliverable: string;
  stem: string;
  roll: string;
  frames: number;
  /** Null of plans that name it otherwise. */
  rate: Rational | null;
  timecode: StartTimecode | null;
  scene: string | null;
  take: string | null;
}

/** A run's clips, one picture of each, before and after, from its middle. */
export async function contactSheetOf(db: DataSource, run: string, wanted: string | undefined): Promise<ContactSheet> {
  const { name } = await runOf(db, run);
  const made = await db.query<{ deliverable: string; role: string }[]>(
    `SELECT DISTINCT o.deliverable, o.role
     FROM output o
     JOIN leg ON leg.id = o.leg_id
     WHERE leg.run_id = $1 AND o.state IN ('proved', 'needs eyes')
     ORDER BY 1`,
    [run],
  );
  const deliverables = made.map(({ deliverable }) => deliverable);
  // The proxy, where there is one: it is soonest decoded, and what the edit team sees.
  const usual = made.find(({ role }) => role === 'proxy') ?? made[0];
  const shown = deliverables.find((one) => one === wanted) ?? usual?.deliverable ?? '';
  const lines = await db.query<OnSheet[]>(
    `SELECT o.id AS output, o.deliverable, clip.stem, coalesce(clip.roll, '') AS roll, coalesce(clip.said->>'scene', clip.sidecar_said->>'scene') AS scene,
       coalesce(clip.said->>'take', clip.sidecar_said->>'take') AS take,
       coalesce((o.proof->>'frames')::int, leg.frames_total) AS frames, planned->'video'->'rate' AS rate,
       planned->'timecode' AS timecode
     FROM output o
     JOIN leg ON leg.id = o.leg_id
     JOIN clip ON clip.id = leg.clip_id
     LEFT JOIN LATERAL (
       SELECT one AS planned FROM json_array_elements(leg.plan->'outputs') one WHERE one->>'path' = o.path LIMIT 1
     ) p ON true
     WHERE leg.run_id = $1 AND o.state IN ('proved', 'needs eyes') AND o.deliverable = $2
     ORDER BY leg.ordinal, o.path
     LIMIT ${mostOnSheet}`,
    [run, shown],
  );
  return {
    name,
    deliverables,
    shown,
    lines: lines.map(({ output, stem, roll, frames, rate, timecode, scene, take }) => {
      const frame = Math.floor(frames / 2);
      const words = [scene, take].filter((one) => one !== null && one !== '').join(' / ');
      return {
        output,
        stem,
        roll,
        words,
        frame,
        label: rate ? frameLabel(frame, rate, timecode) : `frame ${frame + 1}`,
      };
    }),
  };
}
