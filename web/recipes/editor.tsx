import { recipeRows } from '@relay/contract/routes/recipes';
import type { RecipeAnswer } from '@relay/contract/recipes';
import { recipe as recipeSchema } from '@relay/contract/recipe';
import type { Deliverable, Recipe } from '@relay/core/recipe/recipe';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useDeferredValue, useState } from 'react';
import { useNavigate } from 'react-router';
import { toast } from 'sonner';
import { ask } from '../api/client.ts';
import { slug } from '../ui/format.ts';
import { Button, inputLook, toastProblem } from '../ui/pieces.tsx';
import { sayUndoable } from '../ui/undo.ts';
import { useKept } from '../ui/useKept.ts';
import { DeliverableCard } from './deliverableCard.tsx';
import { Makes } from './makes.tsx';

/** What of a recipe can be said in its head. */
interface Head {
  group: string;
  note: string;
}

/** One recipe: its deliverables side by side, and what they make of the clips as it is said now. */
export function RecipeEditor({
  recipe,
  production,
  onCopy,
}: {
  recipe: RecipeAnswer;
  production: string;
  onCopy: () => void;
}) {
  const client = useQueryClient();
  const go = useNavigate();
  const key = `recipe ${recipe.id} ${recipe.version}`;
  const [draft, setDraft] = useKept<Recipe>(key, recipe.definition);
  const [head, setHead] = useKept<Head>(`${key} head`, { group: recipe.group, note: recipe.note });
  const [versions, setVersions] = useState(false);
  const shown = useDeferredValue(draft);
  const read = recipeSchema.safeParse(draft);
  const dirty =
    JSON.stringify(draft) !== JSON.stringify(recipe.definition) ||
    head.group !== recipe.group ||
    head.note !== recipe.note;
  const refresh = (): Promise<void> => client.invalidateQueries({ queryKey: ['recipes'] });
  const keep = useMutation({
    mutationFn: () =>
      ask(recipeRows.change, { recipe: recipe.id, body: { definition: draft, ...head, seen: recipe.version } }),
    onSuccess: async (kept) => {
      const before = { definition: recipe.definition, group: recipe.group, note: recipe.note };
      sayUndoable(`${recipe.definition.name} is kept as version ${kept.version}`, () =>
        ask(recipeRows.change, { recipe: recipe.id, body: { ...before, seen: kept.version } }).then(refresh),
      );
      await refresh();
    },
    onError: (error) => {
      toastProblem(error);
      void refresh();
    },
  });
  const drop = useMutation({
    mutationFn: () => ask(recipeRows.remove, { recipe: recipe.id }),
    onSuccess: async () => {
      await refresh();
      toast(`${recipe.definition.name} is gone`, { description: 'Runs keep what they were made with.' });
      void go(`/p/${production}/recipes`);
    },
    onError: toastProblem,
  });
  const change = (index: number, deliverable: Deliverable): void =>
    setDraft({ ...draft, deliverables: draft.deliverables.map((one, at) => (at === index ? deliverable : one)) });
  const addOne = (): void => {
    const last = draft.deliverables.at(-1) as Deliverable;
    const names = new Set(draft.deliverables.map((one) => one.folder));
    let number = draft.deliverables.length + 1;
    while (names.has(`deliverable-${number}`)) number += 1;
    setDraft({
      ...draft,
      deliverables: [
        ...draft.deliverables,
        { ...last, name: `Deliverable ${number}`, folder: `deliverable-${number}` },
      ],
    });
  };
  const save = (): void => {
    const url = URL.createObjectURL(
      new Blob([`${JSON.stringify(recipe.definition, null, 2)}\n`], { type: 'application/json' }),
    );
    const link = Object.assign(document.createElement('a'), {
      href: url,
      download: `${slug(recipe.definition.name, 'recipe')}.json`,
    });
    link.click();
    URL.revokeObjectURL(url);
  };
  const wrong = read.success ? null : read.error.issues[0];
  return (
    <div className="flex min-w-0 flex-1 max-lg:flex-col max-lg:overflow-auto">
      <div className="flex min-w-0 flex-1 flex-col gap-4 overflow-auto p-5 max-lg:flex-none max-lg:overflow-visible">
        <div className="sticky -top-5 z-10 max-lg:static -mx-5 -mt-5 flex flex-wrap items-start gap-2 bg-sheet px-5 pt-5 pb-3">
          <input
            aria-label="Name of the recipe"
            value={draft.name}
            maxLength={120}
            onChange={(event) => setDraft({ ...draft, name: event.target.value })}
            className={`${inputLook} w-56! text-[15px] font-semibold`}
          />
          <input
            aria-label="Group"
            value={head.group}
            maxLength={60}
            onChange={(event) => setHead({ ...head, group: event.target.value })}
            className={`${inputLook} w-24!`}
          />
          <span className="ml-auto flex flex-wrap gap-2">
            {dirty && (
              <Button main disabled={!read.success || keep.isPending} onClick={() => keep.mutate()}>
                Keep
              </Button>
            )}
            {dirty && (
              <Button
                onClick={() => {
                  setDraft(recipe.definition);
                  setHead({ group: recipe.group, note: recipe.note });
                }}
              >
                Take back
              </Button>
            )}
            {!dirty && <Button onClick={onCopy}>Copy</Button>}
            {!dirty && <Button onClick={save}>Save as a file</Button>}
            {!dirty && (
              <Button aria-expanded={versions} onClick={() => setVersions(!versions)}>
                Versions
              </Button>
            )}
            {!dirty && (
              <Button disabled={drop.isPending} onClick={() => drop.mutate()}>
                Remove
              </Button>
            )}
          </span>
          <input
            aria-label="Note"
            value={head.note}
            placeholder="What it is for"
            maxLength={600}
            onChange={(event) => setHead({ ...head, note: event.target.value })}
            className={inputLook}
          />
          <p className="w-full text-[12px] text-dim">
            By {recipe.owner}, version {recipe.version}. Every original is decoded once for all deliverables; start
            timecode and every sound channel are kept.
          </p>
          {wrong && (
            <p role="alert" className="w-full text-rose">
              {wrong.path.join(' ') || 'The recipe'}: {wrong.message}.
            </p>
          )}
        </div>
        {versions && (
          <Versions
            recipe={recipe}
            onTake={(definition) => {
              setDraft(definition);
              setVersions(false);
            }}
          />
        )}
        <ul className="grid grid-cols-[repeat(auto-fit,minmax(min(300px,100%),1fr))] items-start gap-4">
          {draft.deliverables.map((deliverable, index) => (
            <DeliverableCard
              key={index}
              deliverable={deliverable}
              onChange={(next) => change(index, next)}
              onRemove={
                draft.deliverables.length > 1
                  ? () => setDraft({ ...draft, deliverables: draft.deliverables.filter((_, at) => at !== index) })
                  : null
              }
              burnHref={
                !dirty
                  ? `/p/${production}/recipes/${recipe.id}/burn?deliverable=${encodeURIComponent(deliverable.folder)}`
                  : null
              }
            />
          ))}
        </ul>
        <div>
          <Button onClick={addOne}>Add a deliverable</Button>
        </div>
      </div>
      <aside
        aria-label="What it makes"
        className="w-80 shrink-0 overflow-auto border-l border-line bg-sheet max-lg:w-full max-lg:overflow-visible max-lg:border-t max-lg:border-l-0"
      >
        {recipeSchema.safeParse(shown).success ? (
          <Makes production={production} recipe={shown} onRemedy={setDraft} />
        ) : (
          <p className="p-4 text-dim">What it makes is shown once it is said in full.</p>
        )}
      </aside>
    </div>
  );
}

function Versions({ recipe, onTake }: { recipe: RecipeAnswer; onTake: (definition: Recipe) => void }) {
  const { data } = useQuery({
    queryKey: ['recipes', recipe.id, 'versions', recipe.version],
    queryFn: () => ask(recipeRows.versions, { recipe: recipe.id }),
  });
  if (!data)
    return (
      <p role="status" className="text-dim">
        Earlier versions load…
      </p>
    );
  if (data.length === 0) return <p className="text-dim">This is its first version.</p>;
  return (
    <ul aria-label="Earlier versions" className="flex flex-col rounded-lg border border-line">
      {data.map((one) => (
        <li key={one.version} className="flex items-center gap-4 border-b border-line/70 px-3 py-1.5 last:border-0">
          <span className="font-mono">{one.version}</span>
          <span className="min-w-0 flex-1 truncate">
            {one.definition.name}: {one.definition.deliverables.map((d) => d.name).join(', ')}
          </span>
          <span className="text-dim">
            {one.who}, since {new Date(one.at).toLocaleString('en-GB', { dateStyle: 'short', timeStyle: 'short' })}
          </span>
          <Button className="h-7" onClick={() => onTake(one.definition)}>
            Take it up again
          </Button>
        </li>
      ))}
    </ul>
  );
}
