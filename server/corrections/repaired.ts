import { planLeg, type VideoPlan } from '@relay/core/recipe/plan';
import type { ClipCorrections, Repair } from '@relay/core/corrections/corrections';
import { finishAndCut, type Recipe } from '@relay/core/recipe/recipe';
import { toNumber } from '@relay/core/time/rational';
import { makeRepairPreview, previewSeconds } from '@relay/media/repair/preview';
import type { Response } from 'express';
import { createHash } from 'node:crypto';
import { mkdir, readdir, rename, rm, stat } from 'node:fs/promises';
import { join } from 'node:path';
import { fileAt } from '../clips/picture.ts';
import { originalOf } from '../clips/routes.ts';
import type { Context } from '../context.ts';
import { notThere, Refused } from '../http.ts';

/** Previews are looked at and forgotten: those older than this are cleared away. */
const keptMs = 24 * 3600_000;
/** Being made: two pages that ask for the same wait for the same. */
const underWay = new Map<string, Promise<void>>();

/** As it is without scaling: what is shown is the repair alone. */
const plain: Recipe = { ...finishAndCut, deliverables: finishAndCut.deliverables.filter((one) => one.role === 'proxy').map((one) => ({ ...one, raster: { kind: 'source' as const } })) };

function videoOf(description: Parameters<typeof planLeg>[0], corrections: ClipCorrections): VideoPlan {
  const planned = planLeg(description, plain, corrections);
  if (!planned.ok) throw new Refused(409, planned.problem);
  return planned.value.outputs[0]?.video as VideoPlan;
}

/** Sends a few seconds of a clip beside the same seconds repaired. */
export async function sendRepaired(context: Context, response: Response, id: string, repair: Repair, fromSeconds: number, pixels: boolean): Promise<void> {
  const { files, description } = await originalOf(context, id);
  if (!description.video) throw notThere('The picture');
  const folder = join(context.cacheFolder, 'repairs');
  const key = createHash('sha256').update(JSON.stringify([id, description.sizeBytes, repair, fromSeconds, pixels])).digest('hex').slice(0, 32);
  const path = join(folder, `${key}.mp4`);
  if (!(await stat(path).catch(() => null))) {
    const last = Math.max(0, toNumber(description.video.duration) - previewSeconds);
    const { file, rest } = fileAt(description, Math.min(fromSeconds, last));
    const making = underWay.get(key) ?? (async () => {
      await mkdir(folder, { recursive: true });
      for (const name of await readdir(folder)) {
        const facts = await stat(join(folder, name)).catch(() => null);
        if (facts && Date.now() - facts.mtimeMs > keptMs) await rm(join(folder, name), { force: true });
      }
      const temporary = join(folder, `${key}.${process.pid}.part`);
      try {
        await makeRepairPreview(files[file] as string, videoOf(description, {}), videoOf(description, { repair }), rest, pixels, temporary, AbortSignal.timeout(180_000));
        await rename(temporary, path);
      } catch (error) {
        await rm(temporary, { force: true });
        throw new Refused(409, { what: `${description.stem} could not be tried: ${(error as Error).message}`, remedy: 'See that its store is mounted, then try again' });
      }
    })().finally(() => underWay.delete(key));
    underWay.set(key, making);
    await making;
  }
  response.sendFile(path, { maxAge: 600_000, dotfiles: 'allow' });
}
