import type { CommonCorrections, CorrectionsChanged } from '@relay/contract/corrections';
import type { Target } from '@relay/contract/corrections';
import type { ClipDescription } from '@relay/core/clip/description';
import { sayChain } from '@relay/core/colour/chain/say';
import {
  correctionFields,
  fieldNames,
  fromFields,
  type CorrectionField,
  type FieldValues,
} from '@relay/core/corrections/fields';
import { planLeg } from '@relay/core/recipe/plan';
import { finishAndCut, type Recipe } from '@relay/core/recipe/recipe';
import { sayPlan } from '@relay/core/recipe/sentence';
import type { DataSource, EntityManager } from 'typeorm';
import { refreshClips } from '../clips/refresh.ts';
import { notThere, Refused } from '../http.ts';
import { tell } from '../live/notify.ts';
import { nearerThan, ruleChange, sameRule, type Rule, type Said, type SaidOf } from './ruleChange.ts';
import { correctionsInForce, inForceOfClip, type InForceRows } from '../clips/inForce.ts';

/** Clips that have a picture, which is what corrections are for. */
export const pictured = `clip.description IS NOT NULL AND jsonb_typeof(clip.description->'video') = 'object'`;

/** A condition on `clip` for a target, its value being `$2`. */
export function clipsWhere(target: Target): { sql: string; value: unknown } {
  switch (target.scope) {
    case 'clip':
      return { sql: 'clip.id = ANY($2::uuid[])', value: target.clips };
    case 'roll':
      return { sql: 'clip.roll = $2', value: target.key };
    case 'group':
      return { sql: 'clip.grp = $2', value: target.key };
    case 'production':
      return { sql: '$2::text IS NULL', value: null };
  }
}

/**
 * Says which corrections hold for clips, a roll, a group or everything: only the fields given are touched, and those to
 * clear lose their rule. Nearer rules that would still win for those clips are taken away, so that what is said is what
 * happens; an undo puts them back.
 */
export async function sayCorrections(
  db: DataSource,
  production: string,
  target: Target,
  said: Said,
  who: string,
): Promise<CorrectionsChanged> {
  const touched = correctionFields.filter((field) => said.values[field] !== undefined);
  const cleared = said.clear.filter((field) => said.values[field] === undefined);
  const fields = [...touched, ...cleared];
  if (fields.length === 0)
    throw new Refused(400, { what: 'Nothing was changed', remedy: 'Say what is to be corrected' });
  const made = await db.transaction(async (tx) => {
    await tx.query('SELECT 1 FROM production WHERE id = $1 FOR UPDATE', [production]);
    const of = await saidOf(tx, production, target);
    const existing = await tx.query<Rule[]>(
      'SELECT field, scope, key, value FROM correction_rule WHERE production_id = $1 AND field = ANY($2)',
      [production, fields],
    );
    const { set, gone } = ruleChange(existing, fields, said.values, of);
    await writeRules(tx, production, set, gone, who);
    const bare = ({ field, scope, key }: Rule): Rule => ({ field, scope, key });
    const before = [...set.map((rule) => existing.find((one) => sameRule(one, rule)) ?? bare(rule)), ...gone];
    const after = [...set, ...gone.map(bare)];
    const [change] = await tx.query<{ id: string }[]>(
      'INSERT INTO correction_change (production_id, what, who, before, after) VALUES ($1, $2, $3, $4, $5) RETURNING id',
      [production, sayChange(said.values, cleared), who, JSON.stringify(before), JSON.stringify(after)],
    );
    return {
      change: change?.id as string,
      replaced: gone.filter((rule) => nearerThan[target.scope].includes(rule.scope)).length,
      ids: of.clips.map(({ id }) => id),
    };
  });
  // What looks like log is no longer asked about where somebody said what it is.
  await refreshClips(db, production, made.ids);
  await tell(db, { kind: 'changed', what: 'clips', production });
  return { change: made.change, clips: made.ids.length, replaced: made.replaced };
}

/** The clips with a picture that something is said of, and where it is written. */
async function saidOf(tx: EntityManager, production: string, target: Target): Promise<SaidOf> {
  const { sql, value } = clipsWhere(target);
  const clips = await tx.query<{ id: string; roll: string }[]>(
    `SELECT clip.id, clip.roll FROM clip WHERE clip.production_id = $1 AND ${sql} AND ${pictured}`,
    [production, value],
  );
  if (clips.length === 0) throw notThere('None of the clips');
  const whole = await tx.query<{ roll: string }[]>(
    `SELECT roll
     FROM clip
     WHERE production_id = $1 AND ${pictured}
     GROUP BY roll
     HAVING bool_and(id = ANY($2::uuid[]))`,
    [production, clips.map(({ id }) => id)],
  );
  return {
    places:
      target.scope === 'clip'
        ? clips.map(({ id }) => ({ scope: 'clip' as const, key: id }))
        : [{ scope: target.scope, key: target.scope === 'production' ? '' : target.key }],
    scope: target.scope,
    clips,
    wholeRolls: new Set(whole.map(({ roll }) => roll)),
  };
}

async function writeRules(
  tx: EntityManager,
  production: string,
  set: readonly Required<Rule>[],
  gone: readonly Rule[],
  who: string,
): Promise<void> {
  for (const rule of gone)
    await tx.query('DELETE FROM correction_rule WHERE production_id = $1 AND field = $2 AND scope = $3 AND key = $4', [
      production,
      rule.field,
      rule.scope,
      rule.key,
    ]);
  await tx.query(
    `INSERT INTO correction_rule (production_id, field, scope, key, value, who)
     SELECT $1, field, scope, key, coalesce(value, 'null'), $3
     FROM jsonb_to_recordset($2::jsonb) AS r(field text, scope text, key text, value jsonb)
     ON CONFLICT (production_id, field, scope, key) DO UPDATE SET
       value = excluded.value, who = excluded.who, at = now()`,
    [production, JSON.stringify(set), who],
  );
}

function sayChange(values: Partial<FieldValues>, cleared: readonly CorrectionField[]): string {
  const said = correctionFields
    .filter((field) => values[field] !== undefined)
    .map((field) => (field === 'colour' ? (values.colour ? sayChain(values.colour) : 'no chain') : fieldNames[field]));
  return [...said, ...cleared.map((field) => `${fieldNames[field]} taken away`)].join(', ');
}

/** Puts back the rules that stood before a change, unless somebody said something newer of one of them. */
export async function undoCorrections(db: DataSource, changeId: string): Promise<void> {
  const production = await db.transaction(async (tx) => {
    const [change] = await tx.query<{ production: string; before: Rule[]; after: Rule[]; undoneAt: Date | null }[]>(
      `SELECT production_id AS production, before, after, undone_at AS "undoneAt"
       FROM correction_change
       WHERE id = $1
       FOR UPDATE`,
      [changeId],
    );
    if (!change) throw notThere('The change');
    if (change.undoneAt)
      throw new Refused(409, { what: 'This was undone already', remedy: 'Nothing needs to be done' });
    const now = await tx.query<Rule[]>(
      'SELECT field, scope, key, value FROM correction_rule WHERE production_id = $1',
      [change.production],
    );
    const text = (rule: Rule | undefined): string =>
      JSON.stringify(rule?.value === undefined ? 'none' : sorted(rule.value));
    const newer = change.after.filter((rule) => text(rule) !== text(now.find((one) => sameRule(one, rule))));
    if (newer.length > 0)
      throw new Refused(409, {
        what: 'It was changed again since, so this can no longer be undone',
        remedy: 'Change it on the bench',
      });
    for (const rule of change.before) {
      if (rule.value === undefined)
        await tx.query(
          'DELETE FROM correction_rule WHERE production_id = $1 AND field = $2 AND scope = $3 AND key = $4',
          [change.production, rule.field, rule.scope, rule.key],
        );
      else {
        await tx.query(
          `INSERT INTO correction_rule (production_id, field, scope, key, value, who)
           VALUES ($1, $2, $3, $4, $5, 'undo')
           ON CONFLICT (production_id, field, scope, key) DO UPDATE SET
             value = excluded.value, who = excluded.who, at = now()`,
          [change.production, rule.field, rule.scope, rule.key, JSON.stringify(rule.value)],
        );
      }
    }
    await tx.query('UPDATE correction_change SET undone_at = now() WHERE id = $1', [changeId]);
    return change.production;
  });
  await refreshClips(db, production);
  await tell(db, { kind: 'changed', what: 'clips', production });
}

/** What a selection's clips share of their corrections, where they differ, and what will be done to them. */
export async function commonCorrections(
  db: DataSource,
  production: string,
  ids: readonly string[],
): Promise<CommonCorrections> {
  const rows = await db.query<{ description: ClipDescription; inForce: InForceRows }[]>(
    `SELECT clip.description, in_force.fields AS "inForce"
     FROM clip ${inForceOfClip}
     WHERE clip.production_id = $1 AND clip.id = ANY($2::uuid[]) AND ${pictured}`,
    [production, ids],
  );
  const all = rows.map((row) => correctionsInForce(row.inForce).fields);
  const recipe =
    (await db.query<{ definition: Recipe }[]>('SELECT definition FROM recipe ORDER BY created_at LIMIT 1'))[0]
      ?.definition ?? finishAndCut;
  const fields: Partial<FieldValues> = {};
  const mixed: CorrectionField[] = [];
  for (const field of correctionFields) {
    const texts = new Set(all.map((one) => JSON.stringify(one[field] === undefined ? null : sorted(one[field]))));
    if (texts.size > 1) mixed.push(field);
    else if (all[0]?.[field] !== undefined) Object.assign(fields, { [field]: all[0][field] });
  }
  const said = new Map<string, number>();
  rows.forEach((row, index) => {
    const plan = planLeg(row.description, recipe, fromFields(all[index] ?? {}));
    for (const line of plan.ok
      ? sayPlan(plan.value).filter((one) => !/timecode|^Starts at/.test(one))
      : [`${plan.problem.what}. ${plan.problem.remedy}`])
      said.set(line, (said.get(line) ?? 0) + 1);
  });
  return {
    clips: rows.length,
    fields,
    mixed,
    said: [...said]
      .sort((a, b) => b[1] - a[1])
      .slice(0, 12)
      .map(([text, clips]) => ({ text, clips })),
  };
}

/** A value with its fields in one order, so that texts of equal ones are equal. */
function sorted(value: unknown): unknown {
  if (Array.isArray(value)) return value.map(sorted);
  if (value === null || typeof value !== 'object') return value;
  return Object.fromEntries(
    Object.entries(value)
      .sort(([a], [b]) => (a < b ? -1 : 1))
      .map(([key, one]) => [key, sorted(one)]),
  );
}
