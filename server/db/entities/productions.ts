import type { CopyRule } from '@relay/core/custody/clearing';
import type { Rational } from '@relay/core/time/rational';
import { EntitySchema } from 'typeorm';
import { id, json, now, text } from './columns.ts';

export interface ProductionRow {
  id: string;
  name: string;
  rate: Rational | null;
  copyRule: CopyRule;
  createdAt: Date;
}

export const production = new EntitySchema<ProductionRow>({
  name: 'production',
  tableName: 'production',
  columns: {
    id,
    name: text(),
    rate: json(true),
    copyRule: { ...json(), name: 'copy_rule', default: { copies: 2, stores: 2 } },
    createdAt: { ...now, name: 'created_at' },
  },
});
