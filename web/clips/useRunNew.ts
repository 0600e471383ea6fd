import { runRows } from '@relay/contract/routes/runs';
import { useMutation } from '@tanstack/react-query';
import { useEffect, useRef } from 'react';
import { useLocation, useNavigate } from 'react-router';
import { toast } from 'sonner';
import { ask } from '../api/client.ts';
import { plural } from '../ui/format.ts';
import { toastProblem } from '../ui/pieces.tsx';
import { all, type Selection } from './selection.ts';

/** Clips that the recipe which was run last has not made yet as they are now. */
export interface RunNew {
  begin: () => void;
  busy: boolean;
}

interface Listing {
  setTyped: (words: string) => void;
  setSelection: (selection: Selection) => void;
}

/**
 * Selects what is new since the last run, and opens what is said before a run; where nothing is, it says so. Another
 * page may send here for it.
 */
export function useRunNew(production: string, { setTyped, setSelection }: Listing, onRun: () => void): RunNew {
  const go = useNavigate();
  const { state, pathname, search } = useLocation() as {
    state: { runNew?: true } | null;
    pathname: string;
    search: string;
  };
  const find = useMutation({
    mutationFn: () => ask(runRows.whatIsNew, { production }),
    onSuccess: ({ recipe, never, changed }) => {
      const clips = [...never, ...changed];
      if (clips.length === 0) {
        toast('Nothing is new', {
          description: `Every clip was run with ${recipe ?? 'it'} as it is now, or waits to be.`,
        });
        return;
      }
      // What is filtered out could not be selected.
      setTyped('');
      setSelection(all(clips));
      onRun();
      if (changed.length > 0)
        toast(
          `${plural(changed.length, 'clip')} changed since the last run`,
          never.length > 0 ? { description: `${plural(never.length, 'clip is', 'clips are')} new.` } : {},
        );
    },
    onError: toastProblem,
  });
  const begin = useRef(find.mutate);
  useEffect(() => {
    begin.current = find.mutate;
  });
  const sent = state?.runNew === true;
  useEffect(() => {
    if (!sent) return;
    void go(`${pathname}${search}`, { replace: true, state: null });
    begin.current();
  }, [sent, go, pathname, search]);
  return { begin: () => find.mutate(), busy: find.isPending };
}
