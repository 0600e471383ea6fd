import type { RollAnswer, RollCopy, RollState } from '@relay/contract/arrivals';
import type { CardFile } from '@relay/core/custody/card';
import type { HashName } from '@relay/core/custody/manifest';
import type { Problem } from '@relay/core/result';
import { EntitySchema } from 'typeorm';
import { bytes, id, json, now, text, time } from './columns.ts';

/** Cards and folders coming in. */

export interface RollRow {
  id: string;
  productionId: string;
  name: string;
  day: string;
  cardStore: string;
  cardFolder: string;
  hash: HashName;
  alsoMd5: boolean;
  state: RollState;
  wanted: 'go' | 'pause' | 'stop';
  files: number;
  filesDone: number;
  bytes: number;
  bytesDone: number;
  result: Pick<RollAnswer, 'clearing' | 'problems' | 'notCopied' | 'cardManifest'> | null;
  cardFiles: CardFile[];
  worker: string | null;
  beatAt: Date | null;
  createdAt: Date;
  startedAt: Date | null;
  endedAt: Date | null;
}

export const roll = new EntitySchema<RollRow>({
  name: 'roll',
  tableName: 'roll',
  columns: {
    id,
    productionId: { type: 'uuid', name: 'production_id' },
    name: text(),
    day: text(),
    cardStore: { ...text(), name: 'card_store' },
    cardFolder: { ...text(), name: 'card_folder' },
    hash: text(),
    alsoMd5: { type: 'boolean', default: false, name: 'also_md5' },
    state: { ...text(), default: 'waiting' },
    wanted: { ...text(), default: 'go' },
    files: { type: 'int', default: 0 },
    filesDone: { type: 'int', default: 0, name: 'files_done' },
    bytes,
    bytesDone: { ...bytes, name: 'bytes_done' },
    result: json(true),
    cardFiles: { ...json(), name: 'card_files', default: [] },
    worker: text(true),
    beatAt: { ...time, name: 'beat_at' },
    createdAt: { ...now, name: 'created_at' },
    startedAt: { ...time, name: 'started_at' },
    endedAt: { ...time, name: 'ended_at' },
  },
});

export interface RollCopyRow {
  id: string;
  rollId: string;
  ordinal: number;
  storeId: string;
  folder: string;
  filesProved: number;
  disk: string | null;
  readFromDisk: boolean;
  manifest: string | null;
  problem: Problem | null;
  verification: RollCopy['verification'];
  verifiedAt: Date | null;
  verifyWanted: Date | null;
  roll?: RollRow;
}

export const rollCopy = new EntitySchema<RollCopyRow>({
  name: 'rollCopy',
  tableName: 'roll_copy',
  columns: {
    id,
    rollId: { type: 'uuid', name: 'roll_id' },
    ordinal: { type: 'int' },
    storeId: { ...text(), name: 'store_id' },
    folder: text(),
    filesProved: { type: 'int', default: 0, name: 'files_proved' },
    disk: text(true),
    readFromDisk: { type: 'boolean', default: false, name: 'read_from_disk' },
    manifest: text(true),
    problem: json(true),
    verification: json(true),
    verifiedAt: { ...time, name: 'verified_at' },
    verifyWanted: { ...time, name: 'verify_wanted' },
  },
  relations: { roll: { type: 'many-to-one', target: 'roll', joinColumn: { name: 'roll_id' } } },
});

export interface CustodyEventRow {
  id: string;
  rollId: string;
  at: Date;
  who: string;
  what: string;
}

export const custodyEvent = new EntitySchema<CustodyEventRow>({
  name: 'custodyEvent',
  tableName: 'custody_event',
  columns: {
    id: { type: 'bigint', primary: true, generated: true },
    rollId: { type: 'uuid', name: 'roll_id' },
    at: now,
    who: text(),
    what: text(),
  },
});

export interface ReadingRow {
  id: string;
  productionId: string;
  storeId: string;
  folder: string;
  state: 'waiting' | 'running' | 'done' | 'failed';
  total: number;
  done: number;
  problem: Problem | null;
  says: string | null;
  rollId: string | null;
  createdAt: Date;
  beatAt: Date | null;
}

export const reading = new EntitySchema<ReadingRow>({
  name: 'reading',
  tableName: 'reading',
  columns: {
    id,
    productionId: { type: 'uuid', name: 'production_id' },
    storeId: { ...text(), name: 'store_id' },
    folder: text(),
    state: { ...text(), default: 'waiting' },
    total: { type: 'int', default: 0 },
    done: { type: 'int', default: 0 },
    problem: json(true),
    says: text(true),
    rollId: { type: 'uuid', name: 'roll_id', nullable: true },
    createdAt: { ...now, name: 'created_at' },
    beatAt: { ...time, name: 'beat_at' },
  },
});
