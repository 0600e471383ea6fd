import { bake, proposeSize, shaperFor } from '@relay/core/colour/bake/bake';
import { measure, pictureColours } from '@relay/core/colour/bake/error';
import { shapersFor, type Shaper } from '@relay/core/colour/bake/shaper';
import { bakedText } from '@relay/core/colour/bake/text';
import { compile } from '@relay/core/colour/ops/compile';
import { diskProblem } from '@relay/work/disk/diskProblem';
import { writeWhole } from '@relay/work/disk/place';
import { basename, extname } from 'node:path';
import { complain, Misuse, printJson } from '../output.ts';
import { chainOf, type ChainValues } from './chainOf.ts';

export interface BakeOptions extends ChainValues {
  out: string;
  size?: string;
  shaper?: boolean;
  json?: boolean;
}

/** `relay colour bake --from STATE [--cdl F] [--lut F] --to STATE --size N --out FILE`. */
// eslint-disable-next-line complexity -- one branch for each option that may be given
export async function bakeCommand(values: BakeOptions): Promise<number> {
  const format = extname(values.out).slice(1).toLowerCase();
  if (format !== 'cube' && format !== 'clf') throw new Misuse(`--out ${values.out} is neither .cube nor .clf`);
  if (values.from === undefined && !values.lut && values.cdl === undefined)
    throw new Misuse('bake needs --from STATE and --to STATE, --lut FILE or --cdl FILE');
  if (values.size !== undefined && !/^\d{1,3}$/.test(values.size))
    throw new Misuse(`--size takes a whole number, not ${JSON.stringify(values.size)}`);
  const { plan, input, warnings } = await chainOf(values);
  warnings.forEach(complain);
  // A cube alone is read by more programs than one with a table before it, which only light needs in any case.
  const shaper =
    format === 'clf' || values.shaper || input?.curve.id === 'linear'
      ? shaperFor(plan.ops, input, plan.output)
      : (shapersFor(false)[0] as Shaper);
  const proposal = values.size === undefined ? proposeSize(plan.ops, input, plan.output, 20_000, shaper) : null;
  const size = proposal?.size ?? Number(values.size);
  if (size < 2 || size > 129) throw new Misuse('--size lies between 2 and 129; 17 to 65 are usual');
  const baked = bake(plan.ops, size, input, plan.output, shaper);
  const error = measure(
    compile(plan.ops),
    compile(baked.ops),
    pictureColours(input, plan.output, 60_000, 20_261_123),
    plan.output,
  );
  const title = basename(values.out, extname(values.out));
  const notes = [
    plan.steps.map((step) => step.name).join(' > '),
    `worst ${error.codes.worst.toFixed(2)} of 1023, 99.9 % within ${error.codes.p999.toFixed(2)}`,
  ];
  const { out } = values;
  await writeWhole(out, bakedText(baked, format, title, notes)).catch((problem: unknown) => {
    const { what, remedy } = diskProblem(problem, out);
    throw new Error(`${what}. ${remedy}`);
  });
  const facts = {
    out,
    size,
    shaper: baked.shaper.kind,
    steps: plan.steps.map(({ kind, name, note }) => ({ kind, name, note })),
    error,
  };
  if (values.json) printJson(facts);
  else {
    facts.steps.forEach((step) => complain(`${step.name} (${step.note})`));
    complain(
      `${size} points an edge${baked.shaper.kind === 'none' ? '' : `, ${baked.shaper.kind} table before it`}: in 10-bit codes mean ${error.codes.mean.toFixed(3)}, 99.9 % within ${error.codes.p999.toFixed(2)}, worst ${error.codes.worst.toFixed(2)}; ΔE ITP mean ${error.itp.mean.toFixed(3)}, worst ${error.itp.worst.toFixed(2)}`,
    );
    if (proposal && !proposal.enough) complain('no size stays under one code value; this is the largest');
  }
  return 0;
}
