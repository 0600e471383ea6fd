import { describe, expect, it } from 'vitest';
import { unwrap } from '../result.ts';
import { rational } from '../time/rational.ts';
import { readEdl } from './edl/read.ts';
import { framesNeeded } from './needed.ts';

// Worked by hand at 24: a dissolve of 12 takes 12 more frames of what it comes from (common practice, no source).
const needed = (...lines: string[]): string[] =>
  framesNeeded(unwrap(readEdl(lines.join('\n'), { given: rational(24) })).cut).map((span) =>
    span ? `${span.from - 86_400}-${span.to - 86_400}` : 'none',
  );

describe('the frames that a cut needs', () => {
  it('are those that are shown, and of what is dissolved from the dissolve besides', () => {
    expect(
      needed(
        '001  A V C     01:00:00:00 01:00:02:00 00:00:00:00 00:00:02:00',
        '002  A V C     01:00:02:00 01:00:02:00 00:00:02:00 00:00:02:00',
        '002  B V D 012 01:00:10:00 01:00:13:00 00:00:02:00 00:00:05:00',
        '003  BL V C    00:00:00:00 00:00:01:00 00:00:05:00 00:00:06:00',
      ),
    ).toEqual(['0-60', '240-312', 'none']);
  });

  it('are as many as the speed makes of a dissolve; backwards they come before', () => {
    const list = (speed: string, out: string) =>
      needed(
        `001  A V C     01:00:00:00 ${out} 00:00:00:00 00:00:02:00`,
        `M2   A ${speed} 01:00:00:00`,
        '002  B V W001 010 01:00:10:00 01:00:13:00 00:00:02:00 00:00:05:00',
      )[0];
    expect(list('048.0', '01:00:04:00')).toBe('0-116');
    expect(list('012.0', '01:00:01:00')).toBe('0-29');
    expect(list('-24.0', '01:00:02:00')).toBe('-10-48');
    expect(list('000.0', '01:00:02:00')).toBe('0-1');
  });

  it('are of what nothing but a dissolve shows as many as that takes', () => {
    expect(
      needed(
        '002  A V C     01:00:02:00 01:00:02:00 00:00:02:00 00:00:02:00',
        '002  B V D 012 01:00:10:00 01:00:13:00 00:00:02:00 00:00:05:00',
      ),
    ).toEqual(['48-60', '240-312']);
  });
});
