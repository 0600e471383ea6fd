import type { RecipeAnswer } from '@relay/contract/recipes';
import type { RunCheck } from '@relay/contract/runs';
import type { StoreAnswer } from '@relay/contract/site';
import { finishAndCut } from '@relay/core/recipe/recipe';
import { describe, expect, it } from 'vitest';
import { beginsAt, isLate, isWrongHour, nextAt } from './hours.ts';
import {
  canStart,
  closerBy,
  folderOn,
  placesProposed,
  proposedRun,
  runForm,
  tooFull,
  wantsSampling,
} from './runDraft.ts';

const store = (rest: Partial<RunCheck['stores'][number]> = {}): RunCheck['stores'][number] => ({
  id: 'raid',
  name: 'Raid',
  there: true,
  disk: 1,
  bytes: { least: 1, likely: 2, most: 3 },
  bytesAtMost: 100,
  freeBytes: 150,
  promisedBytes: 0,
  ...rest,
});
const check = (rest: Partial<RunCheck> = {}): RunCheck =>
  ({
    clips: 2,
    stores: [store()],
    bytes: { least: 1, likely: 2, most: 3 },
    seconds: null,
    deliverables: [
      { deliverable: 'Proxy', outputs: 2, bytes: { least: 1, likely: 2, most: 3 }, known: 'roughly', warnings: ['w'] },
    ],
    ...rest,
  }) as RunCheck;

describe('a run can be started', () => {
  it('when what was checked is what stands in the form, and there is room', () => {
    expect(canStart(check(), true)).toBe(true);
    expect(canStart(undefined, true)).toBe(false);
    expect(canStart(check({ clips: 0 }), true)).toBe(false);
    expect(canStart(check(), false)).toBe(false);
    expect(canStart(check({ stores: [store({ freeBytes: 99 })] }), true)).toBe(false);
    expect(canStart(check({ stores: [store(), store({ id: 'shuttle', disk: 2, there: false })] }), true)).toBe(false);
  });

  it('only where what other runs were promised is left to them', () => {
    const full = (promisedBytes: number): number => tooFull({ stores: [store({ promisedBytes })] }).length;
    expect([full(50), full(51)]).toEqual([0, 1]);
  });

  it('only where stores that share a disk have room for both', () => {
    const two = (disk: number): string[] =>
      tooFull({ stores: [store(), store({ id: 'shuttle', disk })] }).map(({ id }) => id);
    expect([two(2), two(1)]).toEqual([[], ['raid', 'shuttle']]);
  });
});

describe('the form of a run', () => {
  const recipe = (id: string, place?: { store: string; folder: string }): RecipeAnswer =>
    ({
      id,
      version: 1,
      definition: {
        ...finishAndCut,
        deliverables: finishAndCut.deliverables.map((one) => (place && one.role === 'proxy' ? { ...one, place } : one)),
      },
    }) as RecipeAnswer;
  const shuttle = { store: 'shuttle', folder: 'show' };
  const [a, b] = ['1c1c1c1c-0000-4000-8000-000000000000', '2c2c2c2c-0000-4000-8000-000000000000'];
  const known = {
    production: { name: 'Salt Lantern', runs: 3 },
    recipes: [recipe(a), recipe(b, shuttle)],
    stores: ['raid', 'shuttle'].map((id) => ({ id }) as StoreAnswer),
    folder: 'salt-lantern',
  };
  it('begins with what was run last, or else with the first recipe and the last store', () => {
    expect(proposedRun({ ...known, last: null })).toMatchObject({
      name: 'Run 4',
      recipe: a,
      store: 'shuttle',
      folder: 'salt-lantern',
      places: {},
    });
    const last = {
      recipe: b,
      version: 1,
      store: 'raid',
      folder: 'out',
      places: { proxy: { ...shuttle, folder: 'elsewhere' } },
    };
    expect(proposedRun({ ...known, last })).toMatchObject({
      recipe: b,
      store: 'raid',
      folder: 'out',
      places: last.places,
    });
    // What is no more there is not proposed.
    expect(proposedRun({ ...known, last: { ...last, store: 'gone', recipe: 'gone' } })).toMatchObject({
      recipe: a,
      store: 'shuttle',
      folder: 'salt-lantern',
    });
  });
  it('takes the places that a recipe names, where it was not run last', () => {
    const last = { recipe: a, version: 1, store: 'raid', folder: 'out', places: {} };
    expect(placesProposed(known.recipes[1], last)).toEqual({ proxy: shuttle });
    expect(placesProposed(undefined, last)).toEqual({});
  });
  it('is not sent while an hour is half typed: it would begin at once', () => {
    const said = proposedRun({ ...known, last: null });
    const fits = (rest: object): boolean => runForm.safeParse({ ...said, ...rest }).success;
    expect([fits({}), fits({ notBefore: '2' }), fits({ wantedBy: '25:00' }), fits({ name: ' ' })]).toEqual([
      true,
      false,
      false,
      false,
    ]);
    expect(fits({ notBefore: '22:30', wantedBy: '7:00' })).toBe(true);
  });
});

it('a folder of a store for outputs is never one that originals were read from', () => {
  const originals = [
    { store: 'raid', folder: 'show' },
    { store: 'nas', folder: '' },
  ];
  const on = (store: string, folder: string): string => folderOn(store, folder, originals);
  expect([on('raid', 'show'), on('raid', 'show/out'), on('raid', 'shows'), on('shuttle', 'show')]).toEqual([
    'show-outputs',
    'show-outputs/out',
    'shows',
    'show',
  ]);
  expect(on('nas', 'cards')).toBe('cards');
});

it('what was sampled is closer than what rates tell; what was not sampled stays', () => {
  const closer = closerBy(check({ seconds: { likely: 9, most: 9 } }), {
    sampled: 1,
    of: 2,
    bytes: { least: 5, likely: 6, most: 7 },
    seconds: null,
    deliverables: [
      { deliverable: 'Proxy', bytes: { least: 5, likely: 6, most: 7 }, known: 'by sampled pictures' },
      { deliverable: 'of another recipe', bytes: { least: 0, likely: 0, most: 0 }, known: 'exact' },
    ],
  });
  expect(closer).toMatchObject({ bytes: { likely: 6 }, seconds: { likely: 9 } });
  expect(closer.deliverables).toEqual([
    {
      deliverable: 'Proxy',
      outputs: 2,
      bytes: { least: 5, likely: 6, most: 7 },
      known: 'by sampled pictures',
      warnings: ['w'],
    },
  ]);
  expect([wantsSampling(check()), wantsSampling(closer)]).toEqual([true, false]);
});

describe('an hour', () => {
  const now = new Date(2026, 10, 27, 21, 30);

  it('is the next time that the clock shows it: today, or tomorrow', () => {
    expect(nextAt('22:15', now)).toBe(new Date(2026, 10, 27, 22, 15).toISOString());
    expect(nextAt('7:05', now)).toBe(new Date(2026, 10, 28, 7, 5).toISOString());
    expect(nextAt('21:30', now)).toBe(new Date(2026, 10, 28, 21, 30).toISOString());
  });

  it('is none where the clock never shows it, or it is not typed to its end', () => {
    expect(['24:00', '7', '7:', '07:60', 'noon', ''].map((time) => nextAt(time, now))).toEqual(Array(6).fill(null));
    expect([isWrongHour('7:'), isWrongHour(' '), isWrongHour('07:00')]).toEqual([true, false, false]);
  });

  it('that nothing is said of is now; what is ready after the one it is wanted by is late', () => {
    expect(beginsAt('', now)).toBe(now.getTime());
    const seven = new Date(2026, 10, 28, 7, 0).getTime();
    expect([isLate('07:00', seven, now), isLate('07:00', seven + 1, now), isLate('', seven + 1, now)]).toEqual([
      false,
      true,
      false,
    ]);
  });
});
