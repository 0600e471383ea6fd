import { placesApart } from '@relay/core/custody/clearing';
import { newRoll, type RollLine } from '@relay/contract/arrivals';
import type { ReportAnswer } from '@relay/contract/clips';
import type { ProductionAnswer, StoreAnswer } from '@relay/contract/site';
import { hashNames, type HashName } from '@relay/core/custody/manifest';
import { z } from 'zod';

/** A roll that is being prepared: what stands in its form. */
export interface ArrivalForm {
  name: string;
  day: string;
  /** Store of the first copy and folder in it. */
  first: string;
  folder: string;
  /** Whether there is a second copy, and its store. */
  second: boolean;
  other: string;
  hash: HashName;
  alsoMd5: boolean;
}

/** What the form takes: names by the rules that the server has for them. */
export const arrivalForm: z.ZodType<ArrivalForm> = z.object({
  name: newRoll.shape.name,
  day: newRoll.shape.day,
  first: z.string(),
  folder: z.string(),
  second: z.boolean(),
  other: z.string(),
  hash: z.enum(hashNames),
  alsoMd5: z.boolean(),
});

/**
 * The day that is proposed: the last roll's, else the last that clips are of. None before it is known which was the
 * last: the first would be taken for it by whoever is quick.
 */
export function proposedDay(
  rolls: readonly RollLine[] | undefined,
  report: ReportAnswer | undefined,
  reportComes: boolean,
): string {
  if (rolls === undefined || (rolls.length === 0 && reportComes)) return '';
  return rolls[0]?.day ?? (report && report.clips > 0 ? report.day : 'day-1');
}

/** Where the copies go: two stores where there are two and both are wanted, the second in a folder of its own. */
export function destinationsOf(
  { first, other, second, folder }: Pick<ArrivalForm, 'first' | 'other' | 'second' | 'folder'>,
  stores: readonly StoreAnswer[],
): { store: string; folder: string }[] {
  const copies = [{ store: first, folder }];
  if (second && stores.length > 1) copies.push({ store: other, folder: `${folder}-copies` });
  return copies;
}

/** Whether so many copies on so many disks, or stores, are what the production asks for before a card may be cleared. */
export function isEnough(
  destinations: readonly { store: string }[],
  rule: ProductionAnswer['copyRule'],
  stores: readonly Pick<StoreAnswer, 'id' | 'disk'>[],
): boolean {
  const places = destinations.map(({ store }) => ({
    store,
    disk: stores.find(({ id }) => id === store)?.disk ?? null,
  }));
  return places.length >= rule.copies && placesApart(rule, places) >= rule.stores;
}
