import { expect, it } from 'vitest';
import { sampleClip } from '../clip/sample.ts';
import { rational } from '../time/rational.ts';
import { unwrap } from '../result.ts';
import { timeOfSound } from './soundAlone.ts';

const heard = (...seconds: (number | null)[]) => {
  const [track] = sampleClip().audio;
  if (!track) throw new Error('no track');
  return timeOfSound(
    sampleClip({
      video: null,
      audio: seconds.map((one) => ({ ...track, duration: one === null ? null : rational(Math.round(one * 48), 48) })),
    }),
  );
};

it('sound alone counts samples of its longest track, at 48 kHz', () => {
  const { frames, rate, map } = unwrap(heard(2, 3.5, null));
  expect([frames, rate, map]).toEqual([168_000, rational(48_000), { kind: 'every' }]);
});

it('sound that does not say how long it lasts is refused', () => {
  expect([heard(null).ok, heard().ok, heard(0).ok]).toEqual([false, false, false]);
});
