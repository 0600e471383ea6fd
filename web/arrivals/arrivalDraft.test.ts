import type { CardAnswer, RollLine } from '@relay/contract/arrivals';
import type { ReportAnswer } from '@relay/contract/clips';
import type { StoreAnswer } from '@relay/contract/site';
import { describe, expect, it } from 'vitest';
import { canBegin, destinationsOf, emptyDraft, isEnough, nameProblemOf, proposedDay } from './arrivalDraft.ts';

const stores = ['raid', 'shuttle'].map((id) => ({ id }) as StoreAnswer);
const card = { files: 3 } as CardAnswer;

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
  it('go to two stores where there are two, the second in a folder of its own', () => {
    expect(destinationsOf(emptyDraft, stores, 'show')).toEqual([
      { store: 'raid', folder: 'show' },
      { store: 'shuttle', folder: 'show-copies' },
    ]);
    expect(destinationsOf(emptyDraft, stores.slice(0, 1), 'show')).toHaveLength(1);
    expect(destinationsOf({ ...emptyDraft, second: false }, stores, 'show')).toHaveLength(1);
    expect(destinationsOf({ ...emptyDraft, targets: ['shuttle', null] }, stores, 'show')[0]?.store).toBe('shuttle');
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

it('a roll can be begun once there is a card with files, a name that may be, and a day', () => {
  expect(canBegin(card, 'A002', 'day-2')).toBe(true);
  expect(canBegin(undefined, 'A002', 'day-2')).toBe(false);
  expect(canBegin({ ...card, files: 0 }, 'A002', 'day-2')).toBe(false);
  expect(canBegin(card, '', 'day-2')).toBe(false);
  expect(canBegin(card, '../A002', 'day-2')).toBe(false);
  expect(canBegin(card, 'A002', ' ')).toBe(false);
  expect([nameProblemOf(''), nameProblemOf('A002'), nameProblemOf('a/b') !== null]).toEqual([null, null, true]);
});
