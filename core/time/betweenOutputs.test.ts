import { expect, it } from 'vitest';
import { betweenOutputs } from './betweenOutputs.ts';
import { shownBy, type FrameMap } from './frameMap.ts';
import { rational } from './rational.ts';

const film = rational(24000, 1001);
const held: FrameMap = { kind: 'hold', ratio: rational(1001, 960) };

it('outputs that show every frame show the same ones, however fast', () => {
  const relabelled = { map: { kind: 'every' }, rate: rational(25) } as const;
  expect(betweenOutputs({ map: { kind: 'every' }, rate: film }, relabelled)).toEqual({ kind: 'every' });
});

it('of a held one and a plain one, the frame of the same moment is found, both ways', () => {
  const plain = { map: { kind: 'every' }, rate: film } as const;
  const conformed = { map: held, rate: rational(25) };
  const there = betweenOutputs(conformed, plain);
  for (const n of [0, 1, 24, 500]) expect(shownBy(there, n, 1000).frame).toBe(shownBy(held, n, 1000).frame);
  const back = betweenOutputs(plain, conformed);
  for (const n of [0, 1, 24, 500]) expect(shownBy(held, shownBy(back, n, 2000).frame, 1000).frame).toBeCloseTo(n, -0.5);
});

it('of fields and frames, two go for one', () => {
  const fields = { map: { kind: 'fields' }, rate: rational(50) } as const;
  const frames = { map: { kind: 'every' }, rate: rational(25) } as const;
  expect(shownBy(betweenOutputs(fields, frames), 7, 100).frame).toBe(3);
  expect(shownBy(betweenOutputs(frames, fields), 3, 100).frame).toBe(6);
});

it('of uneven times, the moment counts', () => {
  const times: FrameMap = { kind: 'times', places: [0, 1, 3] };
  expect(betweenOutputs({ map: times, rate: rational(30) }, { map: times, rate: rational(30) })).toEqual({
    kind: 'every',
  });
  expect(betweenOutputs({ map: times, rate: rational(30) }, { map: times, rate: rational(25) })).toEqual({
    kind: 'hold',
    ratio: rational(6, 5),
  });
});
