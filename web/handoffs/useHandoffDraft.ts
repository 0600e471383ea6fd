import { zodResolver } from '@hookform/resolvers/zod';
import { handoffOrder, type HandoffCheck, type HandoffChoices, type HandoffOrder } from '@relay/contract/handoffs';
import { handoffRows } from '@relay/contract/routes/handoffs';
import type { StoreAnswer } from '@relay/contract/site';
import { memberSystems } from '@relay/core/naming/systemPath';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect, useRef } from 'react';
import { useForm, useWatch, type UseFormReturn } from 'react-hook-form';
import type { z } from 'zod';
import { ask } from '../api/client.ts';
import { handoffCheckQuery, handoffChoicesQuery, storesQuery } from '../api/queries.ts';
import { toastProblem } from '../ui/pieces.tsx';
import { useSettled } from '../ui/useSettled.ts';
import { following, forNobody, proposedFor } from './receiver.ts';

export interface PreparingHandoff {
  form: UseFormReturn<HandoffOrder, unknown, HandoffOrder>;
  draft: HandoffOrder;
  choices: HandoffChoices | undefined;
  choicesError: Error | null;
  /** Stores that it may go to. */
  stores: StoreAnswer[];
  check: HandoffCheck | undefined;
  checkError: Error | null;
  /** Takes a receiver by name; what follows from that is proposed. */
  receive: (name: string) => void;
  choose: (change: Partial<HandoffOrder['choice']>) => void;
  ready: boolean;
  begin: () => void;
}

/** What stands in the form before anybody says something: everything, to the last store that may be written to. */
export function proposedHandoff(stores: readonly StoreAnswer[], runs: readonly string[]): HandoffOrder {
  return {
    name: '',
    receiver: '',
    fileSystem: forNobody.fileSystem,
    roots: forNobody.roots,
    choice: {
      runs: [...runs],
      roles: [],
      deliverables: [],
      rolls: [],
      days: [],
      circled: false,
      filter: '',
      cut: null,
      originals: false,
    },
    to: { store: stores.at(-1)?.id ?? '', folder: '' },
  };
}

/** A hand-off before it is made: the form's state, what it would come to, and how it is begun. */
export function useHandoffDraft(
  production: string,
  runs: readonly string[],
  onBegun: (id: string) => void,
): PreparingHandoff {
  const client = useQueryClient();
  const { data: all = [] } = useQuery(storesQuery);
  const stores = all.filter((store) => !store.bay && !store.readOnly);
  const { data: choices, error: choicesError } = useQuery(handoffChoicesQuery(production));
  const form = useForm<HandoffOrder, unknown, HandoffOrder>({
    values: proposedHandoff(stores, runs),
    resetOptions: { keepDirtyValues: true },
    resolver: zodResolver<HandoffOrder, unknown, HandoffOrder>(handoffOrder as z.ZodType<HandoffOrder, HandoffOrder>),
    mode: 'onChange',
  });
  const draft = useWatch({ control: form.control }) as HandoffOrder;
  const { receiver, fileSystem, choice, to } = draft;
  const wish = useSettled({ receiver: receiver.trim(), fileSystem, choice, to: to.store === '' ? null : to });
  const { data: check, error: checkError } = useQuery(handoffCheckQuery(production, wish));
  const set = (name: Parameters<typeof form.setValue>[0], value: never): void =>
    form.setValue(name, value, { shouldDirty: true, shouldValidate: true });
  // Who was handed what may become known after a name was typed.
  const proposed = useRef(forNobody);
  const receivers = choices?.receivers;
  useEffect(() => {
    const { name, roots, fileSystem: system, to: place } = form.getValues();
    const now = proposedFor(receiver, receivers);
    const next = following({ name, roots, fileSystem: system, folder: place.folder }, proposed.current, now);
    proposed.current = now;
    const put = (field: Parameters<typeof form.setValue>[0], value: string | null): void => {
      if ((form.getValues(field) ?? '') !== (value ?? ''))
        form.setValue(field, value, { shouldDirty: true, shouldValidate: true });
    };
    put('name', next.name);
    put('to.folder', next.folder);
    put('fileSystem', next.fileSystem);
    for (const one of memberSystems) put(`roots.${one}`, next.roots[one] ?? '');
  }, [form, receiver, receivers]);
  const order = useMutation({
    mutationFn: (body: HandoffOrder) => ask(handoffRows.order, { production, body }),
    onSuccess: async ({ id }) => {
      await client.invalidateQueries({ queryKey: ['handoffs'] });
      onBegun(id);
    },
    onError: toastProblem,
  });
  return {
    form,
    draft,
    choices,
    choicesError,
    stores,
    check,
    checkError,
    receive: (name) => set('receiver', name as never),
    choose: (change) => set('choice', { ...choice, ...change } as never),
    ready:
      form.formState.isValid &&
      // Until it is known who holds what, the name that is proposed may be another hand-off's.
      (choices !== undefined || choicesError !== null) &&
      !order.isPending &&
      (check?.files ?? 0) > 0 &&
      check?.place === null &&
      !checkError,
    begin: () => void form.handleSubmit((body) => order.mutate(body))(),
  };
}
