import type { ClipDescription } from '@relay/core/clip/description';
import { identityOf, type Identity } from '@relay/core/identity/identity';
import type { CutOriginal, CutOutput } from '@relay/core/relink/target';
import type { RelinkRow } from '@relay/core/relink/sheet';
import { outputOf } from '@relay/core/relink/readSheet';
import { cutOriginalOf } from '@relay/work/cut/originals';
import type { DataSource } from 'typeorm';

/** An original of the production, with the clip that it is. */
export interface KnownOriginal extends CutOriginal {
  clip: string;
  stem: string;
}

interface ClipRow {
  id: string;
  stem: string;
  description: ClipDescription;
  said: Partial<Identity>;
  sidecarSaid: Partial<Identity>;
}

/** Every original of a production as cuts are matched against it. */
export async function originalsOf(db: DataSource, production: string): Promise<KnownOriginal[]> {
  const rows = await db.query<ClipRow[]>(
    `SELECT id, stem, description, said, sidecar_said AS "sidecarSaid"
     FROM clip
     WHERE production_id = $1 AND description IS NOT NULL
     ORDER BY path`,
    [production],
  );
  return rows.map(({ id, stem, description, said, sidecarSaid }) => ({
    ...cutOriginalOf(description, identityOf(said, sidecarSaid, description).reel),
    clip: id,
    stem,
  }));
}

/** What was made of them, by the lines of the relink sheets; of each original and frame map the newest. */
export async function outputsOf(
  db: DataSource,
  production: string,
  originals: readonly KnownOriginal[],
): Promise<CutOutput[]> {
  const rows = await db.query<{ clip: string; relink: RelinkRow }[]>(
    `SELECT DISTINCT ON (output.store_id, output.folder, output.path) leg.clip_id AS clip, output.relink
     FROM output
     JOIN leg ON leg.id = output.leg_id
     JOIN run ON run.id = leg.run_id
     WHERE run.production_id = $1 AND output.relink IS NOT NULL AND output.state IN ('proved', 'needs eyes')
     ORDER BY output.store_id, output.folder, output.path, output.created_at DESC`,
    [production],
  );
  const places = new Map(originals.map(({ clip }, index) => [clip, index]));
  return rows.flatMap(({ clip, relink }) => {
    const original = places.get(clip);
    const output = outputOf(relink);
    return original === undefined || typeof output === 'string' ? [] : [{ ...output, original }];
  });
}
