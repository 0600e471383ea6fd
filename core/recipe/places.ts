import type { OutputPlace, Recipe } from './recipe.ts';

/** Places of deliverables, by the folder that names each. */
export type Places = Readonly<Record<string, OutputPlace>>;

export function samePlace(a: OutputPlace, b: OutputPlace): boolean {
  return a.store === b.store && a.folder === b.folder;
}

/**
 * The recipe with the places that a run gives its deliverables. One whose place is the run's own has none of its own:
 * its plans say nothing of it, as they did before there were such.
 */
export function withPlaces(recipe: Recipe, own: OutputPlace, places: Places): Recipe {
  return {
    ...recipe,
    deliverables: recipe.deliverables.map((deliverable) => {
      const place = places[deliverable.folder];
      const { place: before, ...rest } = deliverable;
      if (place === undefined || samePlace(place, own)) return before === undefined ? deliverable : rest;
      return { ...rest, place };
    }),
  };
}

/** The places that a recipe itself names, of those deliverables that it names one for. */
export function placesNamed(recipe: Recipe): Places {
  return Object.fromEntries(
    recipe.deliverables.flatMap(({ folder, place }) => (place === undefined ? [] : [[folder, place]])),
  );
}

/**
 * The places of a recipe that is run again: those it had the last time, but for what the recipe has said of places since.
 * `then` is the version of it that was run.
 */
export function placesAgain(recipe: Recipe, version: number, then: { version: number | null; places: Places }): Places {
  return version === then.version ? then.places : { ...then.places, ...placesNamed(recipe) };
}

/** Outputs, or deliverables, by where they lie: each place once, the run's own among them where something lies there. */
export function byPlace<Output extends { place?: OutputPlace }>(
  outputs: readonly Output[],
  own: OutputPlace,
): { place: OutputPlace; outputs: Output[] }[] {
  const found = new Map<string, { place: OutputPlace; outputs: Output[] }>();
  for (const output of outputs) {
    const place = output.place ?? own;
    // No path holds a zero byte.
    const key = `${place.store}\0${place.folder}`;
    const known = found.get(key) ?? { place, outputs: [] };
    known.outputs.push(output);
    found.set(key, known);
  }
  return [...found.values()];
}
