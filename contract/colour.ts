import type { Examined } from '@relay/core/colour/examine/examine';
import { z } from 'zod';
import { range, stateName } from './chain.ts';

/** What people say of a LUT in the cabinet. */
export const lutChange = z.strictObject({
  name: z.string().trim().min(1).max(120).optional(),
  tags: z.array(z.string().trim().min(1).max(40)).max(20).optional(),
  takes: stateName.nullable().optional(),
  gives: stateName.nullable().optional(),
  rangeIn: range.optional(),
  rangeOut: range.optional(),
});

export const lutFromStore = z.strictObject({ store: z.string().min(1).max(80), path: z.string().min(1).max(4000) });

/** One line of the cabinet: the newest version of a LUT or CDL, by its name. */
export interface LutLine {
  /** SHA-256 of its bytes. */
  hash: string;
  name: string;
  fileName: string;
  format: 'cube' | 'clf' | 'cdl';
  sizeBytes: number;
  says: string;
  sound: boolean;
  /** Findings that ask for a decision, and those to know. */
  toDecide: number;
  notes: number;
  tags: string[];
  takes: string | null;
  gives: string | null;
  rangeIn: 'full' | 'legal';
  rangeOut: 'full' | 'legal';
  createdAt: string;
  /** Older versions of the same name. */
  older: number;
  /** Chains in use that name any of its versions. */
  usedBy: number;
}

export interface LutAnswer extends LutLine {
  examined: Examined;
  versions: { hash: string; fileName: string; createdAt: string }[];
  /** Where it is used: rules of chains now, and runs that were made with it. */
  used: { production: string; where: string }[];
  runs: { id: string; production: string; name: string }[];
}
