import type { Chain, ChainStep } from '@relay/core/colour/chain/chain';
import { planChain, type PlannedChain } from '@relay/core/colour/chain/plan';
import { conversion, renderings, type Rendering } from '@relay/core/colour/convert';
import type { LutFile } from '@relay/core/colour/lut/read';
import type { ColourOp, Interpolation } from '@relay/core/colour/ops/op';
import { colourState, type ColourState } from '@relay/core/colour/states';
import { Misuse } from '../output.ts';
import { lutOf, orMisuse } from './files.ts';

/** What names a chain on the command line. */
export interface ChainValues {
  from?: string;
  to?: string;
  lut?: string[];
  cdl?: string;
  interp?: string;
  rendering?: string;
  cdlIn?: string;
  lutTakes?: string;
  lutGives?: string;
  rangeIn?: string;
  rangeOut?: string;
}

function oneOf<T extends string>(value: string | undefined, choices: readonly T[], option: string, fallback: T): T {
  if (value === undefined) return fallback;
  const found = choices.find((choice) => choice === value);
  if (!found) throw new Misuse(`${option} is ${choices.join(' or ')}, not ${JSON.stringify(value)}`);
  return found;
}

/** A LUT's steps with the interpolation asked for. */
function interpolated(ops: readonly ColourOp[], interpolation: Interpolation | null): ColourOp[] {
  return ops.map((op) => (op.op === 'lut3d' && interpolation ? { ...op, interpolation } : op));
}

export interface NamedChain {
  plan: PlannedChain;
  input: ColourState | null;
  /** What reading its files passed over. */
  warnings: string[];
}

/** The chain that options name: input state → CDL → LUTs in their order → output state. */
// eslint-disable-next-line complexity -- one branch for each option that may be given
export async function chainOf(values: ChainValues): Promise<NamedChain> {
  const interpolation =
    values.interp === undefined
      ? null
      : oneOf(values.interp, ['tetrahedral', 'trilinear'] as const, '--interp', 'tetrahedral');
  const rendering: Rendering | null =
    values.rendering === undefined ? null : oneOf(values.rendering, renderings, '--rendering', 'estuary');
  const ranges = ['full', 'legal'] as const;
  const warnings: string[] = [];
  const steps: ChainStep[] = [];
  const files = new Map<string, LutFile>();
  if (values.cdl !== undefined) {
    const file = await lutOf(values.cdl);
    const [op] = file.ops;
    if (op?.op !== 'cdl') throw new Misuse(`${values.cdl} is no CDL: give it with --lut`);
    warnings.push(...file.warnings.map((warning) => `${values.cdl}: ${warning}`));
    steps.push({
      kind: 'cdl',
      id: 'cdl',
      name: values.cdl,
      muted: false,
      cdl: op.cdl,
      worksIn: values.cdlIn ?? null,
    });
  }
  for (const path of values.lut ?? []) {
    const file = await lutOf(path);
    warnings.push(...file.warnings.map((warning) => `${path}: ${warning}`));
    files.set(path, { ...file, ops: interpolated(file.ops, interpolation) });
    steps.push({
      kind: 'lut',
      id: path,
      name: path,
      muted: false,
      lut: path,
      takes: values.lutTakes ?? null,
      gives: values.lutGives ?? null,
      rangeIn: oneOf(values.rangeIn, ranges, '--range-in', 'full'),
      rangeOut: oneOf(values.rangeOut, ranges, '--range-out', 'full'),
    });
  }
  const input = values.from === undefined ? null : orMisuse(colourState(values.from));
  const output = values.to === undefined ? null : orMisuse(colourState(values.to));
  if (steps.length === 0 && input && output) {
    const ops = orMisuse(conversion(input, output, rendering));
    return {
      plan: {
        steps: [
          {
            kind: 'conversion',
            id: null,
            name: `${input.name} to ${output.name}`,
            note: rendering ?? 'colorimetric',
            ops,
            after: output.id,
          },
        ],
        ops,
        output,
        rendered: rendering !== null,
      },
      input,
      warnings,
    };
  }
  const chain: Chain = { input: input?.id ?? null, inputRange: 'full', steps, output: output?.id ?? null, rendering };
  return { plan: orMisuse(planChain(chain, (path) => files.get(path) ?? null)), input, warnings };
}
