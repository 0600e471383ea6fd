import type { VideoPlan } from '@relay/core/recipe/legPlan';
import { planLeg } from '@relay/core/recipe/plan';
import type { ClipCorrections, Repair } from '@relay/core/corrections/corrections';
import { finishAndCut, type Recipe } from '@relay/core/recipe/recipe';
import { toNumber } from '@relay/core/time/rational';
import { makeRepairPreview, previewSeconds } from '@relay/media/repair/preview';
import type { Response } from 'express';
import { createHash } from 'node:crypto';
import { mkdir, readdir, rename, rm, stat } from 'node:fs/promises';
import { under } from '@relay/core/naming/under';
import { fileAt } from '../clips/fileAt.ts';
import { asAsked } from '../asked.ts';
import { withOriginal } from '../clips/original.ts';
import type { Context } from '../context.ts';
import { notThere, Refused } from '../http.ts';

/** Previews are looked at and forgotten: those older than this are cleared away. */
const keptMs = 24 * 3600_000;
/** One that takes longer is given up. */
const longestMs = 180_000;
/** As it is without scaling: what is shown is the repair alone. */
const plain: Recipe = {
  ...finishAndCut,
  deliverables: finishAndCut.deliverables
    .filter((one) => one.role === 'proxy')
    .map((one) => ({ ...one, raster: { kind: 'source' as const } })),
};

function videoOf(description: Parameters<typeof planLeg>[0], corrections: ClipCorrections): VideoPlan {
  const planned = planLeg(description, plain, corrections);
  if (!planned.ok) throw new Refused(409, planned.problem);
  return planned.value.outputs[0]?.video as VideoPlan;
}

/** What is to be seen: which repair, from which second of the clip, and whether pixel for pixel. */
interface Wanted {
  repair: Repair;
  fromSeconds: number;
  pixels: boolean;
}

/** Sends a few seconds of a clip beside the same seconds repaired. */
export async function sendRepaired(
  context: Context,
  response: Response,
  id: string,
  { repair, fromSeconds, pixels }: Wanted,
): Promise<void> {
  const folder = under(context.cacheFolder, 'repairs');
  const key = createHash('sha256')
    .update(JSON.stringify([id, repair, fromSeconds, pixels]))
    .digest('hex')
    .slice(0, 32);
  const path = under(folder, `${key}.mp4`);
  await asAsked('repair', response, async (unwanted) => {
    await withOriginal(context, id, async ({ files, description }) => {
      if (!description.video) throw notThere('The picture');
      const facts = await stat(path).catch(() => null);
      // Who waited in line for the same finds it made.
      if (facts && facts.mtimeMs > Date.parse(description.modifiedAt)) return;
      const { file, rest } = fileAt(
        description,
        Math.min(fromSeconds, Math.max(0, toNumber(description.video.duration) - previewSeconds)),
      );
      await clearOld(folder);
      const temporary = under(folder, `${key}.${process.pid}.part`);
      try {
        const signal = AbortSignal.any([unwanted, AbortSignal.timeout(longestMs)]);
        await makeRepairPreview(
          files[file] as string,
          { before: videoOf(description, {}), after: videoOf(description, { repair }) },
          { fromSeconds: rest, pixels },
          temporary,
          signal,
        );
        if (!unwanted.aborted) await rename(temporary, path);
      } catch (error) {
        throw new Refused(409, {
          what: `${description.stem} could not be tried: ${(error as Error).message}`,
          remedy: 'See that its store is mounted, then try again',
        });
      } finally {
        await rm(temporary, { force: true });
      }
    });
  });
  if (!response.destroyed && !response.headersSent)
    response.sendFile(path, {
      cacheControl: false,
      headers: { 'Cache-Control': 'private, max-age=600' },
      dotfiles: 'allow',
    });
}

async function clearOld(folder: string): Promise<void> {
  await mkdir(folder, { recursive: true });
  for (const name of await readdir(folder)) {
    const facts = await stat(under(folder, name)).catch(() => null);
    if (facts && Date.now() - facts.mtimeMs > keptMs) await rm(under(folder, name), { force: true });
  }
}
