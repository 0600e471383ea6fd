import type { Target } from '@relay/contract/corrections';
import { correctionRows } from '@relay/contract/routes/corrections';
import type { CorrectionField, FieldValues } from '@relay/core/corrections/fields';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { toast } from 'sonner';
import { ask } from '../api/client.ts';
import { plural } from '../ui/format.ts';
import { toastProblem } from '../ui/pieces.tsx';

/** What is asked of `/corrections`. */
export interface Correcting {
  to: Target;
  fields: Partial<FieldValues>;
  clear?: CorrectionField[];
}

/** Says corrections of clips, a roll, a group or everything, and offers to undo them. */
export function useCorrect(production: string) {
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
  const correct = useMutation({
    mutationFn: (wanted: Correcting) => ask(correctionRows.say, { production, body: wanted }),
    onSuccess: ({ change, clips, replaced }) => {
      toast(`Used on ${plural(clips, 'clip')}`, {
        description: replaced > 0 ? `${plural(replaced, 'nearer rule')} taken away` : undefined,
        duration: 10_000,
        action: { label: 'Undo', onClick: () => undo.mutate(change) },
      });
      refresh();
    },
    onError: toastProblem,
  });
  return {
    correct,
    undoLast: () => {
      if (correct.data) undo.mutate(correct.data.change);
    },
  };
}
