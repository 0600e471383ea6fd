import type { LegPlan } from '@relay/core/recipe/legPlan';
import type { Source } from '@relay/media/process/joined';
import { fileFacts, type FileFacts } from '../disk/place.ts';
import type { Held } from '../disk/held.ts';
import type { LegColour } from './colour.ts';
import type { LegSurroundings } from './outcome.ts';

/** A leg whose original's files and folders are held open, and whose chains are baked. */
export interface LegOpened {
  plan: LegPlan;
  source: Source;
  colour: LegColour;
  at: LegSurroundings;
  held: Held;
  /** The original's files as they were when the leg began. */
  before: FileFacts;
}

/** The same, as it is carried out. */
export interface LegUnderWay extends LegOpened {
  /** XXH3 of the original, which is read meanwhile; null where it could not be read to its end. */
  hashing: Promise<string | null>;
}

/** Size of all files together, and their times; null when one is not there. */
export async function originalFacts(paths: readonly string[]): Promise<FileFacts | null> {
  const facts = await Promise.all(paths.map(fileFacts));
  if (facts.some((one) => one === null)) return null;
  return {
    sizeBytes: facts.reduce((sum, one) => sum + (one?.sizeBytes ?? 0), 0),
    modifiedAt: facts.map((one) => one?.modifiedAt ?? '').join(' '),
  };
}

/** Whether the original is another than it was when it was described, or when the leg began. */
export async function hasChanged({ plan, source, before }: LegUnderWay): Promise<boolean> {
  const after = await originalFacts(source.paths);
  return after?.sizeBytes !== plan.original.sizeBytes || after.modifiedAt !== before.modifiedAt;
}
