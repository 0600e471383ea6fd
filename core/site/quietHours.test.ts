import { describe, expect, it } from 'vitest';
import { afterQuiet, minutesUntilWork, quietStretches } from './quietHours.ts';

describe('quiet hours', () => {
  const office = { from: '09:00', until: '18:30' };
  const night = { from: '22:00', until: '06:00' };
  const at = (text: string): number => Number(text.slice(0, 2)) * 60 + Number(text.slice(3));

  it.each([
    [office, '08:59', 0],
    [office, '09:00', 570],
    [office, '18:29', 1],
    [office, '18:30', 0],
    [night, '21:59', 0],
    [night, '22:00', 480],
    [night, '00:00', 360],
    [night, '05:59', 1],
    [night, '06:00', 0],
    [{ from: '07:00', until: '07:00' }, '07:00', 0],
    [{ from: '7', until: 'x' }, '07:00', 0],
  ] as const)('%o at %s: work in %i minutes', (quiet, time, wait) =>
    expect(minutesUntilWork(quiet, at(time))).toBe(wait),
  );

  it("as stretches agree with the minutes, whatever the machine's clock is ahead of UTC", () => {
    const now = Date.UTC(2026, 10, 25, 12, 0);
    for (const offset of [-570, 0, 60, 330]) {
      for (const quiet of [office, night]) {
        const stretches = quietStretches(quiet, now, offset);
        for (let minutes = 0; minutes < 3 * 24 * 60; minutes += 17) {
          const time = now + minutes * 60_000;
          const local = (time / 60_000 + offset) % (24 * 60);
          expect(afterQuiet(time, stretches) - time).toBe(minutesUntilWork(quiet, local) * 60_000);
        }
      }
    }
    // A week from midnight on; today's is over at seven in the evening.
    expect(quietStretches(office, now, 0)).toHaveLength(7);
    expect(quietStretches(office, now + 7 * 60 * 60_000, 0)).toHaveLength(6);
    expect(quietStretches(null, now, 0)).toEqual([]);
    expect(quietStretches({ from: '07:00', until: '07:00' }, now, 0)).toEqual([]);
  });
});
