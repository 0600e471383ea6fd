import type { RollRow } from './arrivals.ts';
import type { ClipDescription, Refusal } from '@relay/core/clip/description';
import type { Finding } from '@relay/core/findings/finding';
import type { Decision } from '@relay/core/findings/findings';
import type { Identity } from '@relay/core/identity/identity';
import type { Measured } from '@relay/core/measure/measured';
import { EntitySchema } from 'typeorm';
import { bytes, id, json, now, text, time, workedOut } from './columns.ts';

/** Clips, and what people say and decide of them. */

export interface ClipRow {
  id: string;
  productionId: string;
  storeId: string;
  root: string;
  path: string;
  stem: string;
  roll: string;
  description: ClipDescription | null;
  refusal: Refusal | null;
  sizeBytes: number;
  modifiedAt: Date | null;
  /** XXH3 of samples of the file, by which it is known again where it is moved. */
  sampled: string | null;
  /** What the folder that it was read from was called then, where it has moved since: sheets and names go by that. */
  readAs: string | null;
  poster: boolean;
  createdAt: Date;
  rollId: string | null;
  /** A file's own description where the clip spans several files. */
  own: ClipDescription | null;
  said: Partial<Identity>;
  sidecarSaid: Partial<Identity>;
  sidecars: string[];
  version: number;
  measured: Measured | null;
  lookedAt: Date | null;
  lookProblem: string | null;
  findings: Finding[];
  gravest: number;
  search: string;
  /** Worked out by the database from the description: what the sheet sorts by, and the group it stands in. */
  starts: string | null;
  seconds: number | null;
  rate: number | null;
  samples: number | null;
  group: string | null;
  rollOf?: RollRow;
}

export const clip = new EntitySchema<ClipRow>({
  name: 'clip',
  tableName: 'clip',
  columns: {
    id,
    productionId: { type: 'uuid', name: 'production_id' },
    storeId: { ...text(), name: 'store_id' },
    root: text(),
    path: text(),
    stem: text(),
    roll: text(),
    description: json(true),
    refusal: json(true),
    sizeBytes: { ...bytes, name: 'size_bytes' },
    modifiedAt: { ...time, name: 'modified_at' },
    sampled: text(true),
    readAs: { ...text(true), name: 'read_as' },
    poster: { type: 'boolean', default: false },
    createdAt: { ...now, name: 'created_at' },
    rollId: { type: 'uuid', name: 'roll_id', nullable: true },
    own: json(true),
    said: { ...json(), default: {} },
    sidecarSaid: { ...json(), name: 'sidecar_said', default: {} },
    sidecars: { ...json(), default: [] },
    version: { type: 'int', default: 1 },
    measured: json(true),
    lookedAt: { ...time, name: 'looked_at' },
    lookProblem: { ...text(true), name: 'look_problem' },
    findings: { ...json(), default: [] },
    gravest: { type: 'smallint', default: 3 },
    search: { ...text(), default: '' },
    starts: { ...text(true), ...workedOut },
    seconds: { type: 'double precision', nullable: true, ...workedOut },
    rate: { type: 'double precision', nullable: true, ...workedOut },
    samples: { type: 'double precision', nullable: true, ...workedOut },
    group: { ...text(true), name: 'grp', ...workedOut },
  },
  relations: { rollOf: { type: 'many-to-one', target: 'roll', joinColumn: { name: 'roll_id' } } },
});

export interface DecisionRow {
  clipId: string;
  rule: string;
  answer: Decision['answer'];
  note: string;
  who: string;
  at: Date;
}

export const decision = new EntitySchema<DecisionRow>({
  name: 'decision',
  tableName: 'decision',
  columns: {
    clipId: { type: 'uuid', primary: true, name: 'clip_id' },
    rule: { type: 'text', primary: true },
    answer: text(),
    note: { ...text(), default: '' },
    who: text(),
    at: now,
  },
});

export interface IdentityChangeRow {
  id: string;
  productionId: string;
  what: string;
  who: string;
  at: Date;
  before: { id: string; said: Partial<Identity>; version: number }[];
  undoneAt: Date | null;
}

export const identityChange = new EntitySchema<IdentityChangeRow>({
  name: 'identityChange',
  tableName: 'identity_change',
  columns: {
    id,
    productionId: { type: 'uuid', name: 'production_id' },
    what: text(),
    who: text(),
    at: now,
    before: json(),
    undoneAt: { ...time, name: 'undone_at' },
  },
});

export interface SavedFilterRow {
  id: string;
  productionId: string;
  name: string;
  words: string;
}

export const savedFilter = new EntitySchema<SavedFilterRow>({
  name: 'savedFilter',
  tableName: 'saved_filter',
  columns: { id, productionId: { type: 'uuid', name: 'production_id' }, name: text(), words: text() },
});
