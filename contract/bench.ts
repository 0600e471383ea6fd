import type { Chain } from '@relay/core/colour/chain/chain';
import type { ClipDescription } from '@relay/core/clip/description';
import type { Measured } from '@relay/core/measure/measured';
import { z } from 'zod';
import { chain, type RuleScope } from './chain.ts';
import type { HeldCorrections } from './corrections.ts';
import { clipIdList } from './ids.ts';

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
