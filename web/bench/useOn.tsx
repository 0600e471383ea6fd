import { benchRows } from '@relay/contract/routes/bench';
import { correctionRows } from '@relay/contract/routes/corrections';
import type { BenchAnswer } from '@relay/contract/bench';
import type { RuleScope } from '@relay/contract/chain';
import type { Chain } from '@relay/core/colour/chain/chain';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { toast } from 'sonner';
import { ask } from '../api/client.ts';
import { plural } from '../ui/format.ts';
import { toastProblem } from '../ui/pieces.tsx';

/** Where a chain can be used from the bench, the widest last. */
export function scopesOn(
  bench: BenchAnswer,
  selection: readonly string[],
): { scope: RuleScope; label: string; clips: number }[] {
  return [
    ...(selection.length > 1
      ? [{ scope: 'clip' as const, label: 'the selection', clips: selection.length }]
      : [{ scope: 'clip' as const, label: 'this clip', clips: 1 }]),
    { scope: 'roll', label: `roll ${bench.roll}`, clips: bench.rollClips },
    { scope: 'group', label: 'its group', clips: bench.group.clips },
    { scope: 'production', label: 'everything', clips: bench.productionClips },
  ];
}

/** Uses a chain on clips, a roll, a group or everything, and offers to undo it. */
export function useOn(production: string, bench: BenchAnswer | undefined, selection: readonly string[]) {
  const client = useQueryClient();
  const refresh = (): void => void client.invalidateQueries({ queryKey: ['clips'] });
  const undo = useMutation({
    mutationFn: (change: string) => ask(correctionRows.undo, { change }),
    onSuccess: () => {
      toast('Undone');
      refresh();
    },
    onError: toastProblem,
  });
  const use = useMutation({
    mutationFn: ({ scope, chain }: { scope: RuleScope; chain: Chain | null }) => {
      const clips = selection.length > 1 ? selection : [bench?.clip ?? ''];
      const to =
        scope === 'clip'
          ? { scope, clips }
          : scope === 'production'
            ? { scope }
            : { scope, key: (scope === 'roll' ? bench?.roll : bench?.group.key) ?? '' };
      return ask(benchRows.sayChain, { production, body: { to, chain } });
    },
    onSuccess: ({ change, clips, replaced }, { chain }) => {
      toast(`${chain ? 'Used on' : 'No chain for'} ${plural(clips, 'clip')}`, {
        description: replaced > 0 ? `${plural(replaced, 'nearer rule')} taken away` : undefined,
        duration: 10_000,
        action: { label: 'Undo', onClick: () => undo.mutate(change) },
      });
      refresh();
    },
    onError: toastProblem,
  });
  return {
    use,
    undoLast: () => {
      if (use.data) undo.mutate(use.data.change);
    },
  };
}
