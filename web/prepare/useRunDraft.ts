import { zodResolver } from '@hookform/resolvers/zod';
import { recipeRows } from '@relay/contract/routes/recipes';
import { runRows } from '@relay/contract/routes/runs';
import type { RecipeAnswer } from '@relay/contract/recipes';
import type { PullWish, RunCheck } from '@relay/contract/runs';
import type { StoreAnswer } from '@relay/contract/site';
import type { OutputPlace, Recipe } from '@relay/core/recipe/recipe';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useForm, useWatch, type UseFormReturn } from 'react-hook-form';
import { useNavigate } from 'react-router';
import type { z } from 'zod';
import { ask } from '../api/client.ts';
import { lastChoiceQuery, readingsQuery, storesQuery } from '../api/queries.ts';
import { slug } from '../ui/format.ts';
import { toastProblem } from '../ui/pieces.tsx';
import { useSettled } from '../ui/useSettled.ts';
import { nextAt } from './hours.ts';
import { canStart, closerBy, placesProposed, proposedRun, runForm, type RunDraft } from './runDraft.ts';

export interface Preparing {
  form: UseFormReturn<RunDraft, unknown, RunDraft>;
  draft: RunDraft;
  /** The recipe that is chosen. */
  recipe: RecipeAnswer | undefined;
  chooseRecipe: (id: string) => void;
  /** Stores that outputs may go to. */
  stores: StoreAnswer[];
  /** Folders that originals were read from. */
  originals: readonly OutputPlace[];
  facts: RunCheck | undefined;
  checkError: Error | null;
  sampling: { of: { sampled: number; of: number } | null; error: Error | null; busy: boolean; begin: () => void };
  ready: boolean;
  start: () => void;
  /** Changes the recipe as the check proposes. */
  mend: { busy: boolean; by: (definition: Recipe) => void };
}

interface WhatIsRun {
  production: { id: string; name: string; runs: number };
  clips: readonly string[];
  /** Only what a cut needs of the clips. */
  pull?: PullWish | undefined;
  /** What the run is called, and where it goes, unless somebody says otherwise. */
  named?: { name: string; folder: string };
  recipes: readonly RecipeAnswer[];
}

/** The form of a run: what is proposed stands until somebody says something else. */
function useRunForm({ production, recipes, named }: WhatIsRun, stores: readonly StoreAnswer[]) {
  const { data: last = null } = useQuery(lastChoiceQuery(production.id));
  const folder = slug(production.name, 'outputs');
  const form = useForm<RunDraft, unknown, RunDraft>({
    values: { ...proposedRun({ production, recipes, stores, last, folder }), ...named },
    resetOptions: { keepDirtyValues: true },
    resolver: zodResolver<RunDraft, unknown, RunDraft>(runForm as z.ZodType<RunDraft, RunDraft>),
    mode: 'onChange',
  });
  const draft = useWatch({ control: form.control }) as RunDraft;
  const chooseRecipe = (id: string): void => {
    form.setValue('recipe', id, { shouldDirty: true, shouldValidate: true });
    const recipe = recipes.find((one) => one.id === id);
    form.setValue('places', placesProposed(recipe, last), { shouldDirty: true });
  };
  return { form, draft, chooseRecipe };
}

/** Everything about a run before it starts: the form's state, what the server says of it, and how it is begun. */
export function useRunDraft(wanted: WhatIsRun): Preparing {
  const { production, clips, recipes, pull } = wanted;
  const go = useNavigate();
  const client = useQueryClient();
  const { data: allStores = [] } = useQuery(storesQuery);
  const { data: originals = [] } = useQuery(readingsQuery(production.id));
  const stores = allStores.filter((one) => !one.bay && !one.readOnly);
  const { form, draft, chooseRecipe } = useRunForm(wanted, stores);
  const { isValid } = form.formState;
  const recipe = recipes.find((one) => one.id === draft.recipe);
  const choice = { clips, recipe: draft.recipe, store: draft.store, folder: draft.folder, places: draft.places, pull };
  const asked = useSettled(JSON.stringify(choice));
  const settled = JSON.parse(asked) as typeof choice;
  const isChecked = asked === JSON.stringify(choice);
  const check = useQuery({
    queryKey: ['run-check', production.id, asked],
    queryFn: ({ signal }) => ask(runRows.check, { production: production.id, body: settled, signal }),
    enabled: settled.store !== '' && recipe !== undefined && clips.length > 0,
    gcTime: 0,
  });
  const sampled = useQuery({
    queryKey: ['run-forecast', production.id, choice],
    enabled: false,
    gcTime: 0,
    retry: false,
    queryFn: ({ signal }) => ask(runRows.forecast, { production: production.id, body: choice, signal }),
  });
  const start = useMutation({
    mutationFn: (said: RunDraft) =>
      ask(runRows.begin, { production: production.id, body: { ...orderOf(said, clips), pull } }),
    onSuccess: (run) => {
      void client.invalidateQueries({ queryKey: lastChoiceQuery(production.id).queryKey });
      void go(`/p/${production.id}/runs/${run.id}`);
    },
    onError: toastProblem,
  });
  const begin = form.handleSubmit((said) => start.mutate(said));
  const mend = useMend(recipe);
  const facts = check.data && closerBy(check.data, sampled.data);
  return {
    form,
    draft,
    recipe,
    chooseRecipe,
    stores,
    originals,
    facts,
    checkError: check.error,
    sampling: {
      of: sampled.data ?? null,
      error: sampled.error,
      busy: sampled.isFetching,
      begin: () => void sampled.refetch(),
    },
    ready: isValid && canStart(facts, isChecked) && !start.isPending,
    start: () => void begin(),
    mend,
  };
}

/** What is sent to begin a run; findings still to decide are answered with *as it is*. */
function orderOf({ notBefore, wantedBy, ...draft }: RunDraft, clips: readonly string[]) {
  return { ...draft, clips, asTheyAre: true, notBefore: nextAt(notBefore), wantedBy: nextAt(wantedBy) };
}

function useMend(recipe: RecipeAnswer | undefined): Preparing['mend'] {
  const client = useQueryClient();
  const mend = useMutation({
    mutationFn: (definition: Recipe) =>
      ask(recipeRows.change, {
        recipe: recipe?.id ?? '',
        body: { definition, group: recipe?.group ?? '', note: recipe?.note ?? '', seen: recipe?.version ?? 0 },
      }),
    onSuccess: async () => {
      await client.invalidateQueries({ queryKey: ['recipes'] });
      await client.invalidateQueries({ queryKey: ['run-check'] });
    },
    onError: toastProblem,
  });
  return { busy: mend.isPending, by: (definition) => mend.mutate(definition) };
}
