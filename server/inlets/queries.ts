import type { InletAnswer, InletLine, InletThing } from '@relay/contract/inlets';
import type { DataSource, EntityManager } from 'typeorm';
import type { InletRow, InletThingRow } from '../db/entities/inlets.ts';

/** What inlets took up and what came of it, as the page asks for it. */

/** Things that are told of one inlet. */
const mostThings = 200;

/** Whether a leg is one of a thing's clips in its runs; beside rows called `t`. */
export const ofThing = 'leg.run_id = ANY(t.runs) AND leg.clip_id = ANY(t.clips)';

/** What is counted of an inlet. Joined beside a row called `i`. */
const counts = `
  (
    SELECT count(*)::int
    FROM inlet_thing t
    JOIN leg ON ${ofThing}
    WHERE t.inlet_id = i.id AND leg.state IN ('waiting', 'held', 'running', 'proving')
  ) AS "underWay",
  (
    SELECT count(DISTINCT leg.clip_id)::int
    FROM inlet_thing t
    JOIN leg ON ${ofThing}
    WHERE t.inlet_id = i.id AND leg.state IN ('proved', 'needs eyes') AND leg.ended_at >= current_date
  ) AS "madeToday",
  (
    SELECT count(*)::int
    FROM inlet_thing t
    WHERE t.inlet_id = i.id AND (
      t.problems <> '[]' OR t.waits <> '[]' OR EXISTS (SELECT 1 FROM leg WHERE ${ofThing} AND leg.state = 'failed')
    )
  ) AS left`;

type Counted = Omit<InletRow, 'productionId' | 'stirs'> & Pick<InletLine, 'underWay' | 'madeToday' | 'left'>;

async function counted(db: Pick<EntityManager, 'query'>, where: string, id: string): Promise<Counted[]> {
  return db.query<Counted[]>(
    `SELECT i.id, i.definition, i.paused, i.owner, i.version, i.now, i.looked_at AS "lookedAt",
       i.created_at AS "createdAt", ${counts}
     FROM inlet i
     WHERE ${where} = $1
     ORDER BY lower(i.definition->>'name')`,
    [id],
  );
}

function lineOf({ lookedAt, createdAt, ...row }: Counted): InletLine {
  return { ...row, lookedAt: lookedAt?.toISOString() ?? null, createdAt: createdAt.toISOString() };
}

export async function inletLines(db: DataSource, production: string): Promise<InletLine[]> {
  return (await counted(db, 'i.production_id', production)).map(lineOf);
}

interface ThingRow extends Omit<InletThing, 'takenAt' | 'bytes' | 'ended'> {
  takenAt: Date;
  bytes: string;
  end: InletThingRow['ended'];
  endedAt: Date | null;
  lies: string;
}

/** What was taken up last, the latest first. */
async function things(db: EntityManager, inlet: string): Promise<InletThing[]> {
  const rows = await db.query<ThingRow[]>(
    `SELECT t.id, t.key, t.files, t.size_bytes AS bytes, t.taken_at AS "takenAt", cardinality(t.clips) AS clips,
       t.known, t.waits, t.problems AS left, t.trouble, t.ended AS end, t.ended_at AS "endedAt", t.lies,
       coalesce(
         (
           SELECT jsonb_object_agg(state, n)
           FROM (SELECT leg.state, count(*)::int AS n FROM leg WHERE ${ofThing} GROUP BY leg.state) states
         ),
         '{}'
       ) AS legs,
       coalesce(
         (
           SELECT jsonb_agg(jsonb_build_object('id', run.id, 'name', run.name) ORDER BY run.created_at)
           FROM run
           WHERE run.id = ANY(t.runs)
         ),
         '[]'
       ) AS runs
     FROM inlet_thing t
     WHERE t.inlet_id = $1
     ORDER BY t.taken_at DESC, t.key
     LIMIT ${mostThings}`,
    [inlet],
  );
  return rows.map(({ takenAt, bytes, end, endedAt, lies, ...row }) => ({
    ...row,
    bytes: Number(bytes),
    takenAt: takenAt.toISOString(),
    ended: end && endedAt ? { end, at: endedAt.toISOString(), lies } : null,
  }));
}

/** One inlet with what it took up; null where it is not there. `isDemo` says whether cards may be dropped into it. */
export async function inletAnswer(
  db: DataSource,
  id: string,
  isDemo: (line: InletLine) => Promise<boolean>,
): Promise<InletAnswer | null> {
  // As of one moment: what is counted and what is listed say the same.
  const both = await db.transaction('REPEATABLE READ', async (tx) => {
    const [row] = await counted(tx, 'i.id', id);
    return row && { line: lineOf(row), things: await things(tx, id) };
  });
  return both ? { ...both.line, things: both.things, demo: await isDemo(both.line) } : null;
}
