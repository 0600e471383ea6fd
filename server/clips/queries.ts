import { firstLines, type ClipGroup, type ClipLine, type ClipsAnswer, type ClipSort } from '@relay/contract/clips';
import type { LegState } from '@relay/contract/states';
import { sayGroup } from '@relay/core/clip/group';
import { filterWords } from '@relay/core/clip/searchText';
import type { Finding } from '@relay/core/findings/finding';
import { identityOf, type Identity } from '@relay/core/identity/identity';
import type { Rational } from '@relay/core/time/rational';
import type { DataSource } from 'typeorm';
import { In } from 'typeorm';
import { clip } from '../db/entities/clips.ts';

/** Identity as it counts, in SQL: a person's word, else a sidecar's, else the file's. As core/identity/identity.ts. */
export const saidBy = (field: keyof Identity): string =>
  `coalesce(said->>'${field}', sidecar_said->>'${field}'${field === 'reel' ? `, description->>'reel'` : ''})`;

/** What the sheet is sorted by; `group` brings clips together that are alike in what matters for corrections. */
const sortKeys: Readonly<Record<ClipSort, readonly string[]>> = {
  group: ['grp', 'roll', 'path'],
  name: ['stem', 'path'],
  roll: ['roll', 'path'],
  scene: [saidBy('scene'), saidBy('take'), 'path'],
  starts: ['starts', 'path'],
  length: ['seconds', 'path'],
  rate: ['rate', 'path'],
  size: ['size_bytes', 'path'],
  raster: ['samples', 'path'],
  notes: ['gravest', 'jsonb_array_length(findings) * -1', 'path'],
};

/** What every clip has: the index has it in either order, where nulls have no place of their own. */
const neverNull: readonly string[] = ['grp', 'roll', 'path'];

function orderBy(key: string, direction: 'up' | 'down'): string {
  return `${key} ${direction === 'up' ? 'ASC' : 'DESC'}${neverNull.includes(key) ? '' : ' NULLS LAST'}`;
}

const escaped = (word: string): string => `%${word.replace(/[\\%_]/g, '\\$&')}%`;

/** Which clips fit a filter: a condition on `clip`, and its parameters from $1 on. */
export interface Fit {
  where: string;
  parameters: unknown[];
}

/** Whether a filter asks which clips would come out otherwise now: that is worked out at the desk. */
export function asksForChanged(filter: string): boolean {
  return filterWords(filter).runs.some(({ kind }) => kind === 'changed since');
}

/** Legs of a clip in runs of a recipe of some name: as it was called then, or as it is called now. */
const runWith = (name: string): string => `EXISTS (
    SELECT 1
    FROM leg
    JOIN run ON run.id = leg.run_id
    LEFT JOIN recipe ON recipe.id = run.recipe_id
    WHERE leg.clip_id = clip.id
      AND (lower(run.recipe->>'name') = ${name} OR lower(recipe.definition->>'name') = ${name})
  )`;

/**
 * The clips of a production that fit a filter. Only what is asked for is in the condition: with nothing asked, the sheet
 * is read from its index alone. `changed` are the clips that would come out otherwise now, where the filter asks for
 * them.
 */
export function fitting(production: string, filter: string, changed: readonly string[] | null = null): Fit {
  const { wanted, unwanted, runs } = filterWords(filter);
  const parameters: unknown[] = [production];
  const given = (value: unknown): string => `$${parameters.push(value)}`;
  const conditions = ['production_id = $1', 'description IS NOT NULL'];
  if (wanted.length > 0) conditions.push(`search LIKE ALL (${given(wanted.map(escaped))}::text[])`);
  if (unwanted.length > 0) conditions.push(`NOT search LIKE ANY (${given(unwanted.map(escaped))}::text[])`);
  for (const condition of runs) {
    const not = condition.denied ? 'NOT ' : '';
    switch (condition.kind) {
      case 'not run':
        conditions.push(`${not}NOT EXISTS (SELECT 1 FROM leg WHERE leg.clip_id = clip.id)`);
        break;
      case 'run with':
        conditions.push(`${not}${runWith(given(condition.recipe.toLowerCase()))}`);
        break;
      case 'changed since':
        conditions.push(`${not}id = ANY (${given(changed ?? [])}::uuid[])`);
        break;
    }
  }
  return { where: conditions.join(' AND '), parameters };
}

/** The newest leg of each clip, as the way it has come: one stretch a deliverable. */
const way = `
  (SELECT json_agg(json_build_object(
      'role', d.value->>'role',
      'state', coalesce(o.state, newest.state),
      'share', CASE WHEN newest.frames_total > 0 THEN round((newest.frames_done::numeric / newest.frames_total), 3) ELSE 0 END) ORDER BY d.ordinality)
   FROM (SELECT leg.id, leg.state, leg.frames_done, leg.frames_total, run.recipe FROM leg JOIN run ON run.id = leg.run_id
         WHERE leg.clip_id = clip.id ORDER BY run.created_at DESC LIMIT 1) newest
   CROSS JOIN LATERAL jsonb_array_elements(newest.recipe->'deliverables') WITH ORDINALITY d
   LEFT JOIN output o ON o.leg_id = newest.id AND o.deliverable = d.value->>'name' AND newest.state NOT IN ('waiting', 'running', 'proving'))`;

interface LineRecord {
  id: string;
  path: string;
  stem: string;
  roll: string;
  version: number;
  said: Partial<Identity>;
  sidecarSaid: Partial<Identity>;
  reel: string | null;
  starts: string | null;
  frames: number | null;
  rate: Rational | null;
  rateConstant: boolean;
  raster: { width: number; height: number } | null;
  chroma: string | null;
  bitDepth: number | null;
  channels: number;
  sizeBytes: number;
  seconds: number | null;
  poster: boolean;
  looked: boolean;
  findings: Finding[];
  decided: string[] | null;
  way: { role: string; state: LegState; share: number }[] | null;
}

/** The sheet's lines of some clips, in the order of their ids. */
export async function clipLines(db: DataSource, production: string, ids: readonly string[]): Promise<ClipLine[]> {
  const rows = await db.query<LineRecord[]>(
    `SELECT id, path, stem, roll, version, said, sidecar_said AS "sidecarSaid", description->>'reel' AS reel, starts,
       (description->'video'->>'frames')::int AS frames, description->'video'->'rate' AS rate,
       coalesce((description->'video'->>'rateConstant')::boolean, true) AS "rateConstant",
       description->'video'->'raster' AS raster, description->'video'->>'chroma' AS chroma,
       (description->'video'->>'bitDepth')::int AS "bitDepth",
       (
         SELECT coalesce(sum((track->>'channels')::int), 0)::int
         FROM jsonb_array_elements(description->'audio') track
       ) AS channels,
       size_bytes::float AS "sizeBytes", seconds, poster, looked_at IS NOT NULL AS looked, findings,
       (SELECT json_agg(rule) FROM decision WHERE decision.clip_id = clip.id) AS decided, ${way} AS way
     FROM clip
     WHERE production_id = $1 AND id = ANY($2::uuid[]) AND description IS NOT NULL`,
    [production, ids],
  );
  const byId = new Map(rows.map((row) => [row.id, row]));
  return ids.flatMap((id) => {
    const row = byId.get(id);
    if (!row) return [];
    const { said, sidecarSaid, reel, chroma, bitDepth, decided, ...rest } = row;
    return [
      {
        ...rest,
        identity: identityOf(said, sidecarSaid, { reel }),
        sampling: chroma ? `${chroma} ${bitDepth ?? ''}` : null,
        way: row.way ?? [],
        findings: row.findings.map(({ rule, level, text }) => ({
          rule,
          level,
          text,
          decided: decided?.includes(rule) ?? false,
        })),
      },
    ];
  });
}

/**
 * The sheet: which clips, in which order and groups, and its first lines. Sorted, filtered and summed by the database;
 * nothing is read of clips that are not shown.
 */
export async function clipSheet(
  db: DataSource,
  production: string,
  sort: ClipSort,
  direction: 'up' | 'down',
  { filter, changed }: { filter: string; changed?: readonly string[] | null },
): Promise<ClipsAnswer> {
  const order = sortKeys[sort].map((key) => orderBy(key, direction)).join(', ');
  const fit = fitting(production, filter, changed);
  const [[sum], groups] = await Promise.all([
    db.query<Promise<[{ ids: string[]; seconds: number; bytes: number }]>>(
      `SELECT to_json(coalesce(array_agg(id), '{}')) AS ids, coalesce(sum(seconds), 0) AS seconds,
         coalesce(sum(size_bytes), 0)::float AS bytes
       FROM (SELECT id, seconds, size_bytes FROM clip WHERE ${fit.where} ORDER BY ${order}) sorted`,
      fit.parameters,
    ),
    sort === 'group' ? clipGroups(db, fit, direction) : Promise.resolve([]),
  ]);
  return { ...sum, groups, lines: await clipLines(db, production, sum.ids.slice(0, firstLines)) };
}

async function clipGroups(db: DataSource, { where, parameters }: Fit, direction: 'up' | 'down'): Promise<ClipGroup[]> {
  const rows = await db.query<(Omit<ClipGroup, 'text'> & { one: string })[]>(
    `SELECT grp AS key, count(*)::int AS clips, sum(seconds) AS seconds, sum(size_bytes)::float AS bytes,
       (array_agg(id))[1] AS one
     FROM clip
     WHERE ${where}
     GROUP BY grp
     ORDER BY grp ${direction === 'up' ? 'ASC' : 'DESC'}`,
    parameters,
  );
  const members = await db.manager.find(clip, {
    select: { id: true, description: true },
    where: { id: In(rows.map((row) => row.one)) },
  });
  const texts = new Map(members.flatMap(({ id, description }) => (description ? [[id, sayGroup(description)]] : [])));
  return rows.map(({ one, ...group }) => ({ ...group, text: texts.get(one) ?? group.key }));
}
