import type { CardAnswer } from '@relay/contract/arrivals';
import { arrivalRows } from '@relay/contract/routes/arrivals';
import type { ProductionAnswer, StoreAnswer } from '@relay/contract/site';
import { useMutation, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { ask } from '../api/client.ts';
import { cardQuery, productionQuery, reportQuery, rollsQuery, storesQuery } from '../api/queries.ts';
import type { Place } from '../api/places.ts';
import { slug } from '../ui/format.ts';
import { toastProblem } from '../ui/pieces.tsx';
import { canBegin, destinationsOf, emptyDraft, proposedDay, type ArrivalDraft } from './arrivalDraft.ts';

export interface PreparingArrival {
  draft: ArrivalDraft;
  change: (part: Partial<ArrivalDraft>) => void;
  /** What stands in the form: said, or else proposed. */
  name: string;
  day: string;
  below: string;
  destinations: { store: string; folder: string }[];
  /** Days of the rolls there are. */
  days: string[];
  /** All stores, and those that copies may go to. */
  allStores: StoreAnswer[];
  stores: StoreAnswer[];
  place: Place;
  choose: (place: Place) => void;
  card: CardAnswer | undefined;
  cardError: Error | null;
  rule: ProductionAnswer['copyRule'] | undefined;
  ready: boolean;
  begin: () => void;
}

/** Everything about a card before it comes in: the form's state, what lies on the card, and how it is begun. */
export function useArrivalDraft(
  production: string,
  given: Place | null,
  onBegun: (roll: string) => void,
): PreparingArrival {
  const { data: allStores = [] } = useQuery(storesQuery);
  const { data: home } = useQuery(productionQuery(production));
  const { data: rolls } = useQuery(rollsQuery(production));
  const { data: report, isPending: reportComes } = useQuery(reportQuery(production, null));
  const [chosen, choose] = useState<Place | null>(given);
  const [draft, setDraft] = useState(emptyDraft);
  const place = chosen ?? { store: '', folder: '' };
  const { data: card, error: cardError } = useQuery(cardQuery(production, place.store, place.folder));
  const stores = allStores.filter((store) => !store.bay && !store.readOnly);
  const name = draft.name ?? card?.proposedName ?? '';
  const day = draft.day ?? proposedDay(rolls, report, reportComes);
  const below = draft.folder ?? slug(home?.name ?? '', 'originals');
  const destinations = destinationsOf(draft, stores, below);
  const { hash, alsoMd5 } = draft;
  const begin = useMutation({
    mutationFn: () =>
      ask(arrivalRows.bringIn, { production, body: { card: place, day, name, destinations, hash, alsoMd5 } }),
    onSuccess: (roll) => onBegun(roll.id),
    onError: toastProblem,
  });
  return {
    draft,
    change: (part) => setDraft((before) => ({ ...before, ...part })),
    name,
    day,
    below,
    destinations,
    days: [...new Set((rolls ?? []).map((roll) => roll.day))],
    allStores,
    stores,
    place,
    choose,
    card,
    cardError,
    rule: home?.copyRule,
    ready: canBegin(card, name, day) && !begin.isPending,
    begin: () => begin.mutate(),
  };
}
