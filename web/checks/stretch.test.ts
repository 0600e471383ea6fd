import { expect, it } from 'vitest';
import { afterEnd, gatheredFor, Pace, stretchFrom, type Between, type Stretch } from './stretch.ts';

const whole: Between = { from: null, to: null, again: false };
const on = (start: number, between = whole) => stretchFrom(start, { backwards: false, between, last: 99 });
const back = (start: number, between = whole) => stretchFrom(start, { backwards: true, between, last: 99 });

it('goes on from where it stands, to the end or back to the beginning', () => {
  expect(on(40)).toEqual({ from: 40, to: 100, backwards: false });
  expect(back(40)).toEqual({ from: 40, to: 0, backwards: true });
});

it('begins anew from its end', () => {
  expect(on(99).from).toBe(0);
  expect(back(0).from).toBe(99);
});

it('between two places, however they were set, and from outside of them at their edge', () => {
  for (const between of [
    { from: 20, to: 50, again: true },
    { from: 50, to: 20, again: true },
  ]) {
    expect(on(30, between)).toEqual({ from: 30, to: 51, backwards: false });
    expect(on(70, between).from).toBe(20);
    expect(back(10, between)).toEqual({ from: 50, to: 20, backwards: true });
  }
});

it('of one frame, or with places behind the end, is that frame', () => {
  expect(stretchFrom(0, { backwards: false, between: whole, last: 0 })).toEqual({ from: 0, to: 1, backwards: false });
  expect(stretchFrom(5, { backwards: true, between: { from: 50, to: 60, again: false }, last: 9 })).toEqual({
    from: 9,
    to: 9,
    backwards: true,
  });
});

it('what comes fast is played at once; what comes slowly is gathered until it lasts, and never for long', () => {
  expect(gatheredFor(60, 2)).toBe(0.3);
  // Ten seconds that come at their own pace: at 0.55 of it they lack 4.5 s at their end; and some to spare.
  expect(gatheredFor(10, 1)).toBeCloseTo(5.175, 9);
  expect(gatheredFor(600, 0.5)).toBe(20);
  // All that there is.
  expect(gatheredFor(0.2, 0)).toBeCloseTo(0.1, 9);
});

it('how fast it comes is seen after a moment, in part, and by the slower of the whole and its last seconds', () => {
  const pace = new Pace();
  expect([pace.of(10, 0.25), pace.of(10.3, 1)]).toEqual([0, 0]);
  expect(pace.of(11, 1.25)).toBeCloseTo(0.8, 9);
  for (let at = 11.5; at <= 15; at += 0.5) pace.of(at, at - 9.75);
  // From the second at 15 on half as fast.
  for (let at = 15.5; at < 19.5; at += 0.5) pace.of(at, 5.25 + (at - 15) / 2);
  expect(pace.of(19.5, 7.5)).toBeCloseTo(0.5, 9);
  // Fast at last: the whole is what is gone by.
  expect(pace.of(20, 17)).toBeCloseTo(1.675, 9);
});

it('at its end it stands on its last frame, or begins again at the first', () => {
  const stretch: Stretch = { from: 20, to: 51, backwards: false, speed: 1, turn: 1 };
  const between: Between = { from: 20, to: 50, again: false };
  const after = (one: Stretch, again: boolean, seen = 30) =>
    afterEnd(one, { between: { ...between, again }, last: 99, seen });
  expect(after(stretch, false)).toEqual({ frame: 50, again: false });
  expect(after(stretch, true)).toBe('the same again');
  // Begun in the middle, it goes on from its first.
  expect(after({ ...stretch, from: 40 }, true)).toEqual({ frame: 20, again: true });
  expect(after({ ...stretch, from: 50, to: 20, backwards: true }, false)).toEqual({ frame: 20, again: false });
});

it('a stream that ended early was not made whole, but the last pictures may be left out', () => {
  const stretch: Stretch = { from: 0, to: 100, backwards: false, speed: 4, turn: 1 };
  const after = (seen: number) => afterEnd(stretch, { between: whole, last: 99, seen });
  expect([after(40), after(86)]).toEqual(['cut short', 'cut short']);
  expect(after(88)).toEqual({ frame: 99, again: false });
});
