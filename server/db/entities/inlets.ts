import { nothingNow, type InletDefinition, type InletNow } from '@relay/contract/inlets';
import type { Problem } from '@relay/core/result';
import { EntitySchema } from 'typeorm';
import { bytes, id, json, now, text, time } from './columns.ts';

/** Watched places, what they took up, and by what it is known again. */

export interface InletRow {
  id: string;
  productionId: string;
  definition: InletDefinition;
  paused: boolean;
  owner: string;
  version: number;
  /** How often it was asked to forget something and look again. */
  stirs: number;
  /** What its keeper saw last. */
  now: InletNow;
  lookedAt: Date | null;
  createdAt: Date;
}

export const inlet = new EntitySchema<InletRow>({
  name: 'inlet',
  tableName: 'inlet',
  columns: {
    id,
    productionId: { type: 'uuid', name: 'production_id' },
    definition: json(),
    paused: { type: 'boolean', default: false },
    owner: { ...text(), default: 'assistant' },
    version: { type: 'int', default: 1 },
    stirs: { type: 'int', default: 0 },
    now: { ...json(), default: nothingNow },
    lookedAt: { ...time, name: 'looked_at' },
    createdAt: { ...now, name: 'created_at' },
  },
});

/** A clip that is not made before somebody decides. */
export interface ClipThatWaits extends Problem {
  clip: string;
  path: string;
}

/** A move of names from one folder of an inlet to another; empty is the inlet's own. */
export interface MovingThing {
  from: string;
  to: string;
  names: string[];
}

/** Something that was taken up. */
export interface InletThingRow {
  id: string;
  inletId: string;
  /** Which of its inlet's folders it lay in: store and folder. */
  place: string;
  key: string;
  /** Of a structure its folder is moved, of files each of them; a roll stays where it is. */
  kind: 'structure' | 'files' | 'roll';
  files: number;
  sizeBytes: number;
  known: number;
  clips: string[];
  /** Those of its clips that wait for a decision, and of what. */
  waits: ClipThatWaits[];
  runs: string[];
  problems: (Problem & { path: string })[];
  /** How it ended, once nothing of it is under way. */
  ended: 'made' | 'needs eyes' | 'left' | 'stopped' | null;
  endedAt: Date | null;
  /** The folder of its inlet that it was moved to; empty where it lies as it arrived. */
  lies: string;
  /** By which names it was moved there. */
  names: string[];
  /** Written down before it is moved, so that a move that was broken off is found again. */
  moving: MovingThing | null;
  /** Why it was not moved, or told of beside, although it should be. */
  trouble: string | null;
  takenAt: Date;
}

const ids = { type: 'uuid', array: true, default: '{}' } as const;

export const inletThing = new EntitySchema<InletThingRow>({
  name: 'inletThing',
  tableName: 'inlet_thing',
  columns: {
    id,
    inletId: { type: 'uuid', name: 'inlet_id' },
    place: text(),
    key: text(),
    kind: text(),
    files: { type: 'int' },
    sizeBytes: { ...bytes, name: 'size_bytes' },
    known: { type: 'int', default: 0 },
    clips: ids,
    waits: { ...json(), default: [] },
    runs: ids,
    problems: { ...json(), default: [] },
    ended: text(true),
    endedAt: { ...time, name: 'ended_at' },
    lies: { ...text(), default: '' },
    names: { type: 'text', array: true, default: '{}' },
    moving: json(true),
    trouble: text(true),
    takenAt: { ...now, name: 'taken_at' },
  },
});

/** A file that an inlet dealt with. */
export interface InletFileRow {
  inletId: string;
  place: string;
  path: string;
  sizeBytes: number;
  modifiedAt: string;
  /** Of what was taken up for its content; null of what lay beside it, or was left. */
  sampled: string | null;
  whole: string | null;
  thingId: string | null;
}

export const inletFile = new EntitySchema<InletFileRow>({
  name: 'inletFile',
  tableName: 'inlet_file',
  columns: {
    inletId: { type: 'uuid', primary: true, name: 'inlet_id' },
    place: { type: 'text', primary: true },
    path: { type: 'text', primary: true },
    sizeBytes: { ...bytes, name: 'size_bytes', default: undefined },
    modifiedAt: { ...text(), name: 'modified_at' },
    sampled: text(true),
    whole: text(true),
    thingId: { type: 'uuid', name: 'thing_id', nullable: true },
  },
});
