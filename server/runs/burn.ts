import type { OutputPlan } from '@relay/core/recipe/plan';
import { layBurn, type LaidBurn } from '@relay/media/burn/lay';
import { scratchFolder } from '@relay/media/process/scratch';
import { rm, writeFile } from 'node:fs/promises';
import { join } from 'node:path';

/** The bytes of a picture that is laid over, by its key; null when it is not kept. */
export type ImageBytes = (key: string) => Promise<Buffer | null>;

/** What a leg's burn-ins need, drawn before its pictures are made. */
export interface LegBurn {
  /** For each output; undefined where nothing is drawn over it. */
  laid: (LaidBurn | undefined)[];
  discard: () => Promise<void>;
}

/** Draws the burn-ins of a leg's outputs. @throws Error in plain words when one cannot be drawn */
export async function legBurn(outputs: readonly OutputPlan[], imageBytes: ImageBytes, signal?: AbortSignal): Promise<LegBurn> {
  if (!outputs.some((output) => output.burn)) return { laid: outputs.map(() => undefined), discard: async () => undefined };
  const folder = await scratchFolder();
  const discard = (): Promise<void> => rm(folder, { recursive: true, force: true });
  try {
    const laid: LegBurn['laid'] = [];
    for (const [index, { burn }] of outputs.entries()) {
      const bytes = burn?.image ? await imageBytes(burn.image.image) : null;
      const imageFile = bytes ? join(folder, `${index}.laid-over`) : null;
      if (bytes && imageFile) await writeFile(imageFile, bytes);
      laid.push(burn ? await layBurn(burn, folder, String(index), imageFile, signal) : undefined);
    }
    return { laid, discard };
  } catch (error) {
    await discard();
    throw error;
  }
}
