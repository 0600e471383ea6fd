import { useQuery } from '@tanstack/react-query';
import { recipesQuery, storesQuery } from '../api/queries.ts';
import { Button, Field, inputLook } from '../ui/pieces.tsx';
import { SearchChoice } from '../ui/searchChoice.tsx';
import type { Part } from './inletPart.ts';

/** One recipe of an inlet, and where what it makes goes. */
export function InletMakes({ index, says: { recipes }, say }: Part & { index: number }) {
  const { data: all = [] } = useQuery(recipesQuery);
  const { data: stores = [] } = useQuery(storesQuery);
  const one = recipes[index];
  if (!one) return null;
  const change = (part: Partial<typeof one>): void =>
    say({ recipes: recipes.map((other, at) => (at === index ? { ...other, ...part } : other)) });
  const known = all.find(({ id }) => id === one.recipe);
  return (
    <fieldset className="flex flex-col gap-2">
      <legend className="mb-1 flex w-full items-center font-semibold text-dim">
        {index === 0 ? 'Is made by' : 'And by'}
        {recipes.length > 1 && (
          <Button
            className="ml-auto h-7 px-2.5"
            onClick={() => say({ recipes: recipes.filter((_, at) => at !== index) })}
          >
            Take away
          </Button>
        )}
      </legend>
      <SearchChoice
        label="Recipe"
        shown={known?.definition.name ?? 'Choose a recipe'}
        value={one.recipe}
        nothing="No recipe is called so"
        groups={[{ options: all.map(({ id, definition }) => ({ value: id, name: definition.name })) }]}
        onChoose={(recipe) => change({ recipe })}
      />
      <div className="grid grid-cols-[9rem_1fr] gap-2">
        <Field label="Onto">
          <select className={inputLook} value={one.store} onChange={({ target }) => change({ store: target.value })}>
            {stores
              .filter((store) => !store.bay && !store.readOnly)
              .map(({ id, name }) => (
                <option key={id} value={id}>
                  {name}
                </option>
              ))}
          </select>
        </Field>
        <Field label="Folder">
          <input
            className={`${inputLook} font-mono`}
            placeholder="the store itself"
            value={one.folder}
            spellCheck={false}
            onChange={({ target }) => change({ folder: target.value })}
          />
        </Field>
      </div>
      {index === recipes.length - 1 && recipes.length < 4 && (
        <Button
          className="h-7 w-fit px-2.5"
          onClick={() => {
            const next = all.find(({ id }) => !recipes.some(({ recipe }) => recipe === id)) ?? all[0];
            if (next) say({ recipes: [...recipes, { recipe: next.id, store: one.store, folder: one.folder }] });
          }}
        >
          Another recipe
        </Button>
      )}
    </fieldset>
  );
}
