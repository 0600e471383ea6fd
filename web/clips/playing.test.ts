import type { ClipAnswer } from '@relay/contract/clips';
import { sampleClip } from '@relay/core/clip/sample';
import { rational } from '@relay/core/time/rational';
import { expect, it } from 'vitest';
import { channelsOf, frameSeconds, nextChapter, pictureAt, placeName, secondsOf } from './playing.ts';

const clip = { description: sampleClip({}, { rate: rational(25), frames: 100 }) } as ClipAnswer;
const track = { ...clip.description.audio[0], channels: 2 } as ClipAnswer['description']['audio'][number];
const sound = (...seconds: number[]): ClipAnswer =>
  ({
    description: {
      ...clip.description,
      video: null,
      audio: seconds.map((one) => ({ ...track, duration: rational(Math.round(one * 1000), 1000) })),
    },
  }) as ClipAnswer;

it('a clip plays as long as its pictures, or its longest sound', () => {
  expect([secondsOf(clip), secondsOf(sound(2, 3.5, 1)), secondsOf(sound())]).toEqual([4, 3.5, 0]);
  expect([frameSeconds(clip), frameSeconds(sound(2))]).toEqual([0.04, 0.04]);
  expect([channelsOf(clip), channelsOf(sound(1, 1))]).toEqual([6, 4]);
});

it('a second is the picture nearest to it, and called by its timecode', () => {
  expect([
    pictureAt(clip, 0),
    pictureAt(clip, 0.05),
    pictureAt(clip, 0.07),
    pictureAt(clip, 9),
    pictureAt(clip, -1),
  ]).toEqual([0, 1, 2, 99, 0]);
  expect(placeName(clip, 1)).toBe('10:02:12:08');
  expect(placeName({ description: { ...clip.description, timecode: null } }, 1)).toBe('00:00:01:00');
  expect(placeName(sound(9), 1.26)).toBe('1.3 s');
});

it('behind a file comes the next, a hair behind its edge', () => {
  const parts = [2, 3, 4].map((seconds) => ({ duration: rational(seconds) }));
  const chaptered = { description: { ...clip.description, chapters: parts } } as unknown as ClipAnswer;
  expect([nextChapter(chaptered, 0), nextChapter(chaptered, 1.9), nextChapter(chaptered, 4)]).toEqual([
    2.001, 5.001, 5.001,
  ]);
});
