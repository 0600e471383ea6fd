import type { InletLine } from '@relay/contract/inlets';
import { inletDefinition } from '@relay/contract/inlets';
import type { RecipeAnswer } from '@relay/contract/recipes';
import type { StoreAnswer } from '@relay/contract/site';
import { finishAndCut } from '@relay/core/recipe/recipe';
import { expect, it } from 'vitest';
import { proposedInlet, sayInlet, stateOf } from './inletDraft.ts';

const id = '0b9a3c1e-4d5f-4a6b-8c7d-9e0f1a2b3c4d';
const recipes = [{ id, definition: finishAndCut }] as unknown as RecipeAnswer[];
const stores = [
  { id: 'raid', name: 'Estuary RAID', bay: false, readOnly: false },
  { id: 'card', name: 'A card', bay: false, readOnly: true },
  { id: 'shuttle', name: 'Shuttle', bay: false, readOnly: false },
  { id: 'bay', name: 'Card bay', bay: true, readOnly: false },
] as StoreAnswer[];

it('proposes an inlet that can be made as it stands, under a name that is free', () => {
  const first = proposedInlet('Salt Lantern', recipes, stores, []);
  const proposed = proposedInlet('Salt Lantern', recipes, stores, [first, { ...first, name: 'inlet 2' }]);
  expect(inletDefinition.safeParse(proposed).success).toBe(true);
  expect(proposed.name).toBe('Inlet 3');
  expect(proposed.source).toEqual({ kind: 'folders', folders: [{ store: 'raid', folder: 'salt-lantern-inlet-2' }] });
  expect(proposed.recipes[0]).toMatchObject({ store: 'shuttle', folder: 'salt-lantern-inlet-2-outputs' });
});

it('says what an inlet does, also of what is not there any more', () => {
  const one = proposedInlet('Salt Lantern', recipes, stores, []);
  expect(sayInlet(one, { recipes, stores })).toBe(
    'Estuary RAID / salt-lantern-inlet → Finish and cut on Shuttle / salt-lantern-inlet-outputs',
  );
  expect(sayInlet({ ...one, begin: { kind: 'at', time: '22:00' } }, { recipes: [], stores: [] })).toBe(
    'raid (not known here) / salt-lantern-inlet → a recipe that was removed on shuttle (not known here) / salt-lantern-inlet-outputs, from 22:00',
  );
  expect(sayInlet({ ...one, source: { kind: 'rolls' } }, { recipes, stores })).toMatch(/^every roll that is proved →/);
});

it.each([
  [{ paused: true, underWay: 3 }, 'paused'],
  [{ now: { problem: { what: 'x', remedy: 'y' }, waiting: 4, first: [], passed: [] } }, 'stands still'],
  [{ underWay: 1, now: { problem: null, waiting: 4, first: [], passed: [] } }, '1 leg under way'],
  [{ now: { problem: null, waiting: 4, first: [], passed: [] } }, '4 things arriving'],
  [{}, 'on'],
] as const)('%j is said as %s', (rest, word) => {
  const line = { paused: false, underWay: 0, now: { problem: null, waiting: 0, first: [], passed: [] }, ...rest };
  expect(stateOf(line as unknown as InletLine).word).toBe(word);
});
