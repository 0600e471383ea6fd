import type { RuleScope } from '@relay/contract/chain';
import type { CorrectionField, FieldValues } from '@relay/core/corrections/fields';

/** A rule as it stands, or stood; `value` is undefined where there was none. */
export interface Rule {
  field: CorrectionField;
  scope: RuleScope;
  /** A clip's id, a roll's name, a group's key; empty for the whole production. */
  key: string;
  value?: unknown;
}

/** Where something is said, and the clips that it is said of. */
export interface SaidOf {
  /** The places that rules are written at. */
  places: readonly { scope: RuleScope; key: string }[];
  scope: RuleScope;
  clips: readonly { id: string; roll: string }[];
  /** Rolls of which every clip is meant. */
  wholeRolls: ReadonlySet<string>;
}

/** What is said of fields, and which of them are to lose their rule. */
export interface Said {
  values: Partial<FieldValues>;
  clear: readonly CorrectionField[];
}

/** Scopes that are nearer to a clip than each, and would win over it. */
export const nearerThan: Readonly<Record<RuleScope, readonly RuleScope[]>> = {
  clip: [],
  roll: ['clip'],
  group: ['clip', 'roll'],
  production: ['clip', 'roll', 'group'],
};

export const sameRule = (a: Rule, b: Rule): boolean => a.field === b.field && a.scope === b.scope && a.key === b.key;

/**
 * The rules to write and to take away so that what is said of clips is what holds for them. Nearer rules in the way go;
 * a roll's rule goes only where the whole roll is meant, else its clips are told one by one.
 */
export function ruleChange(
  existing: readonly Rule[],
  fields: readonly CorrectionField[],
  values: Partial<FieldValues>,
  { places, scope, clips, wholeRolls }: SaidOf,
): { set: Required<Rule>[]; gone: Rule[] } {
  const nearer = nearerThan[scope];
  const ids = new Set(clips.map(({ id }) => id));
  const rolls = new Set(clips.map(({ roll }) => roll));
  const isInTheWay = (rule: Rule): boolean =>
    nearer.includes(rule.scope) &&
    (rule.scope === 'clip' ? ids.has(rule.key) : rule.scope === 'roll' ? wholeRolls.has(rule.key) : true);
  const isHere = (rule: Rule): boolean => places.some((place) => place.scope === rule.scope && place.key === rule.key);
  const set: Required<Rule>[] = [];
  const gone: Rule[] = [];
  for (const field of fields) {
    const rules = existing.filter((rule) => rule.field === field);
    const inTheWay = rules.filter(isInTheWay);
    if (values[field] === undefined) {
      gone.push(...inTheWay, ...rules.filter(isHere));
      continue;
    }
    const halfRolls = nearer.includes('roll')
      ? rules.filter((rule) => rule.scope === 'roll' && rolls.has(rule.key) && !wholeRolls.has(rule.key))
      : [];
    const oneByOne = clips
      .filter(({ roll }) => halfRolls.some((rule) => rule.key === roll))
      .map(({ id }) => ({ scope: 'clip' as const, key: id }));
    const here = [...places, ...oneByOne].map((place) => ({ field, ...place, value: values[field] }));
    set.push(...here);
    gone.push(...inTheWay.filter((rule) => !here.some((one) => sameRule(one, rule))));
  }
  return { set, gone };
}
