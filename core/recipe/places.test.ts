import { describe, expect, it } from 'vitest';
import { byPlace, placesAgain, placesNamed, withPlaces } from './places.ts';
import { finishAndCut } from './recipe.ts';

const own = { store: 'raid', folder: 'show/outputs' };
const shuttle = { store: 'shuttle', folder: 'show' };

describe('places of deliverables', () => {
  it('are put into the recipe, but for those that are where the run goes anyway', () => {
    const placed = withPlaces(finishAndCut, own, { intermediate: own, proxy: shuttle });
    expect(placed.deliverables.map(({ place }) => place)).toEqual([undefined, shuttle]);
    expect(placesNamed(placed)).toEqual({ proxy: shuttle });
    // What is not given a place loses one it had.
    expect(withPlaces(placed, own, {})).toEqual(finishAndCut);
  });

  it('part outputs, those of the run itself among them', () => {
    const outputs = [{ path: 'a', place: shuttle }, { path: 'b' }, { path: 'c', place: { ...shuttle } }];
    expect(byPlace(outputs, own).map(({ place, outputs: of }) => [place.store, of.map(({ path }) => path)])).toEqual([
      ['shuttle', ['a', 'c']],
      ['raid', ['b']],
    ]);
    expect(byPlace([], own)).toEqual([]);
  });

  it('are those of the last time, until the recipe says otherwise', () => {
    const then = { version: 2, places: { proxy: shuttle } };
    const placed = withPlaces(finishAndCut, own, { proxy: { store: 'nas', folder: '' } });
    expect(placesAgain(placed, 2, then)).toEqual({ proxy: shuttle });
    expect(placesAgain(placed, 3, then)).toEqual({ proxy: { store: 'nas', folder: '' } });
    expect(placesAgain(finishAndCut, 3, then)).toEqual({ proxy: shuttle });
  });
});
