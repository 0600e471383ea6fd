import type { Examined } from '@relay/core/colour/examine/examine';
import { range, stateName } from './chain.ts';
import { coreType } from './coreType.ts';
import { z } from 'zod';

/** What people say of a LUT in the cabinet. */
export const lutChange = z.strictObject({
  name: z.string().trim().min(1).max(120).optional(),
  tags: z.array(z.string().trim().min(1).max(40)).max(20).optional(),
  takes: stateName.nullable().optional(),
  gives: stateName.nullable().optional(),
  rangeIn: range.optional(),
  rangeOut: range.optional(),
});

export type LutChange = z.input<typeof lutChange>;
export const lutFromStore = z.strictObject({ store: z.string().min(1).max(80), path: z.string().min(1).max(4000) });

/** Bytes of a LUT file that are taken in: a cube of 65 points is 8 MB. */
export const largestLutBytes = 64_000_000;

/** One line of the cabinet: the newest version of a LUT or CDL, by its name. */
export const lutLine = z.strictObject({
  /** SHA-256 of its bytes. */
  hash: z.string(),
  name: z.string(),
  fileName: z.string(),
  format: z.enum(['cube', 'clf', 'cdl']),
  sizeBytes: z.number(),
  says: z.string(),
  sound: z.boolean(),
  /** Findings that ask for a decision, and those to know. */
  toDecide: z.number(),
  notes: z.number(),
  tags: z.array(z.string()),
  takes: z.string().nullable(),
  gives: z.string().nullable(),
  rangeIn: z.enum(['full', 'legal']),
  rangeOut: z.enum(['full', 'legal']),
  createdAt: z.string(),
  /** Older versions of the same name. */
  older: z.number(),
  /** Chains in use that name any of its versions. */
  usedBy: z.number(),
});
export type LutLine = z.infer<typeof lutLine>;

export const lutAnswer = lutLine.extend({
  examined: coreType<Examined>(),
  versions: z.array(z.strictObject({ hash: z.string(), fileName: z.string(), createdAt: z.string() })),
  /** Where it is used: rules of chains now, and runs that were made with it. */
  used: z.array(z.strictObject({ production: z.string(), where: z.string() })),
  runs: z.array(z.strictObject({ id: z.string(), production: z.string(), name: z.string() })),
});
export type LutAnswer = z.infer<typeof lutAnswer>;
