import type { ProductionAnswer } from '@relay/contract/site';
import { lookOfOutput } from '../runs/queries.ts';
import type { Rational } from '@relay/core/time/rational';
import type { DataSource } from 'typeorm';
import { production } from '../db/entities/productions.ts';
import { ruleOfClip } from '../clips/inForce.ts';

/** What waits at each station of the production `p`. */
const countsOf = `
  json_build_object(
    'rolls', (SELECT count(*) FROM (SELECT c.roll FROM clip c WHERE c.production_id = p.id AND c.description IS NOT NULL UNION SELECT r.name FROM roll r WHERE r.production_id = p.id) names),
    'toDecide', (SELECT count(*) FROM clip c WHERE c.production_id = p.id AND c.description IS NOT NULL AND c.gravest < 2),
    'arriving', (SELECT count(*) FROM roll r WHERE r.production_id = p.id AND r.state <> 'proved'),
    'clips', (SELECT count(*) FROM clip c WHERE c.production_id = p.id AND c.description IS NOT NULL),
    'leftAside', (SELECT count(*) FROM clip c WHERE c.production_id = p.id AND c.refusal IS NOT NULL AND c.refusal->'problem'->>'kind' NOT IN ('sidecar', 'chapter')),
    'groups', (SELECT count(DISTINCT c.grp) FROM clip c WHERE c.production_id = p.id AND jsonb_typeof(c.description->'video') = 'object'),
    'logWithout', (SELECT count(*) FROM clip ${ruleOfClip} WHERE clip.production_id = p.id AND rule.scope IS NULL AND clip.findings @> '[{"rule": "logAsVideo"}]'),
    'recipes', (SELECT count(*) FROM recipe),
    'runs', (SELECT count(*) FROM run r WHERE r.production_id = p.id),
    'legsOpen', (SELECT count(*) FROM leg l JOIN run r ON r.id = l.run_id WHERE r.production_id = p.id AND l.state IN ('waiting', 'running', 'proving')),
    'outputs', (SELECT count(*) FROM output o JOIN leg l ON l.id = o.leg_id JOIN run r ON r.id = l.run_id WHERE r.production_id = p.id),
    'needEyes', (SELECT count(*) FROM output o JOIN leg l ON l.id = o.leg_id JOIN run r ON r.id = l.run_id WHERE r.production_id = p.id AND o.state = 'needs eyes' AND ((${lookOfOutput})->>'verdict') IS DISTINCT FROM 'accepted'),
    'failed', (SELECT count(*) FROM leg l JOIN run r ON r.id = l.run_id WHERE r.production_id = p.id AND l.state = 'failed'),
    'handoffs', (SELECT count(*) FROM handoff h WHERE h.production_id = p.id)
  ) AS counts`;

/** All productions, the newest first, or the one. */
export async function productions(db: DataSource, id: string | null = null): Promise<ProductionAnswer[]> {
  return db.query<ProductionAnswer[]>(
    `SELECT p.id, p.name, p.created_at AS "createdAt", p.rate, p.copy_rule AS "copyRule", ${countsOf}
     FROM production p
     WHERE $1::uuid IS NULL OR p.id = $1
     ORDER BY p.created_at DESC`,
    [id],
  );
}

/** Begins a production; null where there is one of that name. */
export async function addProduction(db: DataSource, name: string): Promise<ProductionAnswer | null> {
  const [made] = await db.query<{ id: string }[]>(
    'INSERT INTO production (name) VALUES ($1) ON CONFLICT DO NOTHING RETURNING id',
    [name],
  );
  return made ? ((await productions(db, made.id))[0] ?? null) : null;
}

export interface ProductionChange {
  /** Its own rate; null where it has none. */
  rate?: Rational | null;
  copyRule?: ProductionAnswer['copyRule'];
}

export async function changeProduction(
  db: DataSource,
  id: string,
  { rate, copyRule }: ProductionChange,
): Promise<void> {
  if (rate === undefined && copyRule === undefined) return;
  await db.manager.update(production, { id }, { rate, copyRule });
}
