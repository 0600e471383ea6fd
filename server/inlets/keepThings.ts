import type { EntityManager } from 'typeorm';
import { inletFile, inletThing } from '../db/entities/inlets.ts';
import type { Begun } from './begin.ts';
import type { Found } from './takeUp.ts';

/** Writes down what was taken up and by what it is known again, together with the run that it begins. */
export async function keepThings(
  tx: EntityManager,
  inletId: string,
  place: string,
  found: readonly Found[],
  { runs, problems, waits: allWaits }: Begun,
): Promise<void> {
  const waiting = new Map(allWaits.map((one) => [one.clip, one]));
  for (const { ready, clips, taken, known, problems: own, passing } of found) {
    const waits = clips.flatMap((clip) => waiting.get(clip) ?? []);
    const inThing = new Set(ready.files.map(({ path }) => path));
    const { id: thingId } = await tx.save(inletThing, {
      inletId,
      place,
      key: ready.thing.key === '' ? (ready.thing.paths[0] ?? '') : ready.thing.key,
      kind: ready.thing.kind,
      files: ready.files.length,
      sizeBytes: ready.files.reduce((sum, { sizeBytes }) => sum + sizeBytes, 0),
      known: known.length,
      clips,
      runs: clips.length > waits.length ? runs : [],
      waits,
      problems: [...own, ...problems.filter(({ path }) => inThing.has(path))],
    });
    const contents = new Map([...taken, ...known.map(({ file }) => file)].map((file) => [file.path, file]));
    const skipped = new Set(passing.map(({ path }) => path));
    const rows = ready.files
      .filter(({ path }) => !skipped.has(path))
      .map(({ path, sizeBytes, modifiedAt }) => {
        const { sampled = null, whole = null } = contents.get(path) ?? {};
        return { inletId, place, path, sizeBytes, modifiedAt, sampled, whole, thingId };
      });
    for (let at = 0; at < rows.length; at += 500)
      await tx.upsert(inletFile, rows.slice(at, at + 500), ['inletId', 'place', 'path']);
  }
}
