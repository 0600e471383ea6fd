import { recipeRows } from '@relay/contract/routes/recipes';
import type { PathPattern } from '@relay/core/naming/pathPattern';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { ChevronDown } from 'lucide-react';
import { ask } from '../api/client.ts';
import { keptPatternsQuery } from '../api/queries.ts';
import { KeptMenu } from '../ui/keptMenu.tsx';
import { Button, toastProblem } from '../ui/pieces.tsx';

interface KeptPatternsProps {
  of: string;
  /** The pattern that stands there now, which can be kept; null while it is not whole. */
  now: PathPattern | null;
  onChoose: (pattern: PathPattern) => void;
}

/** Path patterns that are kept by name: one is taken, or the one that stands there is kept. */
export function KeptPatterns({ of, now, onChoose }: KeptPatternsProps) {
  const client = useQueryClient();
  const { data: kept = [] } = useQuery(keptPatternsQuery);
  const fresh = (): Promise<void> => client.invalidateQueries({ queryKey: keptPatternsQuery.queryKey });
  const keep = useMutation({
    mutationFn: (body: { name: string; pattern: PathPattern }) => ask(recipeRows.keepPattern, { body }),
    onSuccess: fresh,
    onError: toastProblem,
  });
  const forget = useMutation({
    mutationFn: (pattern: string) => ask(recipeRows.dropPattern, { pattern }),
    onSuccess: fresh,
    onError: toastProblem,
  });
  return (
    <KeptMenu
      label="Kept patterns"
      align="end"
      trigger={
        <Button aria-label={`Kept patterns, for the ${of}`} className="h-7 px-2.5">
          Kept <ChevronDown className="size-3.5 text-faint" aria-hidden />
        </Button>
      }
      kept={kept.map(({ id, name, pattern }) => ({ id, name, note: pattern.pattern }))}
      onChoose={(id) => {
        const chosen = kept.find((one) => one.id === id);
        if (chosen) onChoose(chosen.pattern);
      }}
      onForget={forget.mutate}
      keeps={
        now && {
          label: 'Name for this pattern',
          placeholder: 'Keep this one as…',
          busy: keep.isPending,
          keep: (name, done) => keep.mutate({ name, pattern: now }, { onSuccess: done }),
        }
      }
      {...(kept.length === 0 ? { more: () => <li className="px-2 py-1.5 text-dim">None is kept yet.</li> } : {})}
    />
  );
}
