import type { CorrectionsInForce } from '@relay/contract/corrections';
import type { CorrectionField } from '@relay/core/corrections/fields';
import type { RuleScope } from '@relay/contract/chain';

/** Where rules fit a clip, the nearest first. Joined beside rows called `clip` and `r`. */
const fits = `r.production_id = clip.production_id AND (
      (r.scope = 'clip' AND r.key = clip.id::text) OR (r.scope = 'roll' AND r.key = clip.roll) OR (r.scope = 'group' AND r.key = clip.grp) OR r.scope = 'production')`;
const nearest = `array_position(ARRAY['clip', 'roll', 'group', 'production'], r.scope)`;

/** The chain that holds for a clip: of the rules that fit it, the nearest. To be joined beside a row called `clip`. */
export const ruleOfClip = `
  LEFT JOIN LATERAL (
    SELECT r.value AS chain, r.scope, r.who, r.at FROM correction_rule r WHERE r.field = 'colour' AND ${fits} ORDER BY ${nearest} LIMIT 1
  ) rule ON true`;

/** Every correction that holds for a clip, field by field, as `in_force.fields`: the nearest rule's value, and where it comes from. */
export const inForceOfClip = `
  LEFT JOIN LATERAL (
    SELECT coalesce(jsonb_object_agg(field, jsonb_build_object('value', value, 'scope', scope, 'who', who, 'at', at)), '{}') AS fields FROM (
      SELECT DISTINCT ON (r.field) r.field, r.value, r.scope, r.who, r.at FROM correction_rule r WHERE ${fits} ORDER BY r.field, ${nearest}
    ) one
  ) in_force ON true`;

/** What `inForceOfClip` gives for a clip. */
export type InForceRows = Partial<
  Record<CorrectionField, { value: unknown; scope: RuleScope; who: string; at: string }>
>;

export function correctionsInForce(rows: InForceRows): CorrectionsInForce {
  const entries = Object.entries(rows) as [CorrectionField, NonNullable<InForceRows[CorrectionField]>][];
  return {
    fields: Object.fromEntries(entries.map(([field, { value }]) => [field, value])),
    from: Object.fromEntries(entries.map(([field, { scope, who, at }]) => [field, { scope, who, at }])),
  };
}
