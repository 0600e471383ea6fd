import type { Chain } from '@relay/core/colour/chain/chain';
import { colourState } from '@relay/core/colour/states';
import type { ClipDescription } from '@relay/core/clip/description';
import type { Examined } from '@relay/core/colour/examine/examine';
import type { Measured } from '@relay/core/measure/measured';
import { z } from 'zod';
import { clipIdList } from './ids.ts';
import type { HeldCorrections } from './corrections.ts';

/** A colour state that core knows. */
export const stateName = z
  .string()
  .max(80)
  .transform((name) => name.trim().toLowerCase())
  .superRefine((name, context) => {
    const state = colourState(name);
    if (!state.ok) context.addIssue({ code: 'custom', message: state.problem.what });
  });

const finite = z.number().min(-1e4).max(1e4);
const three = z.tuple([finite, finite, finite]);
const common = { id: z.string().min(1).max(80), name: z.string().min(1).max(200), muted: z.boolean().default(false) };
const range = z.enum(['full', 'legal']);

/** ASC CDL numbers, within what the standard allows. */
export const cdl = z.strictObject({
  slope: three.refine((all) => all.every((x) => x >= 0), 'slope may not be below 0'),
  offset: three,
  power: three.refine((all) => all.every((x) => x > 0), 'power must be above 0'),
  saturation: finite.min(0),
});

/** SHA-256 of a LUT's bytes; in a corrections file a path beside it, which the command line turns into one. */
const lutKey = z.string().min(1).max(1000);

export const chain: z.ZodType<Chain> = z.strictObject({
  input: stateName.nullable().default(null),
  inputRange: range.default('full'),
  steps: z
    .array(
      z.discriminatedUnion('kind', [
        z.strictObject({ ...common, kind: z.literal('cdl'), cdl, worksIn: stateName.nullable().default(null) }),
        z.strictObject({
          ...common,
          kind: z.literal('lut'),
          lut: lutKey,
          takes: stateName.nullable().default(null),
          gives: stateName.nullable().default(null),
          rangeIn: range.default('full'),
          rangeOut: range.default('full'),
        }),
      ]),
    )
    .max(30)
    .default([]),
  output: stateName.nullable().default(null),
  rendering: z.enum(['estuary']).nullable().default(null),
});

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

/** Where a chain was said: nearest to the clip wins. */
export const ruleScopes = ['clip', 'roll', 'group', 'production'] as const;
export type RuleScope = (typeof ruleScopes)[number];
/** What the bench works on. */
export interface BenchAnswer {
  clip: string;
  stem: string;
  roll: string;
  description: ClipDescription;
  /** What a closer look showed, if there was one. */
  measured: Measured | null;
  /** The corrections of every kind that hold for it, each with the rule that it comes from. */
  held: HeldCorrections;
  chain: Chain | null;
  /** The rule that the chain comes from; null where no rule fits. */
  from: { scope: RuleScope; who: string; at: string } | null;
  group: { key: string; text: string; clips: number };
  rollClips: number;
  productionClips: number;
  /** Neighbours in the sheet's order, to step through. */
  previous: string | null;
  next: string | null;
  position: number;
  of: number;
}
export const colourRequest = z.strictObject({
  to: z.discriminatedUnion('scope', [
    z.strictObject({ scope: z.literal('clip'), clips: clipIdList(1) }),
    z.strictObject({ scope: z.literal('roll'), key: z.string().max(200) }),
    z.strictObject({ scope: z.literal('group'), key: z.string().max(400) }),
    z.strictObject({ scope: z.literal('production') }),
  ]),
  /** Null says that there is none, on purpose. */
  chain: chain.nullable(),
});
/** A clip and its chain, for the contact sheet. */
export interface ChainedClip {
  id: string;
  stem: string;
  frames: number;
  /** Width of a sample over its height. */
  pixelAspect: number;
  chain: Chain | null;
  scope: RuleScope | null;
}
/** One group on the way to the bench. */
export interface BenchGroup {
  key: string;
  text: string;
  clips: number;
  /** Clips of it that have a chain, and that look like log and have none. */
  chained: number;
  logWithout: number;
  first: string;
  says: string | null;
}
