import { describe, expect, it } from 'vitest';
import { pace, stretches, type TimedLeg } from './lanes.ts';

const leg = (id: string, rest: Partial<TimedLeg>): TimedLeg => ({
  id,
  samples: 1000,
  startedAt: null,
  endedAt: null,
  share: 0,
  telling: true,
  waits: false,
  ...rest,
});

describe('lanes against the clock', () => {
  const done = leg('a', { startedAt: 0, endedAt: 10_000 });

  it('paces what waits by what has ended, slot by slot', () => {
    const { byLeg, readyAt } = stretches(
      [done, leg('b', { waits: true }), leg('c', { waits: true }), leg('d', { waits: true, samples: 2000 })],
      20_000,
      2,
    );
    expect(byLeg.get('b')).toEqual({ start: 20_000, end: 30_000 });
    expect(byLeg.get('c')).toEqual({ start: 20_000, end: 30_000 });
    expect(byLeg.get('d')).toEqual({ start: 30_000, end: 50_000 });
    expect(readyAt).toBe(50_000);
  });

  it('plans nothing to begin in quiet hours, and the end accordingly later', () => {
    const waits = [leg('b', { waits: true }), leg('c', { waits: true })];
    const { byLeg, readyAt } = stretches([done, ...waits], 20_000, 1, [{ start: 25_000, end: 90_000 }]);
    // What begins before them goes on in them.
    expect(byLeg.get('b')).toEqual({ start: 20_000, end: 30_000 });
    expect(byLeg.get('c')).toEqual({ start: 90_000, end: 100_000 });
    expect(readyAt).toBe(100_000);
  });

  it('does not let failed legs tell a pace, and plans nothing without one', () => {
    const failed = leg('f', { startedAt: 0, endedAt: 1, telling: false });
    expect(pace([failed], 5)).toBeNull();
    expect(stretches([failed, leg('b', { waits: true })], 5, 2).readyAt).toBeNull();
    // Nor is an end drawn for what has only just begun.
    expect(stretches([leg('r', { startedAt: 0, share: 0.01 })], 900, 2).byLeg.get('r')).toEqual({ start: 0, end: 900 });
  });

  it('is told by legs that ended, and by those that are well under way', () => {
    expect(pace([done], 20_000)).toBe(0.1);
    // Half of its samples in eight seconds, of which an eighth were sampling and proving.
    expect(pace([leg('r', { startedAt: 0, share: 0.5 })], 8_000)).toBeCloseTo((500 * 0.88) / 8_000, 12);
    expect(pace([done, leg('r', { startedAt: 0, share: 0.05 })], 20_000)).toBe(0.1);
    // No time has passed.
    expect(pace([leg('r', { startedAt: 8_000, share: 0.5 })], 8_000)).toBeNull();
  });

  it('never puts the end of a running leg into the past, and is silent when all is done', () => {
    const { byLeg } = stretches([done, leg('r', { startedAt: 0, share: 0.5 })], 60_000, 1);
    expect(byLeg.get('r')?.end).toBeGreaterThan(60_000);
    expect(stretches([done], 60_000, 1).readyAt).toBeNull();
  });
});
