import { correctionRows } from '@relay/contract/routes/corrections';
import { useQueryClient } from '@tanstack/react-query';
import { ask } from '../api/client.ts';
import { plural } from '../ui/format.ts';
import { sayUndoable } from '../ui/undo.ts';

/** What the server answers to corrections that were said. */
interface Said {
  change: string;
  /** Nearer rules that were taken away, since they would have won. */
  replaced: number;
}

/** What follows when corrections were said: it is told, with an undo, and everything shown of clips is asked for anew. */
export function useSaid(): (what: string, said: Said) => Promise<void> {
  const client = useQueryClient();
  // Whoever waits for it shows no moment between what was tried and what is saved.
  const refresh = (): Promise<void> => client.invalidateQueries({ queryKey: ['clips'] });
  return (what: string, { change, replaced }: Said): Promise<void> => {
    const undo = (): Promise<void> => ask(correctionRows.undo, { change }).then(refresh);
    sayUndoable(what, undo, replaced > 0 ? `${plural(replaced, 'nearer rule')} taken away` : undefined);
    return refresh();
  };
}
