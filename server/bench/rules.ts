import type { BenchAnswer, BenchGroup, ChainedClip } from '@relay/contract/bench';
import type { RuleScope } from '@relay/contract/chain';
import { sayGroup } from '@relay/core/clip/group';
import type { ClipDescription } from '@relay/core/clip/description';
import type { Chain } from '@relay/core/colour/chain/chain';
import { sayChain } from '@relay/core/colour/chain/say';
import { seenAspect } from '@relay/core/corrections/fields';
import type { Measured } from '@relay/core/measure/measured';
import { toNumber, type Rational } from '@relay/core/time/rational';
import type { DataSource } from 'typeorm';
import type { Target } from '@relay/contract/corrections';
import { clipsWhere, pictured } from '../corrections/rules.ts';
import { notThere } from '../http.ts';
import { correctionsInForce, inForceOfClip, ruleOfClip, type InForceRows } from '../clips/inForce.ts';

/** Everything that the bench needs to know of a clip. */
export async function benchAnswer(db: DataSource, id: string): Promise<BenchAnswer> {
  const [row] = await db.query<
    {
      id: string;
      production: string;
      stem: string;
      roll: string;
      grp: string;
      description: ClipDescription;
      chain: Chain | null;
      scope: RuleScope | null;
      who: string;
      at: Date;
      inForce: InForceRows;
      measured: Measured | null;
    }[]
  >(
    `SELECT clip.id, clip.production_id AS production, clip.stem, clip.roll, clip.grp, clip.description, rule.chain,
       rule.scope, rule.who, rule.at, in_force.fields AS "inForce", clip.measured
     FROM clip ${ruleOfClip} ${inForceOfClip}
     WHERE clip.id = $1 AND ${pictured}`,
    [id],
  );
  if (!row) throw notThere("The clip's picture");
  const [counts] = await db.query<{ groupClips: number; rollClips: number; productionClips: number }[]>(
    `SELECT count(*) FILTER (WHERE grp = $2)::int AS "groupClips", count(*) FILTER (WHERE roll = $3)::int AS "rollClips",
       count(*)::int AS "productionClips"
     FROM clip
     WHERE production_id = $1 AND ${pictured}`,
    [row.production, row.grp, row.roll],
  );
  const [place] = await db.query<{ previous: string | null; next: string | null; position: number }[]>(
    `SELECT previous, next, position::int
     FROM (
       SELECT id, lag(id) OVER w AS previous, lead(id) OVER w AS next, row_number() OVER w AS position
       FROM clip
       WHERE production_id = $1 AND ${pictured} WINDOW w AS (ORDER BY grp, roll, path)
     ) sheet
     WHERE id = $2`,
    [row.production, id],
  );
  return {
    clip: id,
    stem: row.stem,
    roll: row.roll,
    description: row.description,
    measured: row.measured,
    inForce: correctionsInForce(row.inForce),
    chain: row.chain,
    from: row.scope ? { scope: row.scope, who: row.who, at: row.at.toISOString() } : null,
    group: { key: row.grp, text: sayGroup(row.description), clips: counts?.groupClips ?? 0 },
    rollClips: counts?.rollClips ?? 0,
    productionClips: counts?.productionClips ?? 0,
    previous: place?.previous ?? null,
    next: place?.next ?? null,
    position: place?.position ?? 1,
    of: counts?.productionClips ?? 1,
  };
}

/** The groups of a production, as the bench begins with them. */
export async function benchGroups(db: DataSource, production: string): Promise<BenchGroup[]> {
  const rows = await db.query<(Omit<BenchGroup, 'text' | 'says'> & { description: ClipDescription })[]>(
    `SELECT clip.grp AS key, count(*)::int AS clips,
       count(*) FILTER (WHERE jsonb_typeof(rule.chain) = 'object')::int AS chained,
       count(*) FILTER (WHERE rule.scope IS NULL AND clip.findings @> '[{"rule": "logAsVideo"}]')::int AS "logWithout",
       (array_agg(clip.id ORDER BY clip.roll, clip.path))[1] AS first,
       (array_agg(clip.description ORDER BY clip.roll, clip.path))[1] AS description,
       (
         array_agg(rule.chain ORDER BY clip.roll, clip.path) FILTER (WHERE jsonb_typeof(rule.chain) = 'object')
       )[1] AS chain
     FROM clip ${ruleOfClip}
     WHERE clip.production_id = $1 AND ${pictured}
     GROUP BY clip.grp
     ORDER BY clip.grp`,
    [production],
  );
  return rows.map(({ description, ...row }) => ({
    ...row,
    text: sayGroup(description),
    says: row.chain ? sayChain(row.chain) : null,
  }));
}

/** Clips that a target means, with the chains that hold for them now. */
export async function chainedClips(db: DataSource, production: string, target: Target): Promise<ChainedClip[]> {
  const { sql, value } = clipsWhere(target);
  const rows = await db.query<(Omit<ChainedClip, 'pixelAspect'> & { tagged: Rational; inForce: InForceRows })[]>(
    `SELECT clip.id, clip.stem, (clip.description->'video'->>'frames')::int AS frames,
       clip.description->'video'->'pixelAspect' AS tagged, rule.chain, rule.scope, in_force.fields AS "inForce"
     FROM clip ${ruleOfClip} ${inForceOfClip}
     WHERE clip.production_id = $1 AND ${sql} AND ${pictured}
     ORDER BY clip.grp, clip.roll, clip.path
     LIMIT 500`,
    [production, value],
  );
  return rows.map(({ tagged, inForce, ...row }) => ({
    ...row,
    pixelAspect: toNumber(seenAspect(tagged, correctionsInForce(inForce).fields)),
  }));
}
