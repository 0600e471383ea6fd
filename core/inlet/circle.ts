import type { OutputPlace } from '../recipe/recipe.ts';

/** An inlet as others stand to it: what it takes from and where its results go. */
export interface InletPlaces {
  name: string;
  sources: readonly OutputPlace[];
  results: readonly OutputPlace[];
}

/** Whether one place lies at or below another of the same store. */
export function isWithinPlace(inner: OutputPlace, outer: OutputPlace): boolean {
  return (
    inner.store === outer.store &&
    (outer.folder === '' || inner.folder === outer.folder || inner.folder.startsWith(`${outer.folder}/`))
  );
}

/** Whether what goes to one place is seen by who watches the other. */
function reaches(result: OutputPlace, source: OutputPlace): boolean {
  return isWithinPlace(result, source);
}

function feeds(from: InletPlaces, to: InletPlaces): boolean {
  return from.results.some((result) => to.sources.some((source) => reaches(result, source)));
}

/**
 * The way round on which an inlet's results would come back to it, by the inlets' names, itself first; null where they
 * would not. Chains of inlets that end somewhere are nobody's mistake.
 */
export function circleThrough(inlet: InletPlaces, others: readonly InletPlaces[]): string[] | null {
  const all = [inlet, ...others];
  const seen = new Set<InletPlaces>();
  const follow = (at: InletPlaces, way: readonly string[]): string[] | null => {
    for (const next of all) {
      if (!feeds(at, next)) continue;
      if (next === inlet) return [...way, inlet.name];
      if (seen.has(next)) continue;
      seen.add(next);
      const found = follow(next, [...way, next.name]);
      if (found) return found;
    }
    return null;
  };
  return follow(inlet, [inlet.name]);
}
