import { describe, expect, it } from 'vitest';
import { finishAndCut } from '../recipe/recipe.ts';
import { planMark } from '../recipe/mark.ts';
import { planLeg } from '../recipe/plan.ts';
import { canBeCut } from '../recipe/segments.ts';
import { unwrap } from '../result.ts';
import { rational } from '../time/rational.ts';
import type { Chapter } from './description.ts';
import { correctionsOfPart, partMark, partOfClip, timesOfPart } from './part.ts';
import { sampleClip } from './sample.ts';

const whatOf = (made: ReturnType<typeof partOfClip>): string => (made.ok ? 'made' : made.problem.what);

describe('a part of a clip', () => {
  it('is a clip of its own: frames, length, timecode, and where it lies', () => {
    const part = unwrap(partOfClip(sampleClip(), { from: 24, to: 60 }));
    expect(part.video).toMatchObject({ frames: 36, duration: rational(36 * 1001, 24000) });
    expect(part.timecode).toEqual({ start: '10:02:12:08', dropFrame: false });
    expect(part.part).toEqual({ from: 24, of: 72, at: rational(1001, 1000), goesOn: true });
    expect(partMark(part)).toBe('_10021208');
  });

  it('counts labels over those that drop-frame leaves out', () => {
    // SMPTE ST 12-1: at 29.97 drop-frame 00:00:59;29 is followed by 00:01:00;02.
    const clip = sampleClip(
      { timecode: { start: '00:00:59;20', dropFrame: true } },
      { rate: rational(30000, 1001), frames: 90 },
    );
    expect(unwrap(partOfClip(clip, { from: 10, to: 20 })).timecode).toEqual({ start: '00:01:00;02', dropFrame: true });
  });

  it('goes over midnight', () => {
    const clip = sampleClip(
      { timecode: { start: '23:59:59:20', dropFrame: false } },
      { rate: rational(25), frames: 50 },
    );
    expect(unwrap(partOfClip(clip, { from: 10, to: 20 })).timecode?.start).toBe('00:00:00:05');
  });

  it('has no frames that are not there', () => {
    for (const [from, to] of [
      [-1, 5],
      [5, 5],
      [60, 73],
      [0.5, 4],
    ] as const)
      expect(whatOf(partOfClip(sampleClip(), { from, to }))).toContain('it has 72');
    expect(whatOf(partOfClip(sampleClip({ video: null }), { from: 0, to: 1 }))).toContain('has no pictures');
  });

  it('of a clip that is cut short may be so: where its pictures end, nobody knows before they are decoded', () => {
    const clip = sampleClip({ cutShort: 'the index is missing' });
    expect(unwrap(partOfClip(clip, { from: 0, to: 71 })).cutShort).toBe('the index is missing');
  });

  it('of a clip whose rate varies goes by the times of its pictures', () => {
    const times = Array.from({ length: 72 }, (_, n) => 0.5 + n / 25 + (n % 2 ? 0.004 : 0));
    const clip = sampleClip(
      { timecode: { start: '01:00:00:00', dropFrame: false } },
      {
        rate: rational(25),
        rateConstant: false,
        duration: rational(288, 100),
      },
    );
    const part = unwrap(partOfClip(clip, { from: 25, to: 51 }, times));
    expect(part.part?.at).toEqual(rational(1_004_000, 1_000_000));
    expect(part.video?.duration).toEqual(rational(1_040_000, 1_000_000));
    expect(part.timecode?.start).toBe('01:00:01:00');
    expect(timesOfPart(part, times)).toEqual(times.slice(25, 51));
    expect(whatOf(partOfClip(clip, { from: 25, to: 51 }))).toContain('is not known');
  });

  it('of a clip in chapters keeps those that it lies in', () => {
    const chapter = (n: number): Chapter => ({
      path: `CHAP_0${n}.mp4`,
      sizeBytes: 100 * n,
      frames: 24,
      duration: rational(1),
      start: rational(n, 100),
    });
    const clip = sampleClip({ chapters: [1, 2, 3].map(chapter), sizeBytes: 600 }, { rate: rational(24) });
    const part = unwrap(partOfClip(clip, { from: 30, to: 50 }));
    expect(part.chapters.map(({ path }) => path)).toEqual(['CHAP_02.mp4', 'CHAP_03.mp4']);
    expect(part.sizeBytes).toBe(500);
    expect(part.part?.at).toEqual(rational(1, 4));
    expect(part.video?.start).toEqual(rational(2, 100));
  });
});

describe('the plan of a part', () => {
  const planOf = (from: number, to: number) =>
    unwrap(planLeg(unwrap(partOfClip(sampleClip(), { from, to })), finishAndCut));

  it('has names, timecodes and marks of its own, and is not cut in segments', () => {
    const [first, second] = [planOf(0, 30), planOf(24, 60)];
    expect(first.outputs.map(({ path }) => path)).toEqual([
      'intermediate/day-1/A001/A001C003_10021108.mov',
      'proxy/day-1/A001/A001C003_10021108.mov',
    ]);
    expect(second.outputs[0]).toMatchObject({
      path: 'intermediate/day-1/A001/A001C003_10021208.mov',
      timecode: { start: '10:02:12:08', dropFrame: false },
      video: { frames: 36 },
      sound: { samples: 72_072 },
    });
    expect(second.pictureStart).toEqual(rational(0));
    expect(canBeCut(second)).toBe(false);
    const marks = [planOf(24, 60), planOf(24, 59), planOf(25, 60)].map((plan) =>
      planMark(plan, plan.outputs[0] as (typeof plan.outputs)[number]),
    );
    expect(new Set(marks).size).toBe(3);
  });

  it('is named by its frame where there is no timecode', () => {
    expect(partMark(unwrap(partOfClip(sampleClip({ timecode: null }), { from: 24, to: 60 })))).toBe('_f000024');
    expect(partMark(sampleClip())).toBe('');
  });

  it('keeps the place in a pulldown’s pattern', () => {
    const time = { kind: 'pulldown-out', phase: 3, timecode: 'as labelled' } as const;
    const { part } = unwrap(partOfClip(sampleClip(), { from: 24, to: 60 }));
    expect(correctionsOfPart({ time }, part).time).toEqual({ ...time, phase: 2 });
    expect(correctionsOfPart({ time }, undefined).time).toEqual(time);
  });
});
