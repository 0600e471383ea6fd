import type { MigrationInterface, QueryRunner } from 'typeorm';

/** What a group was known by before. */
const byFormat = `
  (description->'video'->'raster'->>'width') || 'x' || (description->'video'->'raster'->>'height') || '|' ||
  CASE WHEN (description->'video'->>'rateConstant')::boolean
    THEN (description->'video'->'rate'->>'num') || '/' || (description->'video'->'rate'->>'den') ELSE 'varies' END || '|' ||
  (description->'video'->>'scan') || '|' ||
  (description->'video'->'pixelAspect'->>'num') || '/' || (description->'video'->'pixelAspect'->>'den') || '|' ||
  (description->'video'->>'codecId') || '|' || coalesce(description->'video'->'colour'->>'transfer', '')`;

/** As core/clip/group.ts: what clips must share to be corrected alike. */
const byCamera = `${byFormat} || '|' || coalesce(description->'video'->>'bitDepth', '') || '|' ||
  coalesce(description->'video'->'colour'->>'primaries', '') || '|' ||
  coalesce(description->'video'->'colour'->>'range', '') || '|' || coalesce(description->>'device', '')`;

interface Rule {
  field: string;
  scope: string;
  key: string;
  value?: unknown;
}

/** Another key for a rule's group in its production: several where the group is parted, its own where none is left. */
type Keys = (production: string, key: string) => string[];

/**
 * Groups part cameras: bit depth, primaries, range and device count too. Rules that hold for a group hold for each that
 * came of it, and what can be undone is written with the new keys.
 */
export class GroupsByCamera1765200000000 implements MigrationInterface {
  async up(db: QueryRunner): Promise<void> {
    const before = await groupsOf(db);
    await regroup(db, byCamera);
    const after = await groupsOf(db);
    const parts = new Map<string, Set<string>>();
    for (const [clip, { production, key }] of before) {
      const now = after.get(clip)?.key;
      const place = `${production} ${key}`;
      if (now !== undefined) parts.set(place, (parts.get(place) ?? new Set()).add(now));
    }
    await rewriteRules(db, (production, key) => [...(parts.get(`${production} ${key}`) ?? [key])]);
  }

  async down(db: QueryRunner): Promise<void> {
    await regroup(db, byFormat);
    await rewriteRules(db, (_, key) => [key.split('|').slice(0, 6).join('|')]);
  }
}

async function groupsOf(db: QueryRunner): Promise<Map<string, { production: string; key: string }>> {
  const rows = (await db.query(
    'SELECT id, production_id AS production, grp AS key FROM clip WHERE grp IS NOT NULL',
  )) as { id: string; production: string; key: string }[];
  return new Map(rows.map((row) => [row.id, row]));
}

async function regroup(db: QueryRunner, expression: string): Promise<void> {
  await db.query(`
    DROP INDEX clip_of_production;
    ALTER TABLE clip DROP grp;
    ALTER TABLE clip ADD grp text GENERATED ALWAYS AS (
      CASE WHEN description IS NULL THEN NULL WHEN jsonb_typeof(description->'video') <> 'object' THEN 'sound'
        ELSE ${expression} END) STORED;
    CREATE INDEX clip_of_production ON clip (production_id, grp, roll, path) INCLUDE (id, seconds, size_bytes)
      WHERE description IS NOT NULL;
  `);
}

async function rewriteRules(db: QueryRunner, keysOf: Keys): Promise<void> {
  const rules = (await db.query(
    `DELETE FROM correction_rule WHERE scope = 'group' RETURNING production_id AS production, field, key, value, who, at`,
  )) as unknown as [
    { production: string; field: string; key: string; value: unknown; who: string; at: Date }[],
    number,
  ];
  for (const { production, field, key, value, who, at } of rules[0])
    for (const now of keysOf(production, key))
      await db.query(
        `INSERT INTO correction_rule (production_id, field, scope, key, value, who, at)
         VALUES ($1, $2, 'group', $3, $4, $5, $6) ON CONFLICT DO NOTHING`,
        [production, field, now, JSON.stringify(value), who, at],
      );
  const changes = (await db.query('SELECT id, production_id AS production, before, after FROM correction_change')) as {
    id: string;
    production: string;
    before: Rule[];
    after: Rule[];
  }[];
  for (const { id, production, before, after } of changes) {
    if (![...before, ...after].some(({ scope }) => scope === 'group')) continue;
    const renamed = (all: Rule[]): Rule[] =>
      all.flatMap((rule) =>
        rule.scope === 'group' ? keysOf(production, rule.key).map((key) => ({ ...rule, key })) : [rule],
      );
    await db.query('UPDATE correction_change SET before = $2, after = $3 WHERE id = $1', [
      id,
      JSON.stringify(renamed(before)),
      JSON.stringify(renamed(after)),
    ]);
  }
}
