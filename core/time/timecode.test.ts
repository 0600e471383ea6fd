import fc from 'fast-check';
import SmpteTimecode from 'smpte-timecode';
import { describe, expect, it } from 'vitest';
import { unwrap } from '../result.ts';
import { labelAt } from './labelAt.ts';
import { rational, type Rational } from './rational.ts';
import { parseRate } from './rate.ts';
import { framesPerDay, framesToTimecode, timecodeToFrames } from './timecode.ts';

const ntsc30 = rational(30000, 1001);
const ntsc60 = rational(60000, 1001);

describe('drop-frame counts (SMPTE ST 12-1)', () => {
  it('has 107,892 frames an hour and 2,589,408 a day at 29.97', () => {
    expect(unwrap(timecodeToFrames('01:00:00;00', ntsc30))).toBe(107_892);
    expect(framesPerDay(ntsc30, true)).toBe(2_589_408);
  });

  it('leaves out ;00 and ;01 at each minute but the tenths, four numbers at 59.94, eight at 119.88', () => {
    // Three digits are for more than a hundred frames a second.
    expect([
      timecodeToFrames('00:00:00:010', rational(25)).ok,
      timecodeToFrames('00:00:00:010', rational(120)).ok,
    ]).toEqual([false, true]);
    expect(timecodeToFrames('00:01:00;01', ntsc30).ok).toBe(false);
    expect(unwrap(timecodeToFrames('00:01:00;02', ntsc30))).toBe(1800);
    expect(unwrap(timecodeToFrames('00:10:00;00', ntsc30))).toBe(17_982);
    expect(timecodeToFrames('00:01:00;03', ntsc60).ok).toBe(false);
    expect(unwrap(timecodeToFrames('00:01:00;04', ntsc60))).toBe(3600);
    expect(unwrap(timecodeToFrames('00:01:00;08', rational(120000, 1001)))).toBe(7200);
  });

  it('refuses drop-frame where it does not exist, and labels that cannot be', () => {
    expect(timecodeToFrames('01:00:00;00', rational(24000, 1001)).ok).toBe(false);
    expect(timecodeToFrames('01:00:00;00', rational(25)).ok).toBe(false);
    for (const label of ['24:00:00:00', '00:60:00:00', '00:00:00:25', '1:2:3', '', '00:00:00:-1']) {
      expect(timecodeToFrames(label, rational(25)).ok).toBe(false);
    }
    expect(framesToTimecode(1.5, rational(25)).ok).toBe(false);
  });
});

describe('against smpte-timecode (an independent implementation)', () => {
  const cases = [
    { rate: '23.976', theirs: 23.976, drop: false },
    { rate: '25', theirs: 25, drop: false },
    { rate: '29.97', theirs: 29.97, drop: true },
    { rate: '29.97', theirs: 29.97, drop: false },
    { rate: '59.94', theirs: 59.94, drop: true },
  ] as const;
  it.each(cases)('agrees over a day of seconds at $rate, drop $drop', ({ rate, theirs, drop }) => {
    const exact = unwrap(parseRate(rate));
    const day = framesPerDay(exact, drop);
    for (let frame = 0; frame < day; frame += 997) {
      const other = new SmpteTimecode(frame, theirs, drop).toString();
      const ours = unwrap(framesToTimecode(frame, exact, drop)).text;
      if (ours !== other || unwrap(timecodeToFrames(ours, exact)) !== frame)
        expect([frame, ours]).toEqual([frame, other]);
    }
  });
});

it('frames → label → frames is the identity at every rate, and wraps at midnight', () => {
  const rates = fc.constantFrom('23.976', '24', '25', '29.97', '30', '47.952', '50', '59.94', '60', '119.88', '120');
  fc.assert(
    fc.property(rates, fc.boolean(), fc.integer({ min: -5_000_000, max: 30_000_000 }), (text, wantDrop, frames) => {
      const rate = unwrap(parseRate(text));
      const drop = wantDrop && framesToTimecode(0, rate, true).ok;
      const day = framesPerDay(rate, drop);
      const label = unwrap(framesToTimecode(frames, rate, drop));
      expect(unwrap(timecodeToFrames(label.text, rate))).toBe(((frames % day) + day) % day);
    }),
  );
});

describe('labels at another rate', () => {
  it('name the same moment: hours, minutes and seconds stay, frames are scaled', () => {
    const at = (text: string, from: Rational, to: Rational): string | null => {
      const found = labelAt(text, from, to);
      return found.ok ? found.value.text : null;
    };
    expect(at('10:00:00:12', rational(25), rational(50))).toBe('10:00:00:24');
    expect(at('10:00:00:25', rational(50), rational(25))).toBe('10:00:00:12');
    // Drop-frame: 2 numbers of 30, or 4 of 60, are left out at the same minutes (SMPTE ST 12-1, 12-3).
    expect(at('01:01:00;02', rational(30000, 1001), rational(60000, 1001))).toBe('01:01:00;04');
    expect(at('01:01:00;02', rational(30000, 1001), rational(25))).toBe('01:01:00:01');
    expect(at('01:01:00;00', rational(30000, 1001), rational(60000, 1001))).toBeNull();
    for (let frame = 0; frame < 200_000; frame += 977) {
      const [low, high] = [
        framesToTimecode(frame, rational(30000, 1001), true),
        framesToTimecode(2 * frame, rational(60000, 1001), true),
      ];
      expect(at(low.ok ? low.value.text : '', rational(30000, 1001), rational(60000, 1001))).toBe(
        high.ok ? high.value.text : '',
      );
    }
  });
});
