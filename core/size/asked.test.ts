import { describe, expect, it } from 'vitest';
import { sampleClip } from '../clip/sample.ts';
import { planLeg } from '../recipe/plan.ts';
import { outputWarnings } from '../recipe/warnings.ts';
import { finishAndCut, type Recipe } from '../recipe/recipe.ts';
import type { OutputPlan } from '../recipe/legPlan.ts';
import { unwrap } from '../result.ts';
import { rational } from '../time/rational.ts';
import { rateAsked, rateTolerance } from './asked.ts';
import type { RateWish } from './target.ts';

const clipOf = (frames: number) => ({
  ...sampleClip({}, { rate: rational(25), frames, duration: rational(frames, 25) }),
  audio: [],
  sizeBytes: 100_000_000,
});

/** A proxy of a clip of so many frames that is to have a rate. */
function proxy(frames: number, rate: RateWish): OutputPlan {
  const recipe: Recipe = {
    ...finishAndCut,
    deliverables: finishAndCut.deliverables
      .filter(({ role }) => role === 'proxy')
      .map((one) => ({ ...one, codec: { id: 'h264', quality: 21, rate } })),
  };
  return unwrap(planLeg(clipOf(frames), recipe)).outputs[0] as OutputPlan;
}
const average = (passes: 1 | 2): RateWish => ({ kind: 'average', bitsPerSecond: 30e6, passes });
/** As many bytes as pictures of a rate take, and a wrapper. */
const bytes = (plan: OutputPlan, megabits: number): { sizeBytes: number } => ({
  sizeBytes: Math.round((megabits * 1e6 * plan.video.frames) / 25 / 8) + 6_000 + plan.video.frames * 24,
});

describe('a rate that was asked for', () => {
  it('is held more closely the longer a clip is, and in two passes', () => {
    expect([0.4, 1, 2, 10, 600].map((seconds) => Number(rateTolerance(2, seconds).toFixed(3)))).toEqual([
      0.675, 0.3, 0.175, 0.075, 0.05,
    ]);
    expect(rateTolerance(1, 10)).toBeCloseTo(0.23, 9);
  });

  it('42.6 Mb/s for 30 counts over ten frames, and not over ten seconds', () => {
    const [short, long] = [proxy(10, average(2)), proxy(250, average(2))];
    expect(rateAsked(short, bytes(short, 42.6))).toMatchObject([
      {
        name: 'rate asked for',
        planned: '30.00 Mb/s, over 0.4 s at most 50.25 Mb/s',
        found: '42.60 Mb/s',
        holds: true,
      },
    ]);
    expect(rateAsked(long, bytes(long, 42.6))).toMatchObject([
      { planned: '30.00 Mb/s, over 10.0 s at most 32.25 Mb/s', holds: false },
    ]);
    expect(rateAsked(long, bytes(long, 31))[0]?.holds).toBe(true);
  });

  it('that is not used up holds, and is said', () => {
    const plan = proxy(250, { kind: 'share', percent: 20 });
    const asked = plan.rate?.bitsPerSecond ?? 0;
    const [line] = rateAsked(plan, bytes(plan, (asked * 0.535) / 1e6));
    expect(line?.found).toMatch(/: its pictures took 5[34] % of it$/);
    expect(line?.holds).toBe(true);
  });

  it('and cannot be kept is said before the run; a quality asks for none', () => {
    const said = (plan: OutputPlan): string[] => outputWarnings(clipOf(10), plan).filter((one) => /rate/.test(one));
    expect(said(proxy(10, average(1)))).toEqual([
      'Clips this short do not keep a rate: up to 3.2 times what is asked for counts as kept; two passes come closer',
    ]);
    expect(said(proxy(250, average(2)))).toEqual([]);
    const plain = proxy(10, average(1));
    delete plain.rate;
    expect([rateAsked(plain, { sizeBytes: 1 }), said(plain)]).toEqual([[], []]);
  });
});
