import { recipeRows } from '@relay/contract/routes/recipes';
import type { PathPattern } from '@relay/core/naming/pathPattern';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { ChevronDown, X } from 'lucide-react';
import { Popover } from 'radix-ui';
import { useState } from 'react';
import { ask } from '../api/client.ts';
import { keptPatternsQuery } from '../api/queries.ts';
import { menuSheet } from '../ui/menu.tsx';
import { Button, inputLook, toastProblem } from '../ui/pieces.tsx';

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
  const [open, setOpen] = useState(false);
  const [name, setName] = useState('');
  const fresh = (): Promise<void> => client.invalidateQueries({ queryKey: keptPatternsQuery.queryKey });
  const keep = useMutation({
    mutationFn: (pattern: PathPattern) => ask(recipeRows.keepPattern, { body: { name, pattern } }),
    onSuccess: () => {
      setName('');
      void fresh();
    },
    onError: toastProblem,
  });
  const forget = useMutation({
    mutationFn: (pattern: string) => ask(recipeRows.dropPattern, { pattern }),
    onSuccess: fresh,
    onError: toastProblem,
  });
  return (
    <Popover.Root open={open} onOpenChange={setOpen}>
      <Popover.Trigger asChild>
        <Button aria-label={`Kept patterns, for the ${of}`} className="h-7 px-2.5">
          Kept <ChevronDown className="size-3.5 text-faint" aria-hidden />
        </Button>
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          aria-label="Kept patterns"
          align="end"
          sideOffset={4}
          collisionPadding={8}
          className={`${menuSheet} flex max-h-80 w-80 max-w-[94vw] flex-col`}
        >
          {kept.length === 0 && <p className="px-2 py-1.5 text-dim">None is kept yet.</p>}
          <ul className="min-h-0 overflow-auto">
            {kept.map((one) => (
              <li key={one.id} className="flex items-center">
                <button
                  type="button"
                  onClick={() => {
                    onChoose(one.pattern);
                    setOpen(false);
                  }}
                  className="min-w-0 flex-1 rounded-md px-2 py-1.5 text-left hover:bg-raised"
                >
                  <span className="block break-words">{one.name}</span>
                  <span className="block font-mono text-[11px] break-all text-faint">{one.pattern.pattern}</span>
                </button>
                <button
                  type="button"
                  aria-label={`Forget ${one.name}`}
                  onClick={() => forget.mutate(one.id)}
                  className="rounded p-1 text-faint hover:text-ink"
                >
                  <X className="size-3.5" aria-hidden />
                </button>
              </li>
            ))}
          </ul>
          {now && (
            <form
              className="mt-1 flex gap-2 border-t border-line pt-2"
              onSubmit={(event) => {
                event.preventDefault();
                if (name.trim() !== '') keep.mutate(now);
              }}
            >
              <input
                aria-label="Name for this pattern"
                placeholder="Keep this one as…"
                className={inputLook}
                value={name}
                onChange={({ target }) => setName(target.value)}
                maxLength={60}
              />
              <Button type="submit" disabled={name.trim() === '' || keep.isPending}>
                Keep
              </Button>
            </form>
          )}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
