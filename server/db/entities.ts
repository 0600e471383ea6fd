import type { ClipDescription, Refusal } from '@relay/core/clip/description';
import type { Proof } from '@relay/core/proof/proof';
import type { LegPlan } from '@relay/core/recipe/legPlan';
import type { Recipe } from '@relay/core/recipe/recipe';
import type { RelinkRow } from '@relay/core/relink/sheet';
import type { Problem } from '@relay/core/result';
import type { LegState } from '@relay/contract/api';
import type { RollAnswer, RollCopy, RollState } from '@relay/contract/arrivals';
import type { CardFile } from '@relay/core/custody/card';
import type { CopyRule } from '@relay/core/custody/clearing';
import type { HashName } from '@relay/core/custody/manifest';
import type { Finding } from '@relay/core/findings/finding';
import type { Decision } from '@relay/core/findings/findings';
import type { Identity } from '@relay/core/identity/identity';
import type { Measured } from '@relay/core/measure/measured';
import type { Rational } from '@relay/core/time/rational';
import { EntitySchema, type EntitySchemaColumnOptions } from 'typeorm';

const id: EntitySchemaColumnOptions = { type: 'uuid', primary: true, generated: 'uuid' };
const now: EntitySchemaColumnOptions = { type: 'timestamptz', createDate: true };
const json = (nullable = false): EntitySchemaColumnOptions => ({ type: 'jsonb', nullable });
const text = (nullable = false): EntitySchemaColumnOptions => ({ type: 'text', nullable });
const time: EntitySchemaColumnOptions = { type: 'timestamptz', nullable: true };
/** Sizes pass two to the 31; they stay exact as numbers up to 9 PB. */
const bytes: EntitySchemaColumnOptions = {
  type: 'bigint',
  default: 0,
  transformer: { to: (value: number) => value, from: (value: string) => Number(value) },
};

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
    copyRule: { ...json(), name: 'copy_rule' },
    createdAt: { ...now, name: 'created_at' },
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
    poster: { type: 'boolean', default: false },
    createdAt: { ...now, name: 'created_at' },
    rollId: { type: 'uuid', name: 'roll_id', nullable: true },
    own: json(true),
    said: json(),
    sidecarSaid: { ...json(), name: 'sidecar_said' },
    sidecars: json(),
    version: { type: 'int', default: 1 },
    measured: json(true),
    lookedAt: { ...time, name: 'looked_at' },
    lookProblem: { ...text(true), name: 'look_problem' },
    findings: json(),
    gravest: { type: 'smallint', default: 3 },
    search: text(),
  },
});

export interface RecipeRow {
  id: string;
  definition: Recipe;
  group: string;
  note: string;
  owner: string;
  version: number;
  changedAt: Date;
  createdAt: Date;
}
export const recipe = new EntitySchema<RecipeRow>({
  name: 'recipe',
  tableName: 'recipe',
  columns: {
    id,
    definition: json(),
    group: { ...text(), name: 'grp' },
    note: text(),
    owner: text(),
    version: { type: 'int', default: 1 },
    changedAt: { ...now, name: 'changed_at' },
    createdAt: { ...now, name: 'created_at' },
  },
});

export interface RunRow {
  id: string;
  productionId: string;
  name: string;
  recipe: Recipe;
  recipeId: string | null;
  recipeVersion: number | null;
  storeId: string;
  folder: string;
  priority: number;
  notBefore: Date | null;
  wantedBy: Date | null;
  createdAt: Date;
}
export const run = new EntitySchema<RunRow>({
  name: 'run',
  tableName: 'run',
  columns: {
    id,
    productionId: { type: 'uuid', name: 'production_id' },
    name: text(),
    recipe: json(),
    recipeId: { type: 'uuid', name: 'recipe_id', nullable: true },
    recipeVersion: { type: 'int', name: 'recipe_version', nullable: true },
    storeId: { ...text(), name: 'store_id' },
    folder: text(),
    priority: { type: 'int', default: 0 },
    notBefore: { ...time, name: 'not_before' },
    wantedBy: { ...time, name: 'wanted_by' },
    createdAt: { ...now, name: 'created_at' },
  },
});

export interface LegRow {
  id: string;
  runId: string;
  clipId: string;
  ordinal: number;
  wave: number;
  /** Put before others by hand: larger goes first. */
  hand: number;
  log: string;
  state: LegState;
  plan: LegPlan | null;
  problem: Problem | null;
  framesDone: number;
  framesTotal: number;
  speed: number | null;
  attempts: number;
  worker: string | null;
  stopWanted: boolean;
  leaseUntil: Date | null;
  queuedAt: Date;
  /** What it needs of a worker, and of its store. */
  codecs: string[];
  bytesLikely: number;
  startedAt: Date | null;
  endedAt: Date | null;
}
export const leg = new EntitySchema<LegRow>({
  name: 'leg',
  tableName: 'leg',
  columns: {
    id,
    runId: { type: 'uuid', name: 'run_id' },
    clipId: { type: 'uuid', name: 'clip_id' },
    ordinal: { type: 'int' },
    wave: { type: 'int', default: 1 },
    hand: { type: 'int', default: 0 },
    log: { ...text(), default: '' },
    state: { ...text(), default: 'waiting' },
    plan: json(true),
    problem: json(true),
    framesDone: { type: 'int', default: 0, name: 'frames_done' },
    framesTotal: { type: 'int', default: 0, name: 'frames_total' },
    speed: { type: 'real', nullable: true },
    attempts: { type: 'int', default: 0 },
    worker: text(true),
    stopWanted: { type: 'boolean', default: false, name: 'stop_wanted' },
    leaseUntil: { ...time, name: 'lease_until' },
    queuedAt: { ...now, name: 'queued_at' },
    codecs: { type: 'text', array: true, default: '{}' },
    bytesLikely: { ...bytes, name: 'bytes_likely' },
    startedAt: { ...time, name: 'started_at' },
    endedAt: { ...time, name: 'ended_at' },
  },
});

export interface OutputRow {
  id: string;
  legId: string;
  deliverable: string;
  role: string;
  path: string;
  state: LegState;
  alreadyThere: boolean;
  sizeBytes: number;
  xxh3: string | null;
  proof: Proof | null;
  problem: Problem | null;
  relink: RelinkRow | null;
  createdAt: Date;
}
export const output = new EntitySchema<OutputRow>({
  name: 'output',
  tableName: 'output',
  columns: {
    id,
    legId: { type: 'uuid', name: 'leg_id' },
    deliverable: text(),
    role: text(),
    path: text(),
    state: text(),
    alreadyThere: { type: 'boolean', default: false, name: 'already_there' },
    sizeBytes: { ...bytes, name: 'size_bytes' },
    xxh3: text(true),
    proof: json(true),
    problem: json(true),
    relink: json(true),
    createdAt: { ...now, name: 'created_at' },
  },
});

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
    state: text(),
    wanted: text(),
    files: { type: 'int', default: 0 },
    filesDone: { type: 'int', default: 0, name: 'files_done' },
    bytes,
    bytesDone: { ...bytes, name: 'bytes_done' },
    result: json(true),
    cardFiles: { ...json(), name: 'card_files' },
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
  readFromDisk: boolean;
  manifest: string | null;
  problem: Problem | null;
  verification: RollCopy['verification'];
  verifiedAt: Date | null;
  verifyWanted: Date | null;
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
    readFromDisk: { type: 'boolean', default: false, name: 'read_from_disk' },
    manifest: text(true),
    problem: json(true),
    verification: json(true),
    verifiedAt: { ...time, name: 'verified_at' },
    verifyWanted: { ...time, name: 'verify_wanted' },
  },
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
    note: text(),
    who: text(),
    at: now,
  },
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
