import { describe, expect, it } from 'vitest';
import { chosenBy, sayReason, sayRule, sheetState, usualRule, type CheckRule, type ToCheck } from './checkSheet.ts';

const nothing: CheckRule = { ends: false, every: null, corrected: false, worst: 0, deliverables: null, handoff: false };

/** Twelve clips of two rolls, each with an intermediate and a proxy, in the run's order. */
const outputs: ToCheck[] = Array.from({ length: 12 }, (_, clip) =>
  ['Intermediate', 'Proxy'].map((deliverable) => ({
    id: `${clip} ${deliverable[0]}`,
    deliverable,
    roll: clip < 7 ? 'A001' : 'B001',
    needsEyes: clip === 9 && deliverable === 'Proxy',
    corrected: clip === 4,
    worst: deliverable === 'Proxy' ? 0.9 + clip / 1000 : null,
  })),
).flat();
const ids = (rule: Partial<CheckRule>): string[] => chosenBy({ ...nothing, ...rule }, outputs).map(({ id }) => id);

describe('what is to be looked at', () => {
  it('is what needs eyes, whatever the rule, and first', () => {
    expect(ids({})).toEqual(['9 P']);
    expect(ids({ deliverables: ['Intermediate'], ends: true })[0]).toBe('9 P');
  });

  it('is the first and last of each roll, of each deliverable', () => {
    expect(ids({ ends: true })).toEqual(['9 P', '0 I', '0 P', '6 I', '6 P', '7 I', '7 P', '11 I', '11 P']);
    expect(ids({ ends: true, deliverables: ['Proxy'] })).toEqual(['9 P', '0 P', '6 P', '7 P', '11 P']);
  });

  it('is every so manieth clip and not every so manieth output', () => {
    expect(ids({ every: 5 })).toEqual(['9 P', '0 I', '0 P', '5 I', '5 P', '10 I', '10 P']);
    expect(ids({ every: 1 })).toHaveLength(24);
  });

  it('is what was corrected, and the worst of what was measured', () => {
    expect(ids({ corrected: true })).toEqual(['9 P', '4 I', '4 P']);
    expect(ids({ worst: 2 })).toEqual(['9 P', '0 P', '1 P']);
  });

  it('says every reason once', () => {
    const [, first] = chosenBy({ ...usualRule, deliverables: ['Proxy'] }, outputs);
    expect(first).toEqual({ id: '0 P', why: ['first of its roll', 'in the sample', 'among the worst'] });
    const one = chosenBy(usualRule, outputs.slice(1, 2));
    expect(one[0]?.why).toEqual(['first of its roll', 'last of its roll', 'in the sample', 'among the worst']);
    expect(chosenBy(usualRule, [])).toEqual([]);
  });
});

it('a run is looked at once all that is asked for is accepted, and it has ended', () => {
  expect(sheetState(['accepted', 'accepted'], true)).toEqual({ asked: 2, accepted: 2, sentBack: 0, met: true });
  expect(sheetState(['accepted', 'accepted'], false).met).toBe(false);
  expect(sheetState(['accepted', 'sent back', null], true)).toEqual({ asked: 3, accepted: 1, sentBack: 1, met: false });
  expect(sheetState([], true).met).toBe(false);
});

it('a rule is said in words', () => {
  expect(sayRule(nothing)).toBe('Asked for: what needs eyes.');
  expect(sayRule({ ...usualRule, deliverables: ['Proxy'], handoff: true })).toBe(
    'Asked for: what needs eyes, the first and the last of each roll, one of every 10 clips, everything that was corrected, the 3 worst by measure of Proxy; handed off only once it is looked at.',
  );
});

it('a reason is said by its rule', () => {
  expect(sayReason('in the sample', usualRule)).toBe('one of every 10');
  expect(sayReason('in the sample', { ...usualRule, every: 1 })).toBe('every clip');
  expect(sayReason('needs eyes', usualRule)).toBe('needs eyes');
});
