import type { LutLine } from '@relay/contract/colour';
import type { Examined } from '@relay/core/colour/examine/examine';
import { EntitySchema } from 'typeorm';
import { json, now, text, texts, time } from './columns.ts';

/** A LUT or CDL of the cabinet, by the hash of its bytes. */
export interface LutRow {
  hash: string;
  name: string;
  fileName: string;
  bytes: Buffer;
  format: LutLine['format'];
  says: string;
  examined: Examined;
  tags: string[];
  takes: string | null;
  gives: string | null;
  rangeIn: LutLine['rangeIn'];
  rangeOut: LutLine['rangeOut'];
  createdAt: Date;
  putAwayAt: Date | null;
}

export const lut = new EntitySchema<LutRow>({
  name: 'lut',
  tableName: 'lut',
  columns: {
    hash: { type: 'text', primary: true },
    name: text(),
    fileName: { ...text(), name: 'file_name' },
    bytes: { type: 'bytea' },
    format: text(),
    says: text(),
    examined: json(),
    tags: texts,
    takes: text(true),
    gives: text(true),
    rangeIn: { ...text(), name: 'range_in', default: 'full' },
    rangeOut: { ...text(), name: 'range_out', default: 'full' },
    createdAt: { ...now, name: 'created_at' },
    putAwayAt: { ...time, name: 'put_away_at' },
  },
});
