import type { RateAsked } from '@relay/core/cut/rate';
import { readCut } from '@relay/core/cut/read';
import { readChain } from '@relay/core/custody/chain';
import { readMhl } from '@relay/core/custody/mhl';
import { readSums } from '@relay/core/custody/sums';
import { readRelinkSheet } from '@relay/core/relink/readSheet';
import { readXml } from '@relay/core/text/tree';
import {
  bakeChain,
  proveColour,
  seenByChain,
  type BakeOrder,
  type ColourProofOrder,
  type SeenOrder,
} from './bakeChain.ts';

/**
 * What is done aside, in a thread of its own, because it reads what strangers made or takes long: parsing manifests,
 * sidecars and edit lists, baking and proving. Each is a pure function of its input; inputs and answers are copied.
 */

/** A sidecar larger than this holds more than facts. */
const sidecarLimits = { bytes: 2_000_000, nodes: 40_000, depth: 40, lenient: true } as const;

export const tasks = {
  mhl: ({ text, generation }: { text: string; generation: number }) => readMhl(text, generation),
  chain: (text: string) => readChain(text),
  sums: ({ text, name }: { text: string; name: string }) => readSums(text, name),
  sidecar: (text: string) => readXml(text, sidecarLimits),
  cut: ({ text, asked }: { text: string; asked: RateAsked }) => readCut(text, asked),
  relinkSheet: (text: string) => readRelinkSheet(text),
  bake: (order: BakeOrder) => bakeChain(order),
  proveColour: (order: ColourProofOrder) => proveColour(order),
  seenByChain: (order: SeenOrder) => seenByChain(order),
} as const;

export type Tasks = typeof tasks;
export type TaskName = keyof Tasks;

/** Seconds that each may take; longer ones are ended, with their thread. */
export const patience: Readonly<Record<TaskName, number>> = {
  mhl: 30,
  chain: 10,
  sums: 30,
  sidecar: 5,
  cut: 60,
  relinkSheet: 60,
  bake: 120,
  proveColour: 120,
  seenByChain: 120,
};
