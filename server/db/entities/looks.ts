import { EntitySchema } from 'typeorm';
import { id, now, text } from './columns.ts';

/** What somebody said of an output that they looked at. */
export interface OutputLookRow {
  id: string;
  outputId: string;
  /** Of what was looked at: what is made anew under its name asks for new eyes. */
  xxh3: string | null;
  verdict: 'accepted' | 'sent back' | 'taken back';
  note: string;
  /** The frame that was seen then; null where none is meant. */
  frame: number | null;
  who: string;
  at: Date;
}

export const outputLook = new EntitySchema<OutputLookRow>({
  name: 'outputLook',
  tableName: 'output_look',
  columns: {
    id,
    outputId: { type: 'uuid', name: 'output_id' },
    xxh3: text(true),
    verdict: text(),
    note: { ...text(), default: '' },
    frame: { type: 'int', nullable: true },
    who: text(),
    at: { ...now },
  },
});
