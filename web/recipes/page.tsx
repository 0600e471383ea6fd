import { recipeRows } from '@relay/contract/routes/recipes';
import type { RecipeAnswer } from '@relay/contract/recipes';
import { finishAndCut, type Recipe } from '@relay/core/recipe/recipe';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useRef } from 'react';
import { useNavigate, useParams } from 'react-router';
import { ask } from '../api/client.ts';
import { recipesQuery } from '../api/queries.ts';
import { plural } from '../ui/format.ts';
import { blocks, Button, Loading, ProblemNote, problemOf, toastProblem } from '../ui/pieces.tsx';
import { RecipeEditor } from './editor.tsx';
import { freeName, takeRecipe } from './take.ts';

/** What the team gets: recipes in groups, one of them open. */
export function RecipesPage() {
  const { production = '', recipe: id } = useParams();
  const go = useNavigate();
  const client = useQueryClient();
  const file = useRef<HTMLInputElement>(null);
  const { data, error, refetch } = useQuery(recipesQuery);
  const added = {
    onSuccess: async (made: RecipeAnswer) => {
      await client.invalidateQueries({ queryKey: ['recipes'] });
      void go(`/p/${production}/recipes/${made.id}`);
    },
    onError: toastProblem,
  };
  const add = useMutation({
    mutationFn: (made: { definition: Recipe; group: string; note: string }) => ask(recipeRows.add, { body: made }),
    ...added,
  });
  const take = useMutation({ mutationFn: (picked: File) => takeRecipe(picked, data ?? []), ...added });
  if (error && blocks(error, data)) return <ProblemNote problem={problemOf(error)} again={() => void refetch()} />;
  if (!data)
    return (
      <div className="flex-1">
        <Loading what="The recipes" />
      </div>
    );
  const open = id === undefined ? data[0] : data.find((one) => one.id === id);
  const groups = [...new Set(data.map((one) => one.group))];
  const copy = (from: RecipeAnswer): void =>
    add.mutate({
      definition: { ...from.definition, name: freeName(`${from.definition.name}, a copy`, data) },
      group: from.group,
      note: from.note,
    });
  return (
    <div className="flex min-h-0 flex-1">
      <nav
        aria-label="Recipes"
        className="flex w-56 shrink-0 flex-col max-lg:w-40 gap-4 overflow-auto border-r border-line p-4"
      >
        {groups.map((group) => (
          <section key={group}>
            <h2 className="mb-1 text-dim">{group}</h2>
            <ul>
              {data
                .filter((one) => one.group === group)
                .map((one) => (
                  <li key={one.id}>
                    <button
                      type="button"
                      aria-current={one === open ? 'page' : undefined}
                      onClick={() => void go(`/p/${production}/recipes/${one.id}`)}
                      className={`block w-full rounded-md px-2.5 py-1.5 text-left ${one === open ? 'bg-raised' : 'hover:bg-raised/60'}`}
                    >
                      <span className="block">{one.definition.name}</span>
                      <span className="block text-[12px] text-dim">
                        {plural(one.definition.deliverables.length, 'deliverable')}
                        {one.version > 1 ? `, version ${one.version}` : ''}
                      </span>
                    </button>
                  </li>
                ))}
            </ul>
          </section>
        ))}
        <div className="flex flex-col gap-2">
          <Button
            onClick={() =>
              add.mutate({
                definition: { ...finishAndCut, name: freeName('New recipe', data) },
                group: 'Ours',
                note: '',
              })
            }
          >
            New recipe
          </Button>
          <Button onClick={() => file.current?.click()}>Bring one in…</Button>
          <input
            ref={file}
            type="file"
            accept=".json,application/json"
            aria-label="A recipe file"
            className="hidden"
            onChange={(event) => {
              const [picked] = event.target.files ?? [];
              if (picked) take.mutate(picked);
              event.target.value = '';
            }}
          />
        </div>
      </nav>
      {!open && id !== undefined && (
        <ProblemNote
          problem={{ what: 'This recipe is not there (any more)', remedy: 'Choose one of those at the left' }}
        />
      )}
      {open && (
        <RecipeEditor
          key={`${open.id} ${open.version}`}
          recipe={open}
          production={production}
          onCopy={() => copy(open)}
        />
      )}
    </div>
  );
}
