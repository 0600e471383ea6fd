import { EntitySchema } from 'typeorm';
import { json, now, text, texts } from './columns.ts';

/** A worker as it last said of itself. */
export interface WorkerRow {
  name: string;
  title: string;
  host: string;
  slots: number;
  /** Codecs that it takes legs of; null for all. */
  codecs: string[] | null;
  stores: string[];
  isolation: string | null;
  startedAt: Date;
  beatAt: Date;
}

export const worker = new EntitySchema<WorkerRow>({
  name: 'worker',
  tableName: 'worker',
  columns: {
    name: { type: 'text', primary: true },
    title: text(),
    host: text(),
    slots: { type: 'int' },
    codecs: { type: 'text', array: true, nullable: true },
    stores: texts,
    isolation: text(true),
    startedAt: { ...now, name: 'started_at' },
    beatAt: { ...now, name: 'beat_at' },
  },
});

/** What is set for the whole site, by its key. */
export interface SettingRow {
  key: string;
  value: unknown;
}

export const setting = new EntitySchema<SettingRow>({
  name: 'setting',
  tableName: 'setting',
  columns: { key: { type: 'text', primary: true }, value: json() },
});
