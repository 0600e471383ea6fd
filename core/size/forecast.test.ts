import { expect, it } from 'vitest';
import { sampleClip } from '../clip/sample.ts';
import type { OutputPlan } from '../recipe/legPlan.ts';
import { planLeg } from '../recipe/plan.ts';
import { finishAndCut } from '../recipe/recipe.ts';
import { unwrap } from '../result.ts';
import { legBytesAtMost, outputBytesAtMost } from './forecast.ts';

it("reckons at most the profile's target for an intermediate, with its sound", () => {
  const [intermediate, proxy] = unwrap(planLeg(sampleClip(), finishAndCut)).outputs as [OutputPlan, OutputPlan];
  // 3.003 s of 176 Mb/s and a tenth more, six tracks of 144,144 samples of 3 bytes.
  const expected = (176e6 * 1.1 * 3.003) / 8 + 6 * 144_144 * 3 + 64_000;
  expect(Math.abs(outputBytesAtMost(intermediate) / expected - 1)).toBeLessThan(0.001);
  expect(outputBytesAtMost(proxy)).toBeLessThan(outputBytesAtMost(intermediate) / 4);
});

it('adds up over a leg and grows with the material', () => {
  const short = unwrap(planLeg(sampleClip(), finishAndCut));
  const long = unwrap(planLeg(sampleClip({}, { frames: 720 }), finishAndCut));
  expect(legBytesAtMost(short)).toBe(short.outputs.reduce((sum, output) => sum + outputBytesAtMost(output), 0));
  expect(legBytesAtMost(long) / legBytesAtMost(short)).toBeGreaterThan(9);
});
