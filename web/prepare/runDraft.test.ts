import type { RunCheck } from '@relay/contract/runs';
import { describe, expect, it } from 'vitest';
import { beginsAt, isLate, isWrongHour, nextAt } from './hours.ts';
import { canStart, closerBy, isTooFull, wantsSampling, type RunDraft } from './runDraft.ts';

const check = (rest: Partial<RunCheck> = {}): RunCheck =>
  ({
    clips: 2,
    bytesAtMost: 100,
    freeBytes: 150,
    promisedBytes: 0,
    bytes: { least: 1, likely: 2, most: 3 },
    seconds: null,
    deliverables: [
      { deliverable: 'Proxy', outputs: 2, bytes: { least: 1, likely: 2, most: 3 }, known: 'roughly', warnings: ['w'] },
    ],
    ...rest,
  }) as RunCheck;
const draft: RunDraft = {
  name: 'Run 1',
  recipe: 'r',
  store: 's',
  folder: 'out',
  inWaves: false,
  notBefore: '',
  wantedBy: '',
};

describe('a run can be started', () => {
  it('when what was checked is what stands in the form, and there is room', () => {
    expect(canStart(draft, check(), 'out')).toBe(true);
    expect(canStart(draft, undefined, 'out')).toBe(false);
    expect(canStart(draft, check({ clips: 0 }), 'out')).toBe(false);
    expect(canStart(draft, check(), 'ou')).toBe(false);
    expect(canStart(draft, check({ freeBytes: 99 }), 'out')).toBe(false);
  });

  it('not while an hour is half typed: it would begin at once', () => {
    expect(canStart({ ...draft, notBefore: '2' }, check(), 'out')).toBe(false);
    expect(canStart({ ...draft, wantedBy: '25:00' }, check(), 'out')).toBe(false);
    expect(canStart({ ...draft, notBefore: '22:30', wantedBy: '7:00' }, check(), 'out')).toBe(true);
  });

  it('only where what other runs were promised is left to them', () => {
    expect([isTooFull(check({ promisedBytes: 50 })), isTooFull(check({ promisedBytes: 51 }))]).toEqual([false, true]);
  });
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
