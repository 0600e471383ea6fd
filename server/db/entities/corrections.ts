import type { RuleScope } from '@relay/contract/chain';
import type { CorrectionField, FieldValues } from '@relay/core/corrections/fields';
import { EntitySchema } from 'typeorm';
import { id, json, now, text, time } from './columns.ts';

/** A correction of one field, said of a clip, a roll, a group or everything. */
export interface CorrectionRuleRow {
  productionId: string;
  field: CorrectionField;
  scope: RuleScope;
  /** A clip's id, a roll's name, a group's key; empty for everything. */
  key: string;
  /** JSON null where it is left alone on purpose. */
  value: FieldValues[CorrectionField] | null;
  who: string;
  at: Date;
}

export const correctionRule = new EntitySchema<CorrectionRuleRow>({
  name: 'correctionRule',
  tableName: 'correction_rule',
  columns: {
    productionId: { type: 'uuid', primary: true, name: 'production_id' },
    field: { type: 'text', primary: true },
    scope: { type: 'text', primary: true },
    key: { type: 'text', primary: true },
    value: json(),
    who: text(),
    at: now,
  },
});

/** Rules as they were before and after something was said, so that it can be undone. */
export interface CorrectionChangeRow {
  id: string;
  productionId: string;
  what: string;
  who: string;
  at: Date;
  before: unknown;
  after: unknown;
  undoneAt: Date | null;
}

export const correctionChange = new EntitySchema<CorrectionChangeRow>({
  name: 'correctionChange',
  tableName: 'correction_change',
  columns: {
    id,
    productionId: { type: 'uuid', name: 'production_id' },
    what: text(),
    who: text(),
    at: now,
    before: json(),
    after: json(),
    undoneAt: { ...time, name: 'undone_at' },
  },
});
