import { lightTable } from '@relay/core/colour/bake/light';
import type { Chain } from '@relay/core/colour/chain/chain';
import { stateOfTags } from '@relay/core/colour/tags';
import { writeCube } from '@relay/core/colour/lut/cubeWrite';
import type { SeenApart } from '@relay/core/measure/deltaE';
import { provedDepth } from '@relay/core/proof/colour';
import type { Comparison } from '@relay/core/proof/proof';
import { codecRow } from '@relay/core/recipe/codecs';
import { isLight, keepsLight, matrixMade } from '@relay/core/recipe/video';
import type { OutputPlan } from '@relay/core/recipe/legPlan';
import { unwrap } from '@relay/core/result';
import type { FrameSample } from '@relay/media/proof/colour';
import { lightFile, needsLut } from '@relay/media/leg/filters';
import { scratchFolder } from '@relay/media/process/scratch';
import { rm, writeFile } from 'node:fs/promises';
import { under } from '@relay/core/naming/under';
import { aside } from '../aside/aside.ts';
import type { LutTexts, Matrices, SeenOrder } from '../aside/bakeChain.ts';

/** A LUT's text by its key: the cabinet's, or a file that the command line was given. Null when it is not there. */
export type LutText = (key: string) => Promise<{ text: string; fileName: string } | null>;

/** The files of every LUT that chains name. */
async function lutsOf(chains: readonly Chain[], textOf: LutText): Promise<LutTexts> {
  const files: Record<string, { text: string; fileName: string }> = {};
  for (const step of chains.flatMap((chain) => chain.steps)) {
    if (step.kind !== 'lut' || step.muted || Object.hasOwn(files, step.lut)) continue;
    const found = await textOf(step.lut);
    if (found) files[step.lut] = found;
  }
  return files;
}

/** The text of the newest bakes: legs of one run mostly share a chain. */
const recent = new Map<string, string>();

async function bakedText(
  key: string,
  chain: Chain,
  luts: LutTexts,
  matrices: Matrices | null,
  light = false,
): Promise<string> {
  const text = recent.get(key) ?? unwrap(await aside('bake', { chain, luts: only(chain, luts), matrices, light }));
  recent.delete(key);
  recent.set(key, text);
  if (recent.size > 6) recent.delete(recent.keys().next().value as string);
  return text;
}

/** Those of the files that a chain names. */
function only(chain: Chain, luts: LutTexts): LutTexts {
  const named = chain.steps.flatMap((step) => (step.kind === 'lut' ? [step.lut] : []));
  return Object.fromEntries(Object.entries(luts).filter(([key]) => named.includes(key)));
}

function matricesOf({ video }: OutputPlan): readonly [before: string, after: string] {
  return [video.samplesIn.matrix, matrixMade(video)];
}

/** A frame of an original as it comes to the LUT, and of the output, both of the picture's window alone; see {@link SeenOrder}. */
export type SeenPictures = Pick<SeenOrder, 'window' | 'before' | 'after' | 'frame'>;

async function seenByItsChain(output: OutputPlan, pictures: SeenPictures, files: LutTexts): Promise<SeenApart> {
  const { colour } = output;
  if (!colour || colour.kind === 'as-shot' || colour.kind === 'beside') return notBaked(output);
  return unwrap(
    await aside('seenByChain', {
      ...pictures,
      chain: colour.chain,
      luts: only(colour.chain, files),
      matrices: matricesOf(output),
      state: stateOfTags(output.video.colour),
      burn: output.burn ?? null,
    }),
  );
}

async function notBaked(output: OutputPlan): Promise<SeenApart> {
  throw new RangeError(`${output.path} has no chain baked in`);
}

/** What a leg's colour needs, made ready before its pictures are. */
export interface LegColour {
  /** For each output, the baked file of its chain; undefined where the picture stays as shot. */
  luts: (string | undefined)[];
  /** LUTs to lie beside outputs: path below the run's folder, and text. */
  beside: { path: string; text: string }[];
  /** Holds an output's decoded frame against the chain itself; null where there is nothing to hold. */
  prove: (output: OutputPlan, sample: FrameSample | null) => Promise<Comparison[]>;
  /** How far a frame is seen from what the chain itself makes of its original's; of outputs whose chain is baked in. */
  seen: (output: OutputPlan, pictures: SeenPictures) => Promise<SeenApart>;
  discard: () => Promise<void>;
}

/** Bakes the chains of a leg's outputs. @throws Error in plain words when a chain cannot be baked */
export async function legColour(outputs: readonly OutputPlan[], textOf: LutText): Promise<LegColour> {
  const chains = outputs.flatMap(({ colour }) => (colour && colour.kind !== 'as-shot' ? [colour.chain] : []));
  if (chains.length === 0)
    return { luts: [], beside: [], prove: async () => [], seen: notBaked, discard: async () => undefined };
  const files = await lutsOf(chains, textOf);
  const luts: (string | undefined)[] = [];
  const beside = new Map<string, string>();
  const folder = await scratchFolder();
  const discard = (): Promise<void> => rm(folder, { recursive: true, force: true });
  try {
    for (const [index, output] of outputs.entries()) {
      const { colour } = output;
      luts.push(undefined);
      if (!colour || colour.kind === 'as-shot') continue;
      const key = JSON.stringify(colour.chain);
      if (colour.kind === 'beside') {
        beside.set(colour.path, await bakedText(`beside ${key}`, colour.chain, files, null));
        continue;
      }
      const [before, after] = matricesOf(output);
      const light = isLight(output);
      const matrices = [before, light || keepsLight(output) ? null : after] as const;
      const path = under(folder, `${index}.cube`);
      await writeFile(
        path,
        await bakedText(
          `run ${light ? 'light ' : ''}${matrices.join(' ')} ${key}`,
          colour.chain,
          files,
          matrices,
          light,
        ),
      );
      if (light) await writeFile(lightFile(path), writeCube({ table: lightTable() }));
      luts[index] = path;
    }
  } catch (error) {
    await discard();
    throw error;
  }
  return {
    luts,
    beside: [...beside].map(([path, text]) => ({ path, text })),
    discard,
    prove: async (output, sample) => {
      const { colour } = output;
      if (!needsLut(output) || !colour || colour.kind === 'as-shot' || colour.kind === 'beside') return [];
      const bitDepth = provedDepth(codecRow(output.codec));
      if (!sample)
        return [
          {
            name: 'colour by the chain',
            planned: `mean error under 1 of ${2 ** bitDepth - 1}`,
            found: 'no frame to compare',
            holds: false,
          },
        ];
      return unwrap(
        await aside('proveColour', {
          chain: colour.chain,
          luts: only(colour.chain, files),
          matrices: matricesOf(output),
          sample,
          bitDepth,
        }),
      );
    },
    seen: (output, pictures) => seenByItsChain(output, pictures, files),
  };
}
