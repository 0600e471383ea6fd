import { compile } from '@relay/core/colour/ops/compile';
import { reversed } from '@relay/core/colour/ops/reversed';
import { compileInverse1d } from '@relay/core/colour/lut/inverse1d';
import { compileInverse3d } from '@relay/core/colour/lut/inverse3d';
import type { ColourOp, Transform } from '@relay/core/colour/ops/op';
import { complain, Misuse } from '../output.ts';
import { chainOf, type ChainValues } from './chainOf.ts';
import { orMisuse } from './files.ts';
import { evaluateTriplets } from './triplets.ts';

/** An inverse, with what it could not do said at the end. */
function inverseOf(ops: readonly ColourOp[]): { transform: Transform; report: () => string[] } {
  const back = orMisuse(reversed(ops));
  const reports: (() => string | null)[] = [];
  const steps = back.map((op): Transform => {
    if (op.op === 'lut1d' && op.reverse) {
      const inverse = compileInverse1d(op.lut);
      const [r, g, b] = inverse.levelled;
      reports.push(() =>
        r + g + b > 0
          ? `the table turns back at ${r + g + b} entries, which cannot be inverted and were levelled`
          : null,
      );
      return inverse.transform;
    }
    if (op.op === 'lut3d' && op.reverse) {
      const inverse = compileInverse3d(op.lut);
      reports.push(() =>
        inverse.notReached() > 0
          ? `${inverse.notReached()} of the colours are not among those that the cube gives; the nearest stands in their place`
          : null,
      );
      return inverse.transform;
    }
    return compile([op]);
  });
  return {
    transform: (rgb) => steps.forEach((step) => step(rgb)),
    report: () => reports.flatMap((one) => one() ?? []),
  };
}

/** `relay colour eval`: triplets through states, a CDL, LUTs, or all of them. */
export async function evalCommand(values: ChainValues & { rgb?: string; inverse?: boolean }): Promise<number> {
  if ((values.from === undefined) !== (values.to === undefined))
    throw new Misuse('eval takes --from and --to together');
  if (values.from === undefined && !values.lut && values.cdl === undefined)
    throw new Misuse('eval needs --from STATE --to STATE, --lut FILE or --cdl FILE');
  const { plan, warnings } = await chainOf(values);
  warnings.forEach(complain);
  if (!values.inverse) {
    await evaluateTriplets(compile(plan.ops), values.rgb);
    return 0;
  }
  const { transform, report } = inverseOf(plan.ops);
  await evaluateTriplets(transform, values.rgb);
  report().forEach(complain);
  return 0;
}
