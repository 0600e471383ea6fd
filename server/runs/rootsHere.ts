import type { LegPlan } from '@relay/core/recipe/legPlan';
import { byPlace, samePlace } from '@relay/core/recipe/places';
import type { OutputPlace } from '@relay/core/recipe/recipe';
import type { Root } from '@relay/work/disk/held';
import { placeIn, type Store } from '@relay/work/disk/store';
import type { OutRoots } from '@relay/work/leg/outputPlace';
import type { Stores } from '../stores/stores.ts';

/** A store that a leg needs and that this site does not know any more. */
export class UnknownStore extends Error {
  constructor(id: string) {
    super(`The store ${id} is no longer known`);
  }
}

/** Where the files of a leg, or of a segment of one, come from and go. */
interface ComesAndGoes {
  plan: LegPlan;
  sourceStore: string;
  sourceRoot: string;
  outStore: string;
  outFolder: string;
}

/** Where a leg's or a segment's files lie on this machine. @throws UnknownStore where a store is not known here */
export async function rootsHere(
  stores: Stores,
  { plan, sourceStore, sourceRoot, outStore, outFolder }: ComesAndGoes,
): Promise<{ roots: OutRoots & { sourceRoot: Root }; outStores: Store[] }> {
  const known = new Map((await stores.list()).map((store) => [store.id, store]));
  const storeOf = (id: string): Store => {
    const store = known.get(id);
    if (!store) throw new UnknownStore(id);
    return store;
  };
  const rootAt = ({ store, folder }: OutputPlace): Root => placeIn(storeOf(store), folder);
  const own = { store: outStore, folder: outFolder };
  const used = byPlace(plan.outputs, own).map(({ place }) => place);
  return {
    roots: {
      sourceRoot: rootAt({ store: sourceStore, folder: sourceRoot }),
      // Where every output has a place of its own, nothing goes to the run's, and its store need not be there.
      outRoot: rootAt(used.find((place) => samePlace(place, own)) ?? used[0] ?? own),
      elsewhere: rootAt,
    },
    outStores: [...new Set(used.map(({ store }) => store))].map(storeOf),
  };
}
