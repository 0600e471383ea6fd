import type { ReadCut } from '@relay/core/cut/cut';
import type { CutForm } from '@relay/core/cut/read';
import { EntitySchema } from 'typeorm';
import { bytes, id, jsonText, now, text } from './columns.ts';

/** A cut that came back: an edit list with its versions. */
export interface CutRow {
  id: string;
  productionId: string;
  name: string;
  createdAt: Date;
}

export const cut = new EntitySchema<CutRow>({
  name: 'cut',
  tableName: 'cut',
  columns: {
    id,
    productionId: { type: 'uuid', name: 'production_id' },
    name: text(),
    createdAt: { ...now, name: 'created_at' },
  },
});

/** One list, as it came and as it was read. */
export interface CutVersionRow {
  id: string;
  cutId: string;
  number: number;
  fileName: string;
  form: CutForm;
  bytes: Buffer;
  events: number;
  read: ReadCut;
  who: string;
  createdAt: Date;
}

export const cutVersion = new EntitySchema<CutVersionRow>({
  name: 'cut_version',
  tableName: 'cut_version',
  columns: {
    id,
    cutId: { type: 'uuid', name: 'cut_id' },
    number: { type: 'int' },
    fileName: { ...text(), name: 'file_name' },
    form: text(),
    bytes: { type: 'bytea' },
    events: { type: 'int' },
    read: jsonText(),
    who: text(),
    createdAt: { ...now, name: 'created_at' },
  },
});

/** What a person said of an event's source: its original, and the frame of that with which it begins. */
export interface CutAnswerRow {
  cutId: string;
  /** What the list calls the source. */
  source: string;
  firstFrame: number;
  lastFrame: number;
  clipId: string;
  atFrame: number;
  who: string;
  at: Date;
}

export const cutAnswer = new EntitySchema<CutAnswerRow>({
  name: 'cut_answer',
  tableName: 'cut_answer',
  columns: {
    cutId: { type: 'uuid', name: 'cut_id', primary: true },
    source: { ...text(), primary: true },
    firstFrame: { type: 'bigint', transformer: bytes.transformer, name: 'first_frame', primary: true },
    lastFrame: { type: 'bigint', transformer: bytes.transformer, name: 'last_frame' },
    clipId: { type: 'uuid', name: 'clip_id' },
    atFrame: { type: 'bigint', transformer: bytes.transformer, name: 'at_frame' },
    who: text(),
    at: now,
  },
});
