import type { InletDefinition } from '@relay/contract/inlets';
import type { ClipDescription } from '@relay/core/clip/description';
import type { FieldValues } from '@relay/core/corrections/fields';
import { identityOf, type Identity } from '@relay/core/identity/identity';
import type { DataSource } from 'typeorm';
import { sayPattern } from '../clips/identity.ts';
import { sayCorrections } from '../corrections/rules.ts';

/** What the inlet says of clips that arrive, where nobody and no file has said anything. */
export async function sayBefore(
  db: DataSource,
  production: string,
  { before, name }: InletDefinition,
  clips: readonly string[],
): Promise<void> {
  const who = `inlet ${name}`;
  if (before.squeeze) await sayWhereUnsaid(db, production, { squeeze: before.squeeze }, { clips, who });
  if (before.colour) await sayWhereUnsaid(db, production, { colour: before.colour }, { clips, who });
  if (before.reel === null || clips.length === 0) return;
  const rows = await db.query<
    { id: string; version: number; said: Partial<Identity>; sidecar: Partial<Identity>; description: ClipDescription }[]
  >('SELECT id, version, said, sidecar_said AS sidecar, description FROM clip WHERE id = ANY($1)', [clips]);
  const without = rows.filter(({ said, sidecar, description }) => identityOf(said, sidecar, description).reel === null);
  // A pattern that gives nothing of these names says nothing.
  if (without.length > 0)
    await sayPattern(db, production, without, { field: 'reel', pattern: before.reel }, who).catch(() => undefined);
}

/** Says one correction of those clips with a picture of which no rule says it. */
async function sayWhereUnsaid(
  db: DataSource,
  production: string,
  values: Partial<FieldValues>,
  { clips, who }: { clips: readonly string[]; who: string },
): Promise<void> {
  const unsaid = await db.query<{ id: string }[]>(
    `SELECT id
     FROM clip
     WHERE id = ANY($1) AND jsonb_typeof(description->'video') = 'object' AND NOT EXISTS (
       SELECT 1
       FROM correction_rule r
       WHERE r.production_id = clip.production_id AND r.field = ANY($2) AND (
         r.scope = 'production' OR (r.scope = 'clip' AND r.key = clip.id::text)
         OR (r.scope = 'roll' AND r.key = clip.roll) OR (r.scope = 'group' AND r.key = clip.grp)
       )
     )`,
    [clips, Object.keys(values)],
  );
  if (unsaid.length === 0) return;
  const target = { scope: 'clip' as const, clips: unsaid.map(({ id }) => id) };
  await sayCorrections(db, production, target, { values, clear: [] }, who);
}
