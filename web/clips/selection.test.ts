import { expect, it } from 'vitest';
import { all, clicked, moved, nothing, selectionAsText, selectionOf, toggled, within } from './selection.ts';

const ids = ['a', 'b', 'c', 'd', 'e'];
const plain = { shift: false, control: false };

it('selects by mouse: alone, added, and all between', () => {
  const one = clicked(nothing, ids, 'b', plain);
  expect([...one.chosen]).toEqual(['b']);
  expect([...clicked(one, ids, 'd', { shift: true, control: false }).chosen]).toEqual(['b', 'c', 'd']);
  expect([...clicked(one, ids, 'e', { shift: false, control: true }).chosen].sort()).toEqual(['b', 'e']);
  expect([
    ...clicked(clicked(one, ids, 'e', { shift: false, control: true }), ids, 'e', { shift: false, control: true })
      .chosen,
  ]).toEqual(['b']);
});

it('adds a whole stretch to what is selected, with shift and control', () => {
  const one = clicked(nothing, ids, 'a', plain);
  const far = clicked(one, ids, 'c', { shift: false, control: true });
  const both = clicked(far, ids, 'e', { shift: true, control: true });
  expect([...both.chosen].sort()).toEqual(['a', 'c', 'd', 'e']);
  // Shift alone drops what was there before.
  expect([...clicked(far, ids, 'e', { shift: true, control: false }).chosen].sort()).toEqual(['c', 'd', 'e']);
});

it('selects by keyboard: arrows, shift from where it began, space', () => {
  let now = moved(nothing, ids, 1, false);
  expect(now.at).toBe('a');
  now = moved(moved(now, ids, 1, true), ids, 1, true);
  expect([...now.chosen]).toEqual(['a', 'b', 'c']);
  now = moved(now, ids, -1, true);
  expect([...now.chosen]).toEqual(['a', 'b']);
  expect([...toggled(now).chosen]).toEqual(['a']);
  expect(moved(now, ids, 99, false).at).toBe('e');
});

it('forgets what a filter hides', () => {
  const all = clicked(clicked(nothing, ids, 'a', plain), ids, 'e', { shift: true, control: false });
  expect([...within(all, ['b', 'c']).chosen]).toEqual(['b', 'c']);
  expect(within(all, ['b', 'c']).at).toBeNull();
});

it('is read from an address as it was written, the keyboard where it was; clips that are gone are passed over', () => {
  const two = clicked(clicked(nothing, ids, 'd', plain), ids, 'b', { shift: false, control: true });
  expect(selectionAsText(two, ids)).toBe('b.d');
  expect(selectionOf('b.d', ids)).toMatchObject({ chosen: new Set(['b', 'd']), at: 'b' });
  expect(selectionOf('x.d.', ids).chosen).toEqual(new Set(['d']));
  expect([selectionOf(null, ids).chosen.size, selectionAsText(nothing, ids)]).toEqual([0, null]);
  expect(selectionAsText(all(ids), ids)).toBe('all');
  expect(selectionOf('all', ids)).toEqual(all(ids));
  const many = Array.from({ length: 100 }, (_, index) => `clip${index}`);
  expect(selectionAsText(all(many.slice(0, 31)), many)).toBeNull();
});
