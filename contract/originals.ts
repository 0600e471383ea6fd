import { z } from 'zod';
import { storeFolder } from './arrivals.ts';
import { problem } from './description.ts';

/** Camera originals: where they lie, and how those are found again that were moved. */

/** Originals that were read together: a roll's, of one folder of a store. */
export const originalsPlace = z.strictObject({ ...storeFolder, roll: z.string().max(500) });
export type OriginalsPlace = z.infer<typeof originalsPlace>;

export const originalsLine = originalsPlace.extend({
  storeName: z.string(),
  /** The store itself is there. */
  storeThere: z.boolean(),
  files: z.number(),
  bytes: z.number(),
  /** Files of it that are not where they were. */
  gone: z.number(),
});
export type OriginalsLine = z.infer<typeof originalsLine>;

export const originalsSearch = z.strictObject({
  lookedFor: z.array(originalsPlace).min(1).max(5_000),
  at: z.strictObject(storeFolder),
});
export type OriginalsSearch = z.infer<typeof originalsSearch>;

export const searchState = z.enum(['waiting', 'looking', 'found', 'failed', 'taken', 'undone']);
export type SearchState = z.infer<typeof searchState>;

const pathAndWhy = z.strictObject({ path: z.string(), why: z.string() });

/** What was found of one roll. */
export const foundRoll = originalsPlace.extend({
  files: z.number(),
  /** By what they were known: by samples of their content, by a manifest, by name and size alone. */
  samples: z.number(),
  manifest: z.number(),
  size: z.number(),
  /** Folders that they lie below now. */
  roots: z.array(z.string()),
  /** Lie where they did: nothing is to be taken over of these. */
  same: z.number(),
  misfits: z.array(pathAndWhy),
  misfitCount: z.number(),
});
export type FoundRoll = z.infer<typeof foundRoll>;

/** A search in the list. */
export const searchLine = z.strictObject({
  id: z.string(),
  store: z.string(),
  storeName: z.string(),
  folder: z.string(),
  state: searchState,
  total: z.number(),
  done: z.number(),
  problem: problem.nullable(),
  who: z.string(),
  createdAt: z.string(),
  /** Files that were taken over. */
  taken: z.number(),
});
export type SearchLine = z.infer<typeof searchLine>;

export const searchAnswer = searchLine.extend({ rolls: z.array(foundRoll) });
export type SearchAnswer = z.infer<typeof searchAnswer>;

export const originalsAnswer = z.strictObject({ places: z.array(originalsLine), searches: z.array(searchLine) });
export type OriginalsAnswer = z.infer<typeof originalsAnswer>;

/** What is taken over: those that are known by name and size alone, only where somebody says so. */
export const takeOver = z.strictObject({ bySize: z.boolean() });
