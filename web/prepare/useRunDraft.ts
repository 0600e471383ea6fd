import { recipeRows } from '@relay/contract/routes/recipes';
import { runRows } from '@relay/contract/routes/runs';
import type { RecipeAnswer } from '@relay/contract/recipes';
import type { RunCheck } from '@relay/contract/runs';
import type { StoreAnswer } from '@relay/contract/site';
import type { Recipe } from '@relay/core/recipe/recipe';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { ask } from '../api/client.ts';
import { storesQuery } from '../api/queries.ts';
import { slug } from '../ui/format.ts';
import { toastProblem } from '../ui/pieces.tsx';
import { useSettled } from '../ui/useSettled.ts';
import { nextAt } from './hours.ts';
import { canStart, closerBy, type RunDraft } from './runDraft.ts';

export interface Preparing {
  draft: RunDraft;
  change: (part: Partial<RunDraft>) => void;
  /** Stores that outputs may go to, and the chosen one where it is not there. */
  stores: StoreAnswer[];
  gone: StoreAnswer | undefined;
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
  recipes: readonly RecipeAnswer[];
}

/** Everything about a run before it starts: the form's state, what the server says of it, and how it is begun. */
export function useRunDraft({ production, clips, recipes }: WhatIsRun): Preparing {
  const go = useNavigate();
  const { data: allStores = [] } = useQuery(storesQuery);
  const stores = allStores.filter((one) => !one.bay && !one.readOnly);
  const [said, setSaid] = useState<Partial<RunDraft>>({});
  const draft: RunDraft = {
    name: `Run ${production.runs + 1}`,
    recipe: recipes[0]?.id ?? '',
    // Outputs never lie among the originals, so the last store is proposed, not the one that was read.
    store: stores.at(-1)?.id ?? '',
    folder: slug(production.name, 'outputs'),
    inWaves: false,
    notBefore: '',
    wantedBy: '',
    ...said,
  };
  const recipe = recipes.find((one) => one.id === draft.recipe);
  const choice = { clips, recipe: draft.recipe, store: draft.store, folder: draft.folder };
  const asked = { ...choice, folder: useSettled(draft.folder) };
  const check = useQuery({
    queryKey: ['run-check', production.id, asked],
    queryFn: ({ signal }) => ask(runRows.check, { production: production.id, body: asked, signal }),
    enabled: draft.store !== '' && recipe !== undefined && clips.length > 0,
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
    mutationFn: () => ask(runRows.begin, { production: production.id, body: orderOf(draft, clips) }),
    onSuccess: (run) => void go(`/p/${production.id}/runs/${run.id}`),
    onError: toastProblem,
  });
  const mend = useMend(recipe);
  const facts = check.data && closerBy(check.data, sampled.data);
  return {
    draft,
    change: (part) => setSaid((before) => ({ ...before, ...part })),
    stores,
    gone: stores.find((one) => one.id === draft.store && one.freeBytes === null),
    facts,
    checkError: check.error,
    sampling: {
      of: sampled.data ?? null,
      error: sampled.error,
      busy: sampled.isFetching,
      begin: () => void sampled.refetch(),
    },
    ready: canStart(draft, facts, asked.folder) && !start.isPending,
    start: () => start.mutate(),
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
