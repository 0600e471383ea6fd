import { identityRows } from '@relay/contract/routes/identity';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { ChevronDown, X } from 'lucide-react';
import { Popover } from 'radix-ui';
import { useState } from 'react';
import { ask } from '../api/client.ts';
import { filtersQuery, lastChoiceQuery, recipesQuery } from '../api/queries.ts';
import { Button, inputLook, toastProblem } from '../ui/pieces.tsx';

/** Filters that everybody will want: by what findings say, and by what was run. */
const given: readonly (readonly [string, string])[] = [
  ['To decide', 'decide'],
  ['Stopped', 'stop'],
  ['Interlaced', 'interlaced'],
  ['No timecode', 'no timecode'],
  ['Circled', 'circled'],
  ['Sound only', 'sound only'],
  ['Not run yet', '[not run]'],
  ['Changed since they were run', '[changed since]'],
];

/** Filters kept for the production, and the current one kept under a name. */
export function SavedFilters({
  production,
  words,
  onChoose,
}: {
  production: string;
  words: string;
  onChoose: (words: string) => void;
}) {
  const client = useQueryClient();
  const { data: saved = [] } = useQuery(filtersQuery(production));
  const { data: last } = useQuery(lastChoiceQuery(production));
  const { data: recipes = [] } = useQuery(recipesQuery);
  const recipe = recipes.find(({ id }) => id === last?.recipe)?.definition.name;
  const ofLastRecipe: typeof given = recipe === undefined ? [] : [[`Run with ${recipe}`, `[run with ${recipe}]`]];
  const [open, setOpen] = useState(false);
  const [name, setName] = useState('');
  const fresh = (): Promise<void> => client.invalidateQueries({ queryKey: ['filters', production] });
  const save = useMutation({
    mutationFn: () => ask(identityRows.keepFilter, { production, body: { name, words } }),
    onSuccess: () => {
      setName('');
      void fresh();
    },
    onError: toastProblem,
  });
  const forget = useMutation({
    mutationFn: (id: string) => ask(identityRows.dropFilter, { filter: id }),
    onSuccess: fresh,
    onError: toastProblem,
  });
  const choose = (wanted: string): void => {
    onChoose(wanted);
    setOpen(false);
  };
  return (
    <Popover.Root open={open} onOpenChange={setOpen}>
      <Popover.Trigger asChild>
        <Button>
          Filters <ChevronDown className="size-3.5 text-faint" aria-hidden />
        </Button>
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          aria-label="Filters"
          align="start"
          sideOffset={6}
          className="z-30 w-72 rounded-lg border border-line bg-sheet p-2"
        >
          <ul aria-label="Filters">
            {saved.map((filter) => (
              <li key={filter.id} className="flex items-center">
                <button
                  type="button"
                  onClick={() => choose(filter.words)}
                  className="flex min-w-0 flex-1 items-baseline justify-between gap-3 rounded-md px-2 py-1.5 text-left hover:bg-raised"
                >
                  <span className="truncate">{filter.name}</span>
                  <span className="truncate font-mono text-[11px] text-faint">{filter.words}</span>
                </button>
                <button
                  type="button"
                  aria-label={`Forget ${filter.name}`}
                  onClick={() => forget.mutate(filter.id)}
                  className="rounded p-1 text-faint hover:text-ink"
                >
                  <X className="size-3.5" aria-hidden />
                </button>
              </li>
            ))}
            {saved.length > 0 && <li aria-hidden className="my-1 border-t border-line" />}
            {[...given, ...ofLastRecipe].map(([label, wanted]) => (
              <li key={wanted}>
                <button
                  type="button"
                  onClick={() => choose(wanted)}
                  className="w-full rounded-md px-2 py-1.5 text-left hover:bg-raised"
                >
                  {label}
                </button>
              </li>
            ))}
          </ul>
          {words !== '' && (
            <form
              className="mt-2 flex gap-2 border-t border-line pt-2"
              onSubmit={(event) => {
                event.preventDefault();
                if (name.trim()) save.mutate();
              }}
            >
              <input
                aria-label="Name for this filter"
                placeholder={`Keep “${words}” as…`}
                className={inputLook}
                value={name}
                onChange={(event) => setName(event.target.value)}
                maxLength={60}
              />
              <Button type="submit" disabled={name.trim() === '' || save.isPending}>
                Keep
              </Button>
            </form>
          )}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
