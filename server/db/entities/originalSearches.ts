import type { OriginalsPlace, SearchState } from '@relay/contract/originals';
import type { SameBy } from '@relay/core/relink/moved';
import type { Problem } from '@relay/core/result';
import { EntitySchema } from 'typeorm';
import { id, json, jsonText, now, text, time } from './columns.ts';

/** What was found of one known file. */
export interface FoundFileRow {
  clip: string;
  /** Below its roll's place, as it is known. */
  path: string;
  /** Which of those that were looked for it belongs to. */
  place: number;
  /** The folder of the store that it lies below now; null where it was not found. */
  root: string | null;
  by: SameBy | null;
  /** Why it is not taken for it. */
  why: string;
  modifiedAt: string | null;
  sampled: string | null;
}

/** How everything stood before a search's findings were taken over. */
export interface BeforeTaken {
  clips: { id: string; store: string; root: string; modifiedAt: string | null }[];
  copies: { id: string; store: string; folder: string }[];
  readings: { id: string; store: string; folder: string }[];
}

/** A search for originals that moved, and whether what it found was taken over. */
export interface OriginalSearchRow {
  id: string;
  productionId: string;
  lookedFor: OriginalsPlace[];
  storeId: string;
  folder: string;
  state: SearchState;
  total: number;
  done: number;
  problem: Problem | null;
  found: FoundFileRow[] | null;
  before: BeforeTaken | null;
  who: string;
  beatAt: Date | null;
  createdAt: Date;
  takenAt: Date | null;
  undoneAt: Date | null;
}

export const originalSearch = new EntitySchema<OriginalSearchRow>({
  name: 'originalSearch',
  tableName: 'original_search',
  columns: {
    id,
    productionId: { type: 'uuid', name: 'production_id' },
    lookedFor: { ...json(), name: 'looked_for' },
    storeId: { ...text(), name: 'store_id' },
    folder: text(),
    state: { ...text(), default: 'waiting' },
    total: { type: 'int', default: 0 },
    done: { type: 'int', default: 0 },
    problem: json(true),
    found: jsonText(true),
    before: jsonText(true),
    who: text(),
    beatAt: { ...time, name: 'beat_at' },
    createdAt: { ...now, name: 'created_at' },
    takenAt: { ...time, name: 'taken_at' },
    undoneAt: { ...time, name: 'undone_at' },
  },
});
