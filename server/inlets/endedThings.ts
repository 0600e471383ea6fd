import type { LegState } from '@relay/contract/states';
import type { PartEnd } from '@relay/core/inlet/ending';
import type { ReceiptOutput, ReceiptPart } from '@relay/core/inlet/receipt';
import type { Problem } from '@relay/core/result';
import type { DataSource } from 'typeorm';
import type { InletThingRow } from '../db/entities/inlets.ts';
import { lookOfOutput } from '../runs/queries.ts';
import { ofThing } from './queries.ts';

/** Things of which nothing is under way any more, and how their parts ended. */

/** Things that are ended together, whichever: those that still wait for something must not keep the others back. */
const most = 50;

export interface EndedThing extends Pick<
  InletThingRow,
  'id' | 'place' | 'key' | 'kind' | 'lies' | 'names' | 'problems' | 'moving'
> {
  /** Its files as they arrived, those that are played first known by their contents. */
  files: { path: string; sampled: string | null }[];
}

const columns = `t.id, t.place, t.key, t.kind, t.lies, t.names, t.problems, t.moving,
  coalesce(
    (
      SELECT jsonb_agg(
        jsonb_build_object(
          'path', CASE WHEN t.lies = '' THEN f.path ELSE substr(f.path, length(t.lies) + 2) END, 'sampled', f.sampled
        ) ORDER BY f.path
      )
      FROM inlet_file f
      WHERE f.thing_id = t.id
    ),
    '[]'
  ) AS files`;
/** Whether nothing of a thing is under way, or waits for somebody. */
const isStill = `t.waits = '[]' AND NOT EXISTS (
  SELECT 1 FROM leg WHERE ${ofThing} AND leg.state IN ('waiting', 'held', 'running', 'proving')
)`;

/** The things of an inlet that nothing is under way of, and whose end was not said yet. */
export async function thingsToEnd(db: DataSource, inlet: string): Promise<EndedThing[]> {
  return db.query<EndedThing[]>(
    `SELECT ${columns}
     FROM inlet_thing t
     WHERE t.inlet_id = $1 AND t.ended_at IS NULL AND ${isStill}
     ORDER BY random()
     LIMIT ${most}`,
    [inlet],
  );
}

/** One thing, and the inlet that took it up; null where it is not there. */
export async function thingById(db: DataSource, id: string): Promise<(EndedThing & { inlet: string }) | null> {
  const rows = await db.query<(EndedThing & { inlet: string })[]>(
    `SELECT ${columns}, t.inlet_id AS inlet FROM inlet_thing t WHERE t.id = $1`,
    [id],
  );
  return rows[0] ?? null;
}

/** All that lies in a structure's folder together: null while something of it is under way. */
export async function inOneFolder(
  db: DataSource,
  inlet: string,
  { place, key, lies }: Pick<EndedThing, 'place' | 'key' | 'lies'>,
): Promise<EndedThing[] | null> {
  const rows = await db.query<(EndedThing & { still: boolean })[]>(
    `SELECT ${columns}, ${isStill} AS still
     FROM inlet_thing t
     WHERE t.inlet_id = $1 AND t.place = $2 AND t.key = $3 AND t.lies = $4 AND t.kind = 'structure'`,
    [inlet, place, key, lies],
  );
  return rows.every(({ still }) => still) ? rows : null;
}

interface LegEnd {
  thing: string;
  path: string;
  state: LegState | null;
  problem: Problem | null;
  outputs:
    (Omit<ReceiptOutput, 'folder' | 'sizeBytes'> & { store: string; folder: string; sizeBytes: string })[] | null;
}

const ends: Partial<Record<LegState, PartEnd>> = { proved: 'proved', 'needs eyes': 'needs eyes', failed: 'left' };
const gravest: readonly PartEnd[] = ['again', 'left', 'needs eyes', 'proved'];

/** How the parts of things ended: a part for each clip, and for each file that was known or left. */
export async function partsOf(
  db: DataSource,
  things: readonly EndedThing[],
  storeName: (id: string) => string,
): Promise<Map<string, ReceiptPart[]>> {
  const legs = await db.query<LegEnd[]>(
    `SELECT t.id AS thing, clip.path, leg.problem,
       CASE
         WHEN leg.state = 'needs eyes' AND NOT EXISTS (
           SELECT 1
           FROM output o
           WHERE o.leg_id = leg.id AND o.state = 'needs eyes'
             AND ((${lookOfOutput})->>'verdict') IS DISTINCT FROM 'accepted'
         ) THEN 'proved'
         ELSE leg.state
       END AS state,
       (
         SELECT jsonb_agg(
           jsonb_build_object(
             'deliverable', o.deliverable, 'store', o.store_id, 'folder', o.folder, 'path', o.path, 'state', o.state,
             'sizeBytes', o.size_bytes, 'xxh3', o.xxh3
           ) ORDER BY o.path
         )
         FROM output o
         WHERE o.leg_id = leg.id
       ) AS outputs
     FROM inlet_thing t
     JOIN clip ON clip.id = ANY(t.clips)
     LEFT JOIN leg ON leg.clip_id = clip.id AND leg.run_id = ANY(t.runs)
     WHERE t.id = ANY($1)
     ORDER BY clip.path, leg.id`,
    [things.map(({ id }) => id)],
  );
  return new Map(
    things.map((thing) => [
      thing.id,
      partsOfThing(
        thing,
        legs.filter((leg) => leg.thing === thing.id),
        storeName,
      ),
    ]),
  );
}

function partsOfThing(
  { files, problems }: EndedThing,
  legs: readonly LegEnd[],
  storeName: (id: string) => string,
): ReceiptPart[] {
  const parts = new Map<string, ReceiptPart>();
  for (const { path, state, problem, outputs } of legs) {
    const before = parts.get(path);
    const refused = problems.find((one) => one.path === path);
    // A clip that has no leg was left out by somebody, or could not be planned.
    const end = state === null ? 'left' : (ends[state] ?? 'again');
    const made = (outputs ?? []).map(({ store, folder, sizeBytes, ...output }): ReceiptOutput => ({
      ...output,
      folder: `${storeName(store)}/${folder}`,
      sizeBytes: Number(sizeBytes),
    }));
    parts.set(path, {
      path,
      end: gravest.find((one) => one === end || one === before?.end) ?? end,
      knownAs: null,
      problem: before?.problem ?? problem ?? refused ?? (state === null ? leftOut(path) : null),
      outputs: [...(before?.outputs ?? []), ...made],
    });
  }
  for (const { path, what, remedy } of problems)
    if (!parts.has(path)) {
      // What no file is remembered of is tried again by itself.
      const end = files.some((file) => file.path === path) ? 'left' : 'again';
      parts.set(path, { path, end, knownAs: null, problem: { what, remedy }, outputs: [] });
    }
  for (const { path, sampled } of files)
    if (sampled !== null && !parts.has(path) && legs.length === 0)
      parts.set(path, { path, end: 'proved', knownAs: 'what was taken up before', problem: null, outputs: [] });
  return [...parts.values()].map(({ problem, ...part }) => ({
    ...part,
    problem: problem ? { what: problem.what, remedy: problem.remedy } : null,
  }));
}

function leftOut(path: string): Problem {
  return { what: `${path} was left out`, remedy: 'Take that back under Clips, and run it there' };
}
