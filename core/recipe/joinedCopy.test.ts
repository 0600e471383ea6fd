import { expect, it } from 'vitest';
import { sampleClip } from '../clip/sample.ts';
import { unwrap } from '../result.ts';
import { rational } from '../time/rational.ts';
import { planLeg } from './plan.ts';
import { viewingCopies } from './recipe.ts';
import { planJoinedCopy, type JoinedCopyPart } from './joinedCopy.ts';

function part(title: string, clip = sampleClip()): JoinedCopyPart {
  const output = unwrap(planLeg({ ...clip, stem: title, path: `A001/${title}.mov` }, viewingCopies)).outputs[0];
  if (!output) throw new Error('no output');
  return { path: output.path, title, output };
}

it('is as long as its parts together, picture by picture and sample by sample', () => {
  const joined = unwrap(planJoinedCopy([part('A'), part('B'), part('C')], 'review/night-joined.mov'));
  expect(joined.parts.map(({ title, frames }) => [title, frames])).toEqual([
    ['A', 72],
    ['B', 72],
    ['C', 72],
  ]);
  // 216 frames of 1001/24000 s at 48 kHz.
  expect([joined.output.video.frames, joined.output.sound.samples, joined.output.timecode?.start]).toEqual([
    216,
    432_432,
    '01:00:00:00',
  ]);
});

it('takes only what is alike, and says which is not and in what', () => {
  const other = sampleClip({}, { rate: rational(25) });
  expect(planJoinedCopy([part('A'), part('B', other)], 'x.mov')).toMatchObject({
    ok: false,
    problem: { what: expect.stringContaining('B cannot follow A: its rate is 25.000, not 23.976') as string },
  });
  const mute = { ...sampleClip(), audio: [] };
  expect(planJoinedCopy([part('A'), part('B', mute)], 'x.mov')).toMatchObject({
    ok: false,
    problem: { what: expect.stringContaining('its sound is none') as string },
  });
  expect(planJoinedCopy([part('A')], 'x.mov')).toMatchObject({ ok: false });
});
