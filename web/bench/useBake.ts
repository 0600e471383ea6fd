import type { Chain } from '@relay/core/colour/chain/chain';
import { keepPreviousData, useQuery, useQueryClient } from '@tanstack/react-query';
import { lutTextQuery } from '../api/queries.ts';
import { ask } from './ask.ts';

/**
 * Points of the cube that shows at once, and of the one that follows: that of a run, so that what is seen is what is
 * made.
 */
const quickPoints = 33;
const runPoints = 65;

/** A chain, baked by core in the worker; the last one stays until the next is there. */
export function useBake(chain: Chain) {
  const client = useQueryClient();
  const bakeAt = (points: number) => async () => {
    const luts: Record<string, { text: string; fileName: string }> = {};
    for (const step of chain.steps)
      if (step.kind === 'lut' && !step.muted) luts[step.lut] ??= await client.fetchQuery(lutTextQuery(step.lut));
    return ask({ kind: 'bake', chain, luts, points });
  };
  const kept = { staleTime: Infinity, gcTime: 60_000, retry: false } as const;
  const quick = useQuery({
    queryKey: ['baked', quickPoints, chain],
    queryFn: bakeAt(quickPoints),
    placeholderData: keepPreviousData,
    ...kept,
  });
  const fine = useQuery({
    queryKey: ['baked', runPoints, chain],
    queryFn: bakeAt(runPoints),
    enabled: quick.isSuccess && !quick.isPlaceholderData && quick.data.cube !== null,
    ...kept,
  });
  return {
    data: fine.data ?? quick.data,
    error: quick.error ?? fine.error,
    dataUpdatedAt: Math.max(quick.dataUpdatedAt, fine.dataUpdatedAt),
  };
}
