import type { Chain } from '@relay/core/colour/chain/chain';
import { colourState } from '@relay/core/colour/states';
import { z } from 'zod';

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

export const range = z.enum(['full', 'legal']);

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

/** Where a chain was said: nearest to the clip wins. */
export const ruleScopes = ['clip', 'roll', 'group', 'production'] as const;

export const ruleScope = z.enum(ruleScopes);
export type RuleScope = (typeof ruleScopes)[number];
