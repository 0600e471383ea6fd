import { zodResolver } from '@hookform/resolvers/zod';
import type { CardAnswer } from '@relay/contract/arrivals';
import { arrivalRows } from '@relay/contract/routes/arrivals';
import type { ProductionAnswer, StoreAnswer } from '@relay/contract/site';
import { useMutation, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { useForm, useWatch, type FieldErrors, type UseFormRegister } from 'react-hook-form';
import type { z } from 'zod';
import { ask } from '../api/client.ts';
import { cardQuery, productionQuery, reportQuery, rollsQuery, storesQuery } from '../api/queries.ts';
import type { Place } from '../api/places.ts';
import { slug } from '../ui/format.ts';
import { toastProblem } from '../ui/pieces.tsx';
import { arrivalForm, destinationsOf, proposedDay, type ArrivalForm } from './arrivalDraft.ts';

export interface PreparingArrival {
  register: UseFormRegister<ArrivalForm>;
  errors: FieldErrors<ArrivalForm>;
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
  const place = chosen ?? { store: '', folder: '' };
  const { data: card, error: cardError } = useQuery(cardQuery(production, place.store, place.folder));
  const stores = allStores.filter((store) => !store.bay && !store.readOnly);
  const form = useForm<ArrivalForm, unknown, ArrivalForm>({
    defaultValues: { second: true, hash: 'xxh128', alsoMd5: false },
    // What is proposed stands until somebody types something else.
    values: {
      name: card?.proposedName ?? '',
      day: proposedDay(rolls, report, reportComes),
      first: stores[0]?.id ?? '',
      folder: slug(home?.name ?? '', 'originals'),
      second: true,
      other: (stores[1] ?? stores[0])?.id ?? '',
      hash: 'xxh128',
      alsoMd5: false,
    },
    resetOptions: { keepDirtyValues: true },
    resolver: zodResolver<ArrivalForm, unknown, ArrivalForm>(arrivalForm as z.ZodType<ArrivalForm, ArrivalForm>),
    mode: 'onChange',
  });
  const now = useWatch({ control: form.control }) as ArrivalForm;
  const begin = useMutation({
    mutationFn: ({ name, day, hash, alsoMd5, ...copies }: ArrivalForm) =>
      ask(arrivalRows.bringIn, {
        production,
        body: { card: place, day, name, destinations: destinationsOf(copies, stores), hash, alsoMd5 },
      }),
    onSuccess: (roll) => onBegun(roll.id),
    onError: toastProblem,
  });
  const { errors, isValid } = form.formState;
  const begun = form.handleSubmit((said) => begin.mutate(said));
  return {
    register: form.register,
    errors,
    destinations: destinationsOf(now, stores),
    days: [...new Set((rolls ?? []).map((roll) => roll.day))],
    allStores,
    stores,
    place,
    choose,
    card,
    cardError,
    rule: home?.copyRule,
    ready: isValid && card !== undefined && card.files > 0 && !begin.isPending,
    begin: () => void begun(),
  };
}
