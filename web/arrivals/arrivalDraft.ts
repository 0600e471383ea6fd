import { placesApart } from '@relay/core/custody/clearing';
import type { CardAnswer, RollLine } from '@relay/contract/arrivals';
import type { ReportAnswer } from '@relay/contract/clips';
import type { ProductionAnswer, StoreAnswer } from '@relay/contract/site';
import type { HashName } from '@relay/core/custody/manifest';
import { rollNameProblem } from '@relay/core/custody/rollName';

/** A roll that is being prepared, as far as its form is filled in; null where what is proposed still stands. */
export interface ArrivalDraft {
  name: string | null;
  day: string | null;
  /** Stores of the first and the second copy. */
  targets: readonly (string | null)[];
  second: boolean;
  folder: string | null;
  alsoMd5: boolean;
  hash: HashName;
}

export const emptyDraft: ArrivalDraft = {
  name: null,
  day: null,
  targets: [null, null],
  second: true,
  folder: null,
  alsoMd5: false,
  hash: 'xxh128',
};

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
  { targets, second }: ArrivalDraft,
  stores: readonly StoreAnswer[],
  below: string,
): { store: string; folder: string }[] {
  const count = second && stores.length > 1 ? 2 : 1;
  return Array.from({ length: count }, (_, index) => ({
    store: targets[index] ?? stores[index]?.id ?? stores[0]?.id ?? '',
    folder: index === 0 ? below : `${below}-copies`,
  }));
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

/** What is wrong with a roll's name; null where nothing is, or it is not typed yet. */
export function nameProblemOf(name: string): string | null {
  return name === '' ? null : rollNameProblem(name);
}

export function canBegin(card: CardAnswer | undefined, name: string, day: string): boolean {
  return card !== undefined && card.files > 0 && name !== '' && nameProblemOf(name) === null && day.trim() !== '';
}
