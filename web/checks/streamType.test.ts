import { expect, it } from 'vitest';
import { streamType } from './streamType.ts';

const letters = (text: string): number[] => [...text].map((one) => one.charCodeAt(0));

/** A box of MP4: its size, its kind, what it holds. */
function box(kind: string, ...held: number[][]): number[] {
  const inside = held.flat();
  const size = 8 + inside.length;
  return [(size >>> 24) & 255, (size >>> 16) & 255, (size >>> 8) & 255, size & 255, ...letters(kind), ...inside];
}

const begin = box('ftyp', letters('iso5'), [0, 0, 2, 0]);
// Version 1, profile 66 (constrained baseline), level 4.0.
const picture = box('trak', box('avc1', [1, 2, 3], box('avcC', [1, 0x42, 0xc0, 0x28, 0xff])));
const sound = box('trak', box('mp4a', [9, 9]));

it('is called by its profile and level, with sound and without', () => {
  const called = (...held: number[][]) => streamType(Uint8Array.from([...begin, ...box('moov', ...held)]));
  expect(called(picture, sound)).toBe('video/mp4;codecs="avc1.42c028,mp4a.40.2"');
  expect(called(picture)).toBe('video/mp4;codecs="avc1.42c028"');
  expect(called(sound)).toBe(null);
});

it('is not known before what says it has come whole, nor where sizes make no sense', () => {
  const whole = [...begin, ...box('moov', picture, sound)];
  for (let length = 0; length < whole.length; length += 1)
    expect(streamType(Uint8Array.from(whole.slice(0, length)))).toBe(null);
  expect(streamType(Uint8Array.from(whole))).not.toBe(null);
  expect(streamType(Uint8Array.from([0, 0, 0, 0, ...whole]))).toBe(null);
});
