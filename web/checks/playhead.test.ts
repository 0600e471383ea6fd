import { expect, it } from 'vitest';
import { Playhead } from './playhead.ts';

it('says the frame at once, and pictures a second once half a second of them was drawn', () => {
  const head = new Playhead();
  let told = 0;
  const stop = head.subscribe(() => (told += 1));
  for (let n = 0; n <= 48; n += 1) head.drew(n, 1000 + (n * 1000) / 24);
  expect(head.get()).toEqual({ frame: 48, drawnPerSecond: expect.closeTo(24, 6) as number, waits: null });
  // Every other picture is left out from here on.
  for (let n = 50; n <= 98; n += 2) head.drew(n, 1000 + (n * 1000) / 24);
  expect(head.get().drawnPerSecond).toBeCloseTo(12, 6);
  head.to(3);
  expect(head.get()).toEqual({ frame: 3, drawnPerSecond: null, waits: null });
  stop();
  head.to(4);
  expect(told).toBe(49 + 25 + 1);
});

it('says in how many whole seconds what is gathered will be played, until a picture is drawn', () => {
  const head = new Playhead(5);
  let told = 0;
  head.subscribe(() => (told += 1));
  for (const seconds of [3.4, 3.2, 3.05, 2.9]) head.gathers(seconds);
  expect(told).toBe(2);
  expect(head.get()).toEqual({ frame: 5, drawnPerSecond: null, waits: 3 });
  head.drew(5, 1000);
  expect(head.get().waits).toBe(null);
});
