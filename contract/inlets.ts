import { receiptForms } from '@relay/core/inlet/receipt';
import { parsePattern } from '@relay/core/identity/pattern';
import { z } from 'zod';
import { storeFolder } from './arrivals.ts';
import { chain } from './chain.ts';
import { aspect } from './corrections.ts';
import { problem } from './description.ts';
import { timeOfDay } from './site.ts';
import { legState } from './states.ts';

/** Inlets: watched places whose arrivals are made by themselves, and what became of them. */

const place = z.strictObject(storeFolder);

/** Where an inlet's originals come from: what arrives in folders, or every roll that is proved. */
const inletSource = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('folders'), folders: z.array(place).min(1, 'choose a folder').max(8) }),
  z.strictObject({ kind: z.literal('rolls') }),
]);

/** A recipe, and where it goes from here. */
const inletRecipe = z.strictObject({
  recipe: z.uuid('choose a recipe'),
  ...storeFolder,
  places: z.record(z.string().max(200), place).optional(),
});

/** When what was taken up may begin. */
const inletBegin = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('at once') }),
  z.strictObject({ kind: z.literal('after quiet hours') }),
  z.strictObject({ kind: z.literal('at'), time: timeOfDay }),
]);

const reelPattern = z
  .string()
  .trim()
  .max(200)
  .superRefine((text, context) => {
    const read = parsePattern(text);
    if (!read.ok) context.addIssue({ code: 'custom', message: `${read.problem.what}. ${read.problem.remedy}` });
  });

export const inletDefinition = z.strictObject({
  name: z.string().trim().min(1, 'give it a name').max(80),
  source: inletSource,
  recipes: z.array(inletRecipe).min(1, 'choose a recipe').max(4),
  /** What is said of clips that arrive, where nobody has said anything else. */
  before: z.strictObject({
    colour: chain.nullable(),
    squeeze: aspect.nullable(),
    reel: reelPattern.nullable(),
  }),
  begin: inletBegin,
  priority: z.number().int().min(-5).max(5),
  /** Seconds for which nothing of it must change. */
  quietSeconds: z.number().min(1).max(86_400),
  /** The ending of files that say of others that they are whole. */
  partner: z
    .strictObject({
      ending: z.string().regex(/^\.?[\p{L}\p{N}_-]{1,20}$/u, 'an ending such as done'),
      needed: z.boolean(),
    })
    .nullable(),
  /** What needs a decision waits for a person, or goes on as it is; rules may have it otherwise. */
  decide: z.enum(['wait', 'go on']),
  decideRules: z.record(z.string().max(60), z.enum(['wait', 'go on'])),
  /** What becomes of originals in its folders once they were dealt with, and what is laid beside them. */
  after: z.strictObject({ originals: z.enum(['stay', 'move']), receipts: z.array(z.enum(receiptForms)).max(2) }),
  /** Whether results of Brisk Relay are taken up like anything else. */
  takesResults: z.boolean(),
});
export type InletDefinition = z.infer<typeof inletDefinition>;

/** What of an inlet is seldom said: it begins at once, waits for nobody, and leaves originals where they are. */
export const usualInlet = {
  before: { colour: null, squeeze: null, reel: null },
  begin: { kind: 'at once' },
  priority: 0,
  quietSeconds: 15,
  partner: null,
  decide: 'go on',
  decideRules: {},
  after: { originals: 'stay', receipts: [] },
  takesResults: false,
} satisfies Partial<InletDefinition>;

export const inletChange = z.strictObject({
  /** The version that its editor knew. */
  seen: z.number().int(),
  definition: inletDefinition,
});

export const inletPause = z.strictObject({ paused: z.boolean() });

/** Something that waits in an inlet, as its keeper saw it last. */
export const inletWaiting = z.strictObject({
  thing: z.string(),
  files: z.number(),
  why: z.string(),
  /** Until it is taken up, if nothing more happens; null where time alone does not help. */
  seconds: z.number().nullable(),
});
export type InletWaiting = z.infer<typeof inletWaiting>;

/** What its keeper says of an inlet. */
export const inletNow = z.strictObject({
  /** Why nothing is taken up; null where it is. */
  problem: problem.nullable(),
  /** Things that wait, and the first of them. */
  waiting: z.number(),
  first: z.array(inletWaiting),
  /** Links and the like, which are passed over. */
  passed: z.array(z.strictObject({ path: z.string(), why: z.string() })),
});
export const nothingNow: InletNow = { problem: null, waiting: 0, first: [], passed: [] };
export type InletNow = z.infer<typeof inletNow>;

export const inletLine = z.strictObject({
  id: z.string(),
  version: z.number(),
  definition: inletDefinition,
  paused: z.boolean(),
  owner: z.string(),
  createdAt: z.string(),
  now: inletNow,
  /** When its keeper looked last; null before it did. */
  lookedAt: z.string().nullable(),
  /** Legs of it that wait or are under way. */
  underWay: z.number(),
  /** Clips that were made since midnight, by the server's clock. */
  madeToday: z.number(),
  /** Things of which something was left or failed, or waits for a decision. */
  left: z.number(),
});
export type InletLine = z.infer<typeof inletLine>;

/** What became of something that was taken up. */
export const inletThing = z.strictObject({
  id: z.string(),
  key: z.string(),
  files: z.number(),
  bytes: z.number(),
  takenAt: z.string(),
  clips: z.number(),
  /** Legs of its clips, by their states. */
  legs: z.partialRecord(legState, z.number()),
  runs: z.array(z.strictObject({ id: z.string(), name: z.string() })),
  /** Files that were taken up before, or are results. */
  known: z.number(),
  /** Clips that wait for a decision, and of what. */
  waits: z.array(problem.extend({ clip: z.string(), path: z.string() })),
  /** How it ended, where it did, and when; and the folder of its inlet that it was moved to, if it was. */
  ended: z
    .strictObject({ end: z.enum(['made', 'needs eyes', 'left', 'stopped']), at: z.string(), lies: z.string() })
    .nullable(),
  /** Why its originals were not moved although they should be, or no receipt was laid; null where all went well. */
  trouble: z.string().nullable(),
  /** What was left, and why. */
  left: z.array(problem.extend({ path: z.string() })),
});
export type InletThing = z.infer<typeof inletThing>;

export const inletAnswer = inletLine.extend({
  things: z.array(inletThing),
  /** Whether a painted card can be dropped into it, to see it work. */
  demo: z.boolean(),
});
export type InletAnswer = z.infer<typeof inletAnswer>;
