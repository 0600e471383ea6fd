import { correctionRows } from '@relay/contract/routes/corrections';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { toast } from 'sonner';
import { ask } from '../api/client.ts';
import { plural } from '../ui/format.ts';
import { toastProblem } from '../ui/pieces.tsx';

/** What the server answers to corrections that were said. */
interface Said {
  change: string;
  /** Nearer rules that were taken away, since they would have won. */
  replaced: number;
}

/** What follows when corrections were said: it is told, with an undo, and everything shown of clips is asked for anew. */
export function useUndo() {
  const client = useQueryClient();
  // Whoever waits for it shows no moment between what was tried and what is saved.
  const refresh = (): Promise<void> => client.invalidateQueries({ queryKey: ['clips'] });
  const undoing = useMutation({
    mutationFn: (change: string) => ask(correctionRows.undo, { change }),
    onSuccess: () => {
      toast('Undone');
      return refresh();
    },
    onError: toastProblem,
  });
  const undo = (change: string): void => undoing.mutate(change);
  return {
    undo,
    said: (what: string, { change, replaced }: Said): Promise<void> => {
      toast(what, {
        description: replaced > 0 ? `${plural(replaced, 'nearer rule')} taken away` : undefined,
        duration: 10_000,
        action: { label: 'Undo', onClick: () => undo(change) },
      });
      return refresh();
    },
  };
}
