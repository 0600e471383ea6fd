import { expect, it } from 'vitest';
import { sampleClip } from '../clip/sample.ts';
import { unwrap } from '../result.ts';
import { rational } from '../time/rational.ts';
import { inWaves, planMark } from './mark.ts';
import type { LegPlan } from './legPlan.ts';
import { planLeg } from './plan.ts';
import { finishAndCut } from './recipe.ts';

const marks = (plan: LegPlan): string[] => plan.outputs.map((output) => planMark(plan, output));
const plain = unwrap(planLeg(sampleClip(), finishAndCut));

it('marks change with what is made, and with nothing else', () => {
  expect(marks(plain)).toEqual(marks(JSON.parse(JSON.stringify(plain)) as LegPlan));
  expect(marks(plain)[0]).toMatch(/^[0-9a-f]{16}$/);
  const renamed = unwrap(
    planLeg(sampleClip(), {
      ...finishAndCut,
      deliverables: finishAndCut.deliverables.map((one) => ({ ...one, name: `${one.name}!` })),
    }),
  );
  expect(marks(renamed)).toEqual(marks(plain));
  // Only the proxy's quality: the intermediate stays what it is.
  const other = unwrap(
    planLeg(sampleClip(), {
      ...finishAndCut,
      deliverables: finishAndCut.deliverables.map((one) =>
        one.role === 'proxy' ? { ...one, codec: { id: 'h264' as const, quality: 24 } } : one,
      ),
    }),
  );
  expect(marks(other)[0]).toBe(marks(plain)[0]);
  expect(marks(other)[1]).not.toBe(marks(plain)[1]);
  const squeezed = unwrap(planLeg(sampleClip(), finishAndCut, { shape: { squeeze: rational(4, 3) } }));
  expect(marks(squeezed).filter((mark) => marks(plain).includes(mark))).toEqual([]);
  const varying = unwrap(planLeg(sampleClip({}, { rateConstant: false }), finishAndCut));
  const timed: LegPlan = {
    ...varying,
    outputs: varying.outputs.map((output) => ({
      ...output,
      video: { ...output.video, map: { kind: 'times', places: [0, 1, 3] } },
    })),
  };
  expect(marks(timed)).toEqual(marks(varying));
  const newer = unwrap(planLeg(sampleClip({ sizeBytes: 5_000_001 }), finishAndCut));
  expect(marks(newer).filter((mark) => marks(plain).includes(mark))).toEqual([]);
});

it('waves take what is cut with first, and lose no output', () => {
  expect(inWaves(plain).map(({ wave, plan }) => [wave, plan.outputs.map(({ role }) => role)])).toEqual([
    [1, ['proxy']],
    [2, ['intermediate']],
  ]);
  const onlyOne = { ...plain, outputs: plain.outputs.slice(0, 1) };
  expect(inWaves(onlyOne).map(({ wave, plan }) => [wave, plan.outputs.length])).toEqual([[1, 1]]);
});
