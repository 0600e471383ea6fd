import type { HandoffChoice, HandoffState, ReturnedAnswer } from '@relay/contract/handoffs';
import type { FileSystem } from '@relay/core/handoff/fileSystem';
import type { HeldItem, TravelKind } from '@relay/core/handoff/travel';
import type { MemberSystem } from '@relay/core/naming/systemPath';
import type { RelinkRow } from '@relay/core/relink/sheet';
import type { Delivery } from '@relay/work/handoff/underWay';
import { EntitySchema } from 'typeorm';
import { bytes, id, json, jsonText, now, text, time } from './columns.ts';

/** What left the building: receivers, hand-offs, their files, and what happened to them. */

export interface ReceiverRow {
  id: string;
  productionId: string;
  name: string;
  fileSystem: FileSystem | null;
  roots: Partial<Record<MemberSystem, string>>;
  createdAt: Date;
}

export const receiver = new EntitySchema<ReceiverRow>({
  name: 'receiver',
  tableName: 'receiver',
  columns: {
    id,
    productionId: { type: 'uuid', name: 'production_id' },
    name: text(),
    fileSystem: { ...text(true), name: 'file_system' },
    roots: { ...json(), default: {} },
    createdAt: { ...now, name: 'created_at' },
  },
});

export interface HandoffRow {
  id: string;
  productionId: string;
  receiverId: string;
  name: string;
  choice: HandoffChoice;
  storeId: string;
  folder: string;
  state: HandoffState;
  stopWanted: boolean;
  files: number;
  filesDone: number;
  bytes: number;
  bytesDone: number;
  result: Pick<Delivery, 'problem' | 'problems' | 'manifest' | 'readFromDisk'> | null;
  toDelete: HeldItem[];
  /** What was found on the drive when it was verified last. */
  returned: ReturnedAnswer | null;
  verifyWanted: Date | null;
  /** They have nothing of it any more. */
  lostAt: Date | null;
  worker: string | null;
  beatAt: Date | null;
  who: string;
  createdAt: Date;
  startedAt: Date | null;
  endedAt: Date | null;
}

export const handoff = new EntitySchema<HandoffRow>({
  name: 'handoff',
  tableName: 'handoff',
  columns: {
    id,
    productionId: { type: 'uuid', name: 'production_id' },
    receiverId: { type: 'uuid', name: 'receiver_id' },
    name: text(),
    choice: json(),
    storeId: { ...text(), name: 'store_id' },
    folder: text(),
    state: { ...text(), default: 'waiting' },
    stopWanted: { type: 'boolean', default: false, name: 'stop_wanted' },
    files: { type: 'int', default: 0 },
    filesDone: { type: 'int', default: 0, name: 'files_done' },
    bytes,
    bytesDone: { ...bytes, name: 'bytes_done' },
    result: json(true),
    toDelete: { ...json(), default: [], name: 'to_delete' },
    returned: json(true),
    verifyWanted: { ...time, name: 'verify_wanted' },
    lostAt: { ...time, name: 'lost_at' },
    worker: text(true),
    beatAt: { ...time, name: 'beat_at' },
    who: text(),
    createdAt: { ...now, name: 'created_at' },
    startedAt: { ...time, name: 'started_at' },
    endedAt: { ...time, name: 'ended_at' },
  },
});

export interface HandoffItemRow {
  handoffId: string;
  place: number;
  path: string;
  kind: TravelKind;
  /** Of its clip and deliverable: what has the same is another version of it. */
  key: string;
  sizeBytes: number;
  xxh3: string | null;
  /** Where it lies: a store, and its path below that. */
  storeId: string;
  source: string;
  outputId: string | null;
  clipId: string | null;
  roll: string;
  /** XXH3 of what was sent under its path before. */
  replaces: string | null;
  relink: RelinkRow | null;
  came: boolean;
}

export const handoffItem = new EntitySchema<HandoffItemRow>({
  name: 'handoffItem',
  tableName: 'handoff_item',
  columns: {
    handoffId: { type: 'uuid', primary: true, name: 'handoff_id' },
    place: { type: 'int', primary: true },
    path: text(),
    kind: text(),
    key: text(),
    sizeBytes: { type: 'bigint', transformer: bytes.transformer, name: 'size_bytes' },
    xxh3: text(true),
    storeId: { ...text(), name: 'store_id' },
    source: text(),
    outputId: { type: 'uuid', name: 'output_id', nullable: true },
    clipId: { type: 'uuid', name: 'clip_id', nullable: true },
    roll: text(),
    replaces: text(true),
    relink: jsonText(true),
    came: { type: 'boolean', default: false },
  },
});

export interface HandoffEventRow {
  id: string;
  handoffId: string;
  at: Date;
  who: string;
  what: string;
}

export const handoffEvent = new EntitySchema<HandoffEventRow>({
  name: 'handoffEvent',
  tableName: 'handoff_event',
  columns: {
    id: { type: 'bigint', primary: true, generated: true },
    handoffId: { type: 'uuid', name: 'handoff_id' },
    at: now,
    who: text(),
    what: text(),
  },
});
