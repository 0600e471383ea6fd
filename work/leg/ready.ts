import type { LegPlan } from '@relay/core/recipe/legPlan';
import { layBurn } from '@relay/media/burn/lay';
import type { Tuning } from '@relay/media/leg/encoders';
import { findShake } from '@relay/media/leg/shake';
import type { Source } from '@relay/media/process/joined';
import { scratchFolder } from '@relay/media/process/scratch';
import { rm, writeFile } from 'node:fs/promises';
import { under } from '@relay/core/naming/under';

/** The bytes of a picture that is laid over, by its key; null when it is not kept. */
export type ImageBytes = (key: string) => Promise<Buffer | null>;

/**
 * What a leg's outputs need beyond their chains, made ready before their pictures are: burn-ins drawn, shaking found.
 */
export interface LegReady {
  /** For each output. */
  tunings: Tuning[];
  discard: () => Promise<void>;
}

/** Makes a leg's outputs ready. @throws Error in plain words when something cannot be drawn or found */
export async function makeReady(
  plan: LegPlan,
  source: Source,
  imageBytes: ImageBytes,
  signal?: AbortSignal,
): Promise<LegReady> {
  const { outputs } = plan;
  const needed = outputs.some(
    ({ burn, video }) => burn !== undefined || video.steps.some((step) => step.kind === 'stabilise'),
  );
  if (!needed) return { tunings: outputs.map(() => ({})), discard: async () => undefined };
  const folder = await scratchFolder();
  const discard = (): Promise<void> => rm(folder, { recursive: true, force: true });
  try {
    const shake = await findShake(plan, source, folder, signal);
    const tunings: Tuning[] = [];
    for (const [index, { burn }] of outputs.entries()) {
      const bytes = burn?.image ? await imageBytes(burn.image.image) : null;
      const imageFile = bytes ? under(folder, `${index}.laid-over`) : null;
      if (bytes && imageFile) await writeFile(imageFile, bytes);
      const found = shake[index];
      tunings.push({
        ...(burn ? { burn: await layBurn(burn, folder, String(index), imageFile, signal) } : {}),
        ...(found ? { shake: found } : {}),
      });
    }
    return { tunings, discard };
  } catch (error) {
    await discard();
    throw error;
  }
}
