import { expect, it } from 'vitest';
import { Playhead } from './playhead.ts';

it('says the frame at once, and pictures a second once half a second of them was drawn', () => {
  const head = new Playhead();
  let told = 0;
  const stop = head.subscribe(() => (told += 1));
  for (let n = 0; n <= 48; n += 1) head.drew(n, 1000 + (n * 1000) / 24);
  expect(head.get()).toEqual({ frame: 48, drawnPerSecond: expect.closeTo(24, 6) as number });
  // Every other picture is left out from here on.
  for (let n = 50; n <= 98; n += 2) head.drew(n, 1000 + (n * 1000) / 24);
  expect(head.get().drawnPerSecond).toBeCloseTo(12, 6);
  head.to(3);
  expect(head.get()).toEqual({ frame: 3, drawnPerSecond: null });
  stop();
  head.to(4);
  expect(told).toBe(49 + 25 + 1);
});
