import { identityRows } from '@relay/contract/routes/identity';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { ChevronDown } from 'lucide-react';
import { ask } from '../api/client.ts';
import { filtersQuery, lastChoiceQuery, recipesQuery } from '../api/queries.ts';
import { KeptMenu } from '../ui/keptMenu.tsx';
import { Button, toastProblem } from '../ui/pieces.tsx';

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

interface SavedFiltersProps {
  production: string;
  words: string;
  onChoose: (words: string) => void;
}

/** Filters kept for the production, and the current one kept under a name. */
export function SavedFilters({ production, words, onChoose }: SavedFiltersProps) {
  const client = useQueryClient();
  const { data: saved = [] } = useQuery(filtersQuery(production));
  const { data: last } = useQuery(lastChoiceQuery(production));
  const { data: recipes = [] } = useQuery(recipesQuery);
  const recipe = recipes.find(({ id }) => id === last?.recipe)?.definition.name;
  // A name with brackets in it cannot stand between some.
  const askable = recipe !== undefined && !/[[\]]/.test(recipe);
  const ofLastRecipe: typeof given = askable ? [[`Run with ${recipe}`, `[run with ${recipe}]`]] : [];
  const fresh = (): Promise<void> => client.invalidateQueries({ queryKey: ['filters', production] });
  const save = useMutation({
    mutationFn: (name: string) => ask(identityRows.keepFilter, { production, body: { name, words } }),
    onSuccess: fresh,
    onError: toastProblem,
  });
  const forget = useMutation({
    mutationFn: (id: string) => ask(identityRows.dropFilter, { filter: id }),
    onSuccess: fresh,
    onError: toastProblem,
  });
  return (
    <KeptMenu
      label="Filters"
      align="start"
      trigger={
        <Button>
          Filters <ChevronDown className="size-3.5 text-faint" aria-hidden />
        </Button>
      }
      kept={saved.map(({ id, name, words: note }) => ({ id, name, note }))}
      onChoose={(id) => onChoose(saved.find((one) => one.id === id)?.words ?? '')}
      onForget={forget.mutate}
      keeps={
        words === ''
          ? null
          : {
              label: 'Name for this filter',
              placeholder: `Keep “${words}” as…`,
              busy: save.isPending,
              keep: (name, done) => save.mutate(name, { onSuccess: done }),
            }
      }
      more={(close) =>
        [...given, ...ofLastRecipe].map(([label, wanted]) => (
          <li key={wanted}>
            <button
              type="button"
              onClick={() => {
                onChoose(wanted);
                close();
              }}
              className="w-full rounded-md px-2 py-1.5 text-left hover:bg-raised"
            >
              {label}
            </button>
          </li>
        ))
      }
    />
  );
}
