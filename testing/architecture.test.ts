import { expect, it } from 'vitest';
import { drawHouse } from './drawHouse.ts';
import { circlesOf, importGraph, roomGraph } from './imports.ts';

const graph = importGraph();

it('reads every import of our own: a file of each floor, and what is known of some', () => {
  expect(graph.size).toBeGreaterThan(500);
  expect(graph.get('core/recipe/plan.ts')).toContain('core/recipe/legPlan.ts');
  expect(graph.get('server/worker.ts')).toContain('work/leg/leg.ts');
});

it('finds circles where there are some', () => {
  const circle = new Map([
    ['a', ['b']],
    ['b', ['c', 'd']],
    ['c', ['a']],
    ['d', ['d']],
  ]);
  expect(circlesOf(circle)).toEqual([['a', 'b', 'c']]);
  expect(
    circlesOf(
      new Map([
        ['a', ['b', 'c']],
        ['b', ['c']],
        ['c', []],
      ]),
    ),
  ).toEqual([]);
});

it('no files import each other in a circle, types included', () => {
  expect(circlesOf(graph)).toEqual([]);
});

it('nothing goes back up: among the rooms of work and of the server there is no circle either', () => {
  const rooms = roomGraph(graph);
  for (const floor of ['work/', 'server/'])
    expect(circlesOf(new Map([...rooms].filter(([room]) => room.startsWith(floor))))).toEqual([]);
});

it('docs/architecture.svg shows the house as it is; npm run draw draws it anew', async () => {
  await expect(drawHouse(graph)).toMatchFileSnapshot('../docs/architecture.svg');
});
