import type { RollLine } from '@relay/contract/arrivals';
import type { ReportAnswer } from '@relay/contract/clips';
import type { StoreAnswer } from '@relay/contract/site';
import { describe, expect, it } from 'vitest';
import { arrivalForm, destinationsOf, isEnough, proposedDay } from './arrivalDraft.ts';

const stores = ['raid', 'shuttle'].map((id) => ({ id }) as StoreAnswer);

describe('the day that is proposed', () => {
  const rolls = [{ day: 'day-7' } as RollLine];
  it("is the last roll's, else the last that clips are of, else the first", () => {
    expect(proposedDay(rolls, undefined, true)).toBe('day-7');
    expect(proposedDay([], { day: 'day-2', clips: 4 } as ReportAnswer, false)).toBe('day-2');
    expect(proposedDay([], { day: 'day-2', clips: 0 } as ReportAnswer, false)).toBe('day-1');
  });
  it('is none before it is known which was the last', () => {
    expect([proposedDay(undefined, undefined, false), proposedDay([], undefined, true)]).toEqual(['', '']);
  });
});

describe('copies', () => {
  const form = { first: 'raid', other: 'shuttle', second: true, folder: 'show' };
  it('go to two stores where there are two, the second in a folder of its own', () => {
    expect(destinationsOf(form, stores)).toEqual([
      { store: 'raid', folder: 'show' },
      { store: 'shuttle', folder: 'show-copies' },
    ]);
    expect(destinationsOf(form, stores.slice(0, 1))).toHaveLength(1);
    expect(destinationsOf({ ...form, second: false }, stores)).toHaveLength(1);
  });
  it('are enough by their number and by their disks', () => {
    const on = (...ids: string[]) => ids.map((store) => ({ store }));
    const rule = { copies: 2, stores: 2 };
    const disks = [
      { id: 'a', disk: 'one' },
      { id: 'b', disk: 'other' },
      { id: 'c', disk: 'other' },
    ];
    const enough = (...ids: string[]): boolean => isEnough(on(...ids), rule, disks);
    expect([enough('a', 'b'), enough('a', 'a'), enough('a'), enough('b', 'c')]).toEqual([true, false, false, false]);
    expect(isEnough(on('b', 'c'), { ...rule, oneDisk: true }, disks)).toBe(true);
  });
});

describe('the form of a roll', () => {
  const form = {
    name: 'A002',
    day: 'day-2',
    first: 'raid',
    folder: 'show',
    second: true,
    other: 'shuttle',
    hash: 'xxh128',
    alsoMd5: false,
  };
  const wrong = (said: object): PropertyKey[] =>
    arrivalForm.safeParse({ ...form, ...said }).error?.issues.map(({ path }) => path[0] ?? '') ?? [];
  it('takes names for roll and day that may be folders on every system, and says which is wrong', () => {
    expect(wrong({})).toEqual([]);
    expect([wrong({ name: '' }), wrong({ name: '../A002' }), wrong({ name: 'con' })]).toEqual([
      ['name'],
      ['name'],
      ['name'],
    ]);
    expect(wrong({ day: ' ' })).toEqual(['day']);
  });
});
