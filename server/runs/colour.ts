import { bakeCube } from '@relay/core/colour/bake/bake';
import type { Chain } from '@relay/core/colour/chain/chain';
import { planChain, type LutLookup } from '@relay/core/colour/chain/plan';
import { shapersFor, type Shaper } from '@relay/core/colour/bake/shaper';
import { sayChain } from '@relay/core/colour/chain/say';
import { readLutFile } from '@relay/core/colour/lut/file';
import { writeCube } from '@relay/core/colour/lut/cubeWrite';
import type { LutFile } from '@relay/core/colour/lut/read';
import { compile } from '@relay/core/colour/ops/compile';
import type { ColourOp } from '@relay/core/colour/ops/op';
import { forLutFilter } from '@relay/core/colour/ycbcr';
import { colourComparison, colourDifference, provedDepth, type ColourSample } from '@relay/core/proof/colour';
import type { Comparison } from '@relay/core/proof/proof';
import { codecRow } from '@relay/core/recipe/codecs';
import type { OutputPlan } from '@relay/core/recipe/plan';
import { ok, unwrap, type Result } from '@relay/core/result';
import { needsLut } from '@relay/media/leg/filters';
import { scratchFolder } from '@relay/media/process/scratch';
import { rm, writeFile } from 'node:fs/promises';
import { join } from 'node:path';

/** A LUT's text by its key: the cabinet's, or a file that the command line was given. Null when it is not there. */
export type LutText = (key: string) => Promise<{ text: string; fileName: string } | null>;

/** Points of the cube that a picture goes through: the most that is usual, since here nothing but the error counts. */
const runPoints = 65;
/** Points of a LUT that is delivered beside pictures: what every cutting program takes (common practice, no source). */
const besidePoints = 33;

const [plain] = shapersFor(false) as [Shaper, ...Shaper[]];

/** Every LUT that chains name, read. */
export async function lutsOf(chains: readonly Chain[], textOf: LutText): Promise<Result<LutLookup>> {
  const files = new Map<string, LutFile>();
  for (const step of chains.flatMap((chain) => chain.steps)) {
    if (step.kind !== 'lut' || step.muted || files.has(step.lut)) continue;
    const found = await textOf(step.lut);
    if (!found) continue; // Said by the chain's plan, which knows the step's name.
    const read = readLutFile(found.text, found.fileName);
    if (!read.ok) return { ok: false, problem: { ...read.problem, what: `${step.name}: ${read.problem.what}` } };
    files.set(step.lut, read.value);
  }
  return ok((key) => files.get(key) ?? null);
}

/** The text of the newest bakes: legs of one run mostly share a chain. */
const recent = new Map<string, string>();

function bakedText(key: string, make: () => string): string {
  const text = recent.get(key) ?? make();
  recent.delete(key);
  recent.set(key, text);
  if (recent.size > 6) recent.delete(recent.keys().next().value as string);
  return text;
}

/** The matrices of an output's samples, before its chain and after. */
function matricesOf({ video }: OutputPlan): readonly [string, string] {
  return [video.samplesIn.matrix, video.colour.matrix ?? 'bt709'];
}

/** What a leg's colour needs, made ready before its pictures are. */
export interface LegColour {
  /** For each output, the baked file of its chain; undefined where the picture stays as shot. */
  luts: (string | undefined)[];
  /** LUTs to lie beside outputs: path below the run's folder, and text. */
  beside: { path: string; text: string }[];
  /** Holds an output's decoded frame against the chain itself; null where there is nothing to hold. */
  prove: (output: OutputPlan, sample: ColourSample | null) => Comparison | null;
  discard: () => Promise<void>;
}

/** Bakes the chains of a leg's outputs. @throws Error in plain words when a chain cannot be baked */
export async function legColour(outputs: readonly OutputPlan[], textOf: LutText): Promise<LegColour> {
  const chains = outputs.flatMap(({ colour }) => (colour && colour.kind !== 'as-shot' ? [colour.chain] : []));
  if (chains.length === 0) return { luts: [], beside: [], prove: () => null, discard: async () => undefined };
  const lookup = unwrap(await lutsOf(chains, textOf));
  const exact = new Map<OutputPlan, ColourOp[]>();
  const luts: (string | undefined)[] = [];
  const beside = new Map<string, string>();
  const folder = await scratchFolder();
  const discard = (): Promise<void> => rm(folder, { recursive: true, force: true });
  try {
    for (const [index, output] of outputs.entries()) {
      const { colour } = output;
      luts.push(undefined);
      if (!colour || colour.kind === 'as-shot') continue;
      const { ops } = unwrap(planChain(colour.chain, lookup));
      const key = JSON.stringify(colour.chain);
      if (colour.kind === 'beside') {
        const cube = (): string => writeCube({ cube: bakeCube(compile(ops), besidePoints, plain), title: sayChain(colour.chain), notes: ['full range in and out', sayChain(colour.chain)] });
        beside.set(colour.path, bakedText(`beside ${key}`, cube));
        continue;
      }
      exact.set(output, ops);
      const [before, after] = matricesOf(output);
      const path = join(folder, `${index}.cube`);
      await writeFile(path, bakedText(`run ${before} ${after} ${key}`, () => writeCube({ cube: bakeCube(compile(forLutFilter(ops, before, after)), runPoints, plain) })));
      luts[index] = path;
    }
  } catch (error) {
    await discard();
    throw error;
  }
  return {
    luts, beside: [...beside].map(([path, text]) => ({ path, text })), discard,
    prove: (output, sample) => {
      const ops = exact.get(output);
      if (!needsLut(output) || !ops) return null;
      const bitDepth = provedDepth(codecRow(output.codec));
      if (!sample) return { name: 'colour by the chain', planned: `mean error under 1 of ${2 ** bitDepth - 1}`, found: 'no frame to compare', holds: false };
      return colourComparison(colourDifference(sample, ops, matricesOf(output), bitDepth), bitDepth, sample.frame);
    },
  };
}
