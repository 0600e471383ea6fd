import { usualInlet, type InletDefinition, type InletLine } from '@relay/contract/inlets';
import type { RecipeAnswer } from '@relay/contract/recipes';
import type { StoreAnswer } from '@relay/contract/site';
import { plural, slug } from '../ui/format.ts';

/** An inlet before anything was said of it: what is most often wanted, in folders that no other inlet has. */
export function proposedInlet(
  production: string,
  recipes: readonly RecipeAnswer[],
  stores: readonly StoreAnswer[],
  others: readonly InletDefinition[],
): InletDefinition {
  const writable = stores.filter((store) => !store.bay && !store.readOnly);
  const name = (number: number): string => (number === 1 ? 'Inlet' : `Inlet ${number}`);
  const folder = (number: number): string =>
    `${slug(production, 'production')}-inlet${number === 1 ? '' : `-${number}`}`;
  const names = new Set(others.map((one) => one.name.toLowerCase()));
  const folders = new Set(
    others.flatMap(({ source }) => (source.kind === 'folders' ? source.folders.map((one) => one.folder) : [])),
  );
  const free = (isTaken: (number: number) => boolean): number => {
    for (let number = 1; ; number += 1) if (!isTaken(number)) return number;
  };
  const number = free((one) => folders.has(folder(one)));
  const [first] = stores.filter((store) => !store.bay);
  return {
    name: name(free((one) => names.has(name(one).toLowerCase()))),
    source: { kind: 'folders', folders: [{ store: first?.id ?? '', folder: folder(number) }] },
    recipes: [
      {
        recipe: recipes[0]?.id ?? '',
        store: writable.at(-1)?.id ?? '',
        folder: `${folder(number)}-outputs`,
      },
    ],
    ...usualInlet,
  };
}

interface Named {
  recipes: readonly RecipeAnswer[];
  stores: readonly StoreAnswer[];
}

const folderOf = (folder: string): string => (folder === '' ? '' : ` / ${folder}`);

/** What an inlet does, in a sentence. */
export function sayInlet({ source, recipes, begin }: InletDefinition, known: Named): string {
  const store = (id: string): string => known.stores.find((one) => one.id === id)?.name ?? `${id} (not known here)`;
  const from =
    source.kind === 'rolls'
      ? 'every roll that is proved'
      : source.folders.map((one) => `${store(one.store)}${folderOf(one.folder)}`).join(' and ');
  const makes = recipes.map((one) => {
    const name = known.recipes.find(({ id }) => id === one.recipe)?.definition.name ?? 'a recipe that was removed';
    return `${name} on ${store(one.store)}${folderOf(one.folder)}`;
  });
  const when =
    begin.kind === 'at once' ? '' : begin.kind === 'at' ? `, from ${begin.time}` : ', when the quiet hours have ended';
  return `${from} → ${makes.join('; ')}${when}`;
}

/** How an inlet stands, in a word or two, and how that is marked. */
export function stateOf({ paused, now, underWay }: Pick<InletLine, 'paused' | 'now' | 'underWay'>): {
  word: string;
  look: 'off' | 'trouble' | 'work' | 'quiet';
} {
  if (paused) return { word: 'paused', look: 'off' };
  if (now.problem) return { word: 'stands still', look: 'trouble' };
  if (underWay > 0) return { word: `${plural(underWay, 'leg')} under way`, look: 'work' };
  if (now.waiting > 0) return { word: `${plural(now.waiting, 'thing')} arriving`, look: 'work' };
  return { word: 'on', look: 'quiet' };
}
