import type { BenchAnswer, BenchGroup, ChainedClip, ColourChanged, RuleScope } from '@relay/contract/colour';
import { sayGroup } from '@relay/core/clip/group';
import type { ClipDescription } from '@relay/core/clip/description';
import type { Chain } from '@relay/core/colour/chain/chain';
import { sayChain } from '@relay/core/colour/chain/say';
import type { DataSource } from 'typeorm';
import { notThere, Refused } from '../http.ts';
import { refreshClips } from '../clips/refresh.ts';
import { tell } from '../live/notify.ts';
import { ruleOfClip } from './ruleOfClip.ts';

const pictured = `clip.description IS NOT NULL AND jsonb_typeof(clip.description->'video') = 'object'`;

/** Everything that the bench needs to know of a clip. */
export async function benchAnswer(db: DataSource, id: string): Promise<BenchAnswer> {
  const [row] = (await db.query(
    `SELECT clip.id, clip.production_id AS production, clip.stem, clip.roll, clip.grp, clip.description, rule.chain, rule.scope, rule.who, rule.at FROM clip ${ruleOfClip} WHERE clip.id = $1 AND ${pictured}`,
    [id],
  )) as { id: string; production: string; stem: string; roll: string; grp: string; description: ClipDescription; chain: Chain | null; scope: RuleScope | null; who: string; at: Date }[];
  if (!row) throw notThere('The clip\'s picture');
  const [counts] = (await db.query(
    `SELECT count(*) FILTER (WHERE grp = $2)::int AS "groupClips", count(*) FILTER (WHERE roll = $3)::int AS "rollClips", count(*)::int AS "productionClips" FROM clip WHERE production_id = $1 AND ${pictured}`,
    [row.production, row.grp, row.roll],
  )) as { groupClips: number; rollClips: number; productionClips: number }[];
  const [place] = (await db.query(
    `SELECT previous, next, position::int FROM (
       SELECT id, lag(id) OVER w AS previous, lead(id) OVER w AS next, row_number() OVER w AS position FROM clip WHERE production_id = $1 AND ${pictured} WINDOW w AS (ORDER BY grp, roll, path)
     ) sheet WHERE id = $2`,
    [row.production, id],
  )) as { previous: string | null; next: string | null; position: number }[];
  return {
    clip: id, stem: row.stem, roll: row.roll, description: row.description, chain: row.chain, from: row.scope ? { scope: row.scope, who: row.who, at: row.at.toISOString() } : null,
    group: { key: row.grp, text: sayGroup(row.description), clips: counts?.groupClips ?? 0 }, rollClips: counts?.rollClips ?? 0, productionClips: counts?.productionClips ?? 0,
    previous: place?.previous ?? null, next: place?.next ?? null, position: place?.position ?? 1, of: counts?.productionClips ?? 1,
  };
}

/** The groups of a production, as the bench begins with them. */
export async function benchGroups(db: DataSource, production: string): Promise<BenchGroup[]> {
  const rows = (await db.query(
    `SELECT clip.grp AS key, count(*)::int AS clips, count(*) FILTER (WHERE jsonb_typeof(rule.chain) = 'object')::int AS chained,
       count(*) FILTER (WHERE rule.scope IS NULL AND clip.findings @> '[{"rule": "logAsVideo"}]')::int AS "logWithout",
       (array_agg(clip.id ORDER BY clip.roll, clip.path))[1] AS first, (array_agg(clip.description ORDER BY clip.roll, clip.path))[1] AS description,
       (array_agg(rule.chain ORDER BY clip.roll, clip.path) FILTER (WHERE jsonb_typeof(rule.chain) = 'object'))[1] AS chain
     FROM clip ${ruleOfClip} WHERE clip.production_id = $1 AND ${pictured} GROUP BY clip.grp ORDER BY clip.grp`,
    [production],
  )) as (Omit<BenchGroup, 'text' | 'says'> & { description: ClipDescription; chain: Chain | null })[];
  return rows.map(({ description, chain, ...row }) => ({ ...row, text: sayGroup(description), says: chain ? sayChain(chain) : null }));
}

/** Where a chain is to hold. */
export type ColourTarget = { scope: 'clip'; clips: string[] } | { scope: 'roll' | 'group'; key: string } | { scope: 'production' };

interface RuleRow {
  scope: RuleScope;
  key: string;
  /** Undefined where there was no rule. */
  chain?: Chain | null;
}

const farther: Readonly<Record<RuleScope, readonly RuleScope[]>> = { clip: [], roll: ['clip'], group: ['clip', 'roll'], production: ['clip', 'roll', 'group'] };

function clipsWhere(target: ColourTarget): { sql: string; value: unknown } {
  switch (target.scope) {
    case 'clip': return { sql: 'clip.id = ANY($2::uuid[])', value: target.clips };
    case 'roll': return { sql: 'clip.roll = $2', value: target.key };
    case 'group': return { sql: 'clip.grp = $2', value: target.key };
    case 'production': return { sql: '$2::text IS NULL', value: null };
  }
}

/** Clips that a target means, with the chains that hold for them now. */
export async function chainedClips(db: DataSource, production: string, target: ColourTarget): Promise<ChainedClip[]> {
  const { sql, value } = clipsWhere(target);
  return (await db.query(
    `SELECT clip.id, clip.stem, (clip.description->'video'->>'frames')::int AS frames, (clip.description->'video'->'pixelAspect'->>'num')::float / (clip.description->'video'->'pixelAspect'->>'den')::float AS "pixelAspect", rule.chain, rule.scope FROM clip ${ruleOfClip} WHERE clip.production_id = $1 AND ${sql} AND ${pictured} ORDER BY clip.grp, clip.roll, clip.path LIMIT 500`,
    [production, value],
  )) as ChainedClip[];
}

/**
 * Says which chain holds for clips, a roll, a group or everything. Nearer rules that would still win over it for those
 * clips are taken away, so that what is said is what happens; an undo puts them back.
 */
export async function sayColour(db: DataSource, production: string, target: ColourTarget, chain: Chain | null, who: string): Promise<ColourChanged> {
  const made = await db.transaction(async (tx) => {
    await tx.query('SELECT 1 FROM production WHERE id = $1 FOR UPDATE', [production]);
    const { sql, value } = clipsWhere(target);
    const clips = (await tx.query(`SELECT clip.id, clip.roll FROM clip WHERE clip.production_id = $1 AND ${sql} AND ${pictured}`, [production, value])) as { id: string; roll: string }[];
    if (clips.length === 0) throw notThere('None of the clips');
    const wanted: RuleRow[] = target.scope === 'clip' ? clips.map(({ id }) => ({ scope: 'clip' as const, key: id })) : [{ scope: target.scope, key: target.scope === 'production' ? '' : target.key }];
    const nearer = farther[target.scope];
    // A roll's rule goes only where the whole roll is meant: a group may hold a part of it, and then its clips are told one by one.
    const whole = new Set(((await tx.query(
      `SELECT roll FROM clip WHERE production_id = $1 AND ${pictured} GROUP BY roll HAVING bool_and(id = ANY($2::uuid[]))`, [production, clips.map(({ id }) => id)],
    )) as { roll: string }[]).map(({ roll }) => roll));
    const existing = (await tx.query('SELECT scope, key, chain FROM colour_rule WHERE production_id = $1', [production])) as RuleRow[];
    const ids = new Set(clips.map(({ id }) => id));
    const rolls = new Set(clips.map(({ roll }) => roll));
    const inTheWay = existing.filter((rule) => nearer.includes(rule.scope) && (rule.scope === 'clip' ? ids.has(rule.key) : rule.scope === 'roll' ? whole.has(rule.key) : true));
    const halfRolls = nearer.includes('roll') ? existing.filter((rule) => rule.scope === 'roll' && rolls.has(rule.key) && !whole.has(rule.key)) : [];
    const oneByOne: RuleRow[] = clips.filter(({ roll }) => halfRolls.some((rule) => rule.key === roll)).map(({ id }) => ({ scope: 'clip', key: id }));
    const set = [...wanted, ...oneByOne];
    const gone = inTheWay.filter((rule) => !set.some((one) => one.scope === rule.scope && one.key === rule.key));
    const before = [...set.map((one) => existing.find((rule) => rule.scope === one.scope && rule.key === one.key) ?? one), ...gone];
    for (const rule of gone) await tx.query('DELETE FROM colour_rule WHERE production_id = $1 AND scope = $2 AND key = $3', [production, rule.scope, rule.key]);
    await tx.query(
      `INSERT INTO colour_rule (production_id, scope, key, chain, who) SELECT $1, scope, key, $3::jsonb, $4 FROM jsonb_to_recordset($2::jsonb) AS r(scope text, key text)
       ON CONFLICT (production_id, scope, key) DO UPDATE SET chain = excluded.chain, who = excluded.who, at = now()`,
      [production, JSON.stringify(set), JSON.stringify(chain), who],
    );
    const after = [...set.map((one) => ({ ...one, chain })), ...gone.map(({ scope, key }) => ({ scope, key }))];
    const [change] = (await tx.query(
      'INSERT INTO colour_change (production_id, what, who, before, after) VALUES ($1, $2, $3, $4, $5) RETURNING id',
      [production, chain ? sayChain(chain) : 'no chain', who, JSON.stringify(before), JSON.stringify(after)],
    )) as { id: string }[];
    return { change: change?.id as string, clips: clips.length, replaced: gone.length, ids: [...ids] };
  });
  // What looks like log is no longer asked about where somebody said what it is.
  await refreshClips(db, production, made.ids);
  await tell(db, { kind: 'changed', what: 'clips', production });
  return { change: made.change, clips: made.clips, replaced: made.replaced };
}

/** Puts back the rules that stood before a change, unless somebody said something newer of one of them. */
export async function undoColour(db: DataSource, changeId: string): Promise<void> {
  const production = await db.transaction(async (tx) => {
    const [change] = (await tx.query('SELECT production_id AS production, before, after, undone_at AS "undoneAt" FROM colour_change WHERE id = $1 FOR UPDATE', [changeId])) as { production: string; before: RuleRow[]; after: RuleRow[]; undoneAt: Date | null }[];
    if (!change) throw notThere('The change');
    if (change.undoneAt) throw new Refused(409, { what: 'This was undone already', remedy: 'Nothing needs to be done' });
    const now = (await tx.query('SELECT scope, key, chain FROM colour_rule WHERE production_id = $1', [change.production])) as RuleRow[];
    const text = (rule: RuleRow | undefined): string => JSON.stringify(rule?.chain === undefined ? 'none' : sorted(rule.chain));
    const newer = change.after.filter((rule) => text(rule) !== text(now.find((one) => one.scope === rule.scope && one.key === rule.key)));
    if (newer.length > 0) throw new Refused(409, { what: 'The chain was changed again since, so this can no longer be undone', remedy: 'Change it on the bench' });
    for (const rule of change.before) {
      if (rule.chain === undefined) await tx.query('DELETE FROM colour_rule WHERE production_id = $1 AND scope = $2 AND key = $3', [change.production, rule.scope, rule.key]);
      else {
        await tx.query(
          `INSERT INTO colour_rule (production_id, scope, key, chain, who) VALUES ($1, $2, $3, $4, 'undo') ON CONFLICT (production_id, scope, key) DO UPDATE SET chain = excluded.chain, who = excluded.who, at = now()`,
          [change.production, rule.scope, rule.key, JSON.stringify(rule.chain)],
        );
      }
    }
    await tx.query('UPDATE colour_change SET undone_at = now() WHERE id = $1', [changeId]);
    return change.production;
  });
  await refreshClips(db, production);
  await tell(db, { kind: 'changed', what: 'clips', production });
}

/** A value with its fields in one order, so that texts of equal ones are equal. */
function sorted(value: unknown): unknown {
  if (Array.isArray(value)) return value.map(sorted);
  if (value === null || typeof value !== 'object') return value;
  return Object.fromEntries(Object.entries(value).sort(([a], [b]) => (a < b ? -1 : 1)).map(([key, one]) => [key, sorted(one)]));
}
