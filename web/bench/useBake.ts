import type { Chain } from '@relay/core/colour/chain/chain';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { lutTextQuery } from '../api/queries.ts';
import { ask } from './ask.ts';

/** Points of the cube that the bench looks through; a run bakes more. */
export const benchPoints = 33;

/** A chain, baked by core in the worker; the last one stays until the next is there. */
export function useBake(chain: Chain) {
  const client = useQueryClient();
  return useQuery({
    queryKey: ['baked', chain], staleTime: Infinity, gcTime: 60_000, placeholderData: (previous) => previous, retry: false,
    queryFn: async () => {
      const luts: Record<string, { text: string; fileName: string }> = {};
      for (const step of chain.steps) if (step.kind === 'lut' && !step.muted) luts[step.lut] ??= await client.fetchQuery(lutTextQuery(step.lut));
      return ask({ kind: 'bake', chain, luts, points: benchPoints });
    },
  });
}
