import { rational } from '@relay/core/time/rational';
import { expect, it } from 'vitest';
import { frameTyped, labelOf, type Labelled } from './goTo.ts';

/** Four seconds at a rate, from a timecode. */
const clip = (rate: [number, number], start: string | null): Labelled =>
  ({
    video: { rate: rational(...rate), frames: 4 * Math.round(rate[0] / rate[1]) },
    timecode: start === null ? null : { start, dropFrame: start.includes(';') },
  }) as Labelled;

const at25 = clip([25, 1], '10:00:00:00');
/** What is typed, and the frame it is, or what is wrong with it. */
const typed = (text: string, of: Labelled): number | string => {
  const frame = frameTyped(text, of);
  return frame.ok ? frame.value : frame.problem.what;
};

it('a timecode is the frame that has it, with colons or without', () => {
  expect(typed('10:00:01:05', at25)).toBe(30);
  expect(typed('10000105', at25)).toBe(30);
  expect(labelOf(at25, 30)).toBe('10:00:01:05');
});

it('of drop-frame clips a colon is as good as a semicolon (SMPTE ST 12-1: 00 and 01 are no frames of a minute)', () => {
  const drop = clip([30_000, 1001], '00:00:59;28');
  expect(typed('00:01:00:02', drop)).toBe(2);
  expect(labelOf(drop, 2)).toBe('00:01:00;02');
});

it('up to four digits are a frame counted from 1; without timecode, any', () => {
  expect(typed('1', at25)).toBe(0);
  expect(typed('100', at25)).toBe(99);
  expect(typed('00012', clip([25, 1], null))).toBe(11);
});

it('what is before, behind or no timecode is not gone to', () => {
  for (const outside of ['0', '101', '09:59:59:24', '10:00:04:00', '99999999'])
    expect([outside, typeof typed(outside, at25)]).toEqual([outside, 'string']);
  expect(typed('101', at25)).toBe('that is not in this clip');
  expect(typed('10:00:01:25', at25)).toContain('25');
  expect(typed('12:00', clip([25, 1], null))).toBe('that is not in this clip');
});
