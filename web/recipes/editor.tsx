import { recipeRows } from '@relay/contract/routes/recipes';
import { newRecipe, type RecipeAnswer } from '@relay/contract/recipes';
import { recipe as recipeSchema } from '@relay/contract/recipe';
import type { Deliverable, Recipe } from '@relay/core/recipe/recipe';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useDeferredValue, useState } from 'react';
import { Controller, useFieldArray } from 'react-hook-form';
import { useNavigate } from 'react-router';
import { toast } from 'sonner';
import type { z } from 'zod';
import { ask } from '../api/client.ts';
import { slug } from '../ui/format.ts';
import { MenuItem, MoreMenu } from '../ui/menu.tsx';
import { Button, inputLook, toastProblem } from '../ui/pieces.tsx';
import { sayUndoable } from '../ui/undo.ts';
import { useKeptForm, type FieldProblem } from '../ui/useKeptForm.ts';
import { DeliverableCard } from './deliverableCard.tsx';
import { Makes } from './makes.tsx';

type RecipeForm = z.output<typeof newRecipe>;

/** What a recipe's form begins with: the recipe as it is kept. */
function savedOf({ definition, group, note }: RecipeAnswer): RecipeForm {
  return { definition, group, note };
}

interface EditorProps {
  recipe: RecipeAnswer;
  production: string;
  onCopy: () => void;
}

/** One recipe: its deliverables side by side, and what they make of the clips as it is said now. */
export function RecipeEditor({ recipe, production, onCopy }: EditorProps) {
  const [saved] = useState(() => savedOf(recipe));
  const { form, says, problems } = useKeptForm<RecipeForm>(`recipe ${recipe.id} ${recipe.version}`, saved, newRecipe);
  const { control } = form;
  const { isDirty: dirty } = form.formState;
  const { fields, append, remove } = useFieldArray({ control, name: 'definition.deliverables' });
  const [versions, setVersions] = useState(false);
  const { keep, drop } = useRecipeOrders(recipe, production);
  const shown = useDeferredValue(says.definition);
  const save = form.handleSubmit((said) => keep.mutate(said));
  /** Puts another recipe into the form, unsaved. */
  const say = (definition: Recipe): void =>
    form.reset({ ...form.getValues(), definition }, { keepDefaultValues: true });
  return (
    <div className="flex min-w-0 flex-1 max-lg:flex-col max-lg:overflow-auto">
      <div className="flex min-w-0 flex-1 flex-col gap-4 overflow-auto p-5 max-lg:flex-none max-lg:overflow-visible">
        <div className="sticky -top-5 z-10 max-lg:static -mx-5 -mt-5 flex flex-wrap items-start gap-2 bg-sheet px-5 pt-5 pb-3">
          <input
            aria-label="Name of the recipe"
            maxLength={120}
            className={`${inputLook} w-56! text-[15px] font-semibold`}
            {...form.register('definition.name')}
          />
          <input aria-label="Group" maxLength={60} className={`${inputLook} w-24!`} {...form.register('group')} />
          <span className="ml-auto flex flex-wrap gap-2">
            {dirty ? (
              <>
                <Button main disabled={problems.length > 0 || keep.isPending} onClick={() => void save()}>
                  Keep
                </Button>
                <Button onClick={() => form.reset(saved)}>Take back</Button>
              </>
            ) : (
              <>
                <Button onClick={onCopy}>Copy</Button>
                <MoreMenu label="More for this recipe">
                  <MenuItem onSelect={() => saveFile(recipe)}>Save as a file</MenuItem>
                  <MenuItem onSelect={() => setVersions(!versions)}>
                    {versions ? 'Hide earlier versions' : 'Earlier versions'}
                  </MenuItem>
                  <MenuItem onSelect={() => drop.mutate()}>Remove</MenuItem>
                </MoreMenu>
              </>
            )}
          </span>
          <input
            aria-label="Note"
            placeholder="What it is for"
            maxLength={600}
            className={inputLook}
            {...form.register('note')}
          />
          <p className="w-full text-[12px] text-dim">
            By {recipe.owner}, version {recipe.version}. Every original is decoded once for all deliverables; start
            timecode and every sound channel are kept.
          </p>
          <HeadProblems problems={problems} />
        </div>
        {versions && (
          <Versions
            recipe={recipe}
            onTake={(definition) => {
              say(definition);
              setVersions(false);
            }}
          />
        )}
        <ul className="grid grid-cols-[repeat(auto-fit,minmax(min(300px,100%),1fr))] items-start gap-4">
          {fields.map(({ id }, index) => (
            <Controller
              key={id}
              control={control}
              name={`definition.deliverables.${index}`}
              render={({ field }) => (
                <DeliverableCard
                  deliverable={field.value}
                  problems={problemsOf(problems, index)}
                  onChange={field.onChange}
                  onRemove={fields.length > 1 ? () => remove(index) : null}
                  burnHref={
                    dirty
                      ? null
                      : `/p/${production}/recipes/${recipe.id}/burn?deliverable=${encodeURIComponent(field.value.folder)}`
                  }
                />
              )}
            />
          ))}
        </ul>
        <div>
          <Button onClick={() => append(another(says.definition.deliverables))}>Add a deliverable</Button>
        </div>
      </div>
      <aside
        aria-label="What it makes"
        className="w-80 shrink-0 overflow-auto border-l border-line bg-sheet max-lg:w-full max-lg:overflow-visible max-lg:border-t max-lg:border-l-0"
      >
        {recipeSchema.safeParse(shown).success ? (
          <Makes production={production} recipe={shown} onRemedy={say} />
        ) : (
          <p className="p-4 text-dim">What it makes is shown once it is said in full.</p>
        )}
      </aside>
    </div>
  );
}

/** What is wrong with a recipe itself; what is wrong with a deliverable stands at it. */
function HeadProblems({ problems }: { problems: readonly FieldProblem[] }) {
  const found = problems.filter(({ path }) => path[1] !== 'deliverables' || path.length === 2);
  return (
    <>
      {found.map(({ path, message }) => (
        <p key={path.join()} role="alert" className="w-full text-rose">
          {headNames[path.at(-1) ?? ''] ?? 'The recipe'}: {message}.
        </p>
      ))}
    </>
  );
}

/** What is wrong with one deliverable, by its own fields. */
function problemsOf(problems: readonly FieldProblem[], index: number): FieldProblem[] {
  return problems
    .filter(({ path }) => path[1] === 'deliverables' && path[2] === String(index))
    .map(({ path, message }) => ({ path: path.slice(3), message }));
}

const headNames: Readonly<Record<string, string>> = { name: 'Its name', group: 'Its group', note: 'Its note' };

/** One more deliverable: like the last, under a name and folder of its own. */
function another(deliverables: readonly Deliverable[]): Deliverable {
  const last = deliverables.at(-1) as Deliverable;
  const taken = new Set(deliverables.map((one) => one.folder));
  let number = deliverables.length + 1;
  while (taken.has(`deliverable-${number}`)) number += 1;
  return { ...last, name: `Deliverable ${number}`, folder: `deliverable-${number}` };
}

/** Gives a recipe as a file. */
function saveFile({ definition }: RecipeAnswer): void {
  const url = URL.createObjectURL(new Blob([`${JSON.stringify(definition, null, 2)}\n`], { type: 'application/json' }));
  const link = Object.assign(document.createElement('a'), {
    href: url,
    download: `${slug(definition.name, 'recipe')}.json`,
  });
  link.click();
  URL.revokeObjectURL(url);
}

/** What can be done with a recipe as a whole. */
function useRecipeOrders(recipe: RecipeAnswer, production: string) {
  const client = useQueryClient();
  const go = useNavigate();
  const refresh = (): Promise<void> => client.invalidateQueries({ queryKey: ['recipes'] });
  const keep = useMutation({
    mutationFn: (said: RecipeForm) =>
      ask(recipeRows.change, { recipe: recipe.id, body: { ...said, seen: recipe.version } }),
    onSuccess: async (kept) => {
      sayUndoable(`${recipe.definition.name} is kept as version ${kept.version}`, () =>
        ask(recipeRows.change, { recipe: recipe.id, body: { ...savedOf(recipe), seen: kept.version } }).then(refresh),
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
  return { keep, drop };
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
