import type { DataSource } from 'typeorm';
import type { InletRow } from '../db/entities/inlets.ts';

/**
 * Forgets originals whose legs failed since they lay at their places no more, and whatever is known to be of the same
 * content: wherever it lies now, or when it comes back, it is taken up anew.
 */
export async function forgetLost(db: DataSource, { id }: InletRow): Promise<void> {
  await db.transaction(async (tx) => {
    const [lost] = await tx.query<[{ size: string; sampled: string | null }[], number]>(
      `DELETE FROM inlet_file f
       USING leg
       JOIN run ON run.id = leg.run_id
       JOIN clip ON clip.id = leg.clip_id
       WHERE run.inlet_id = $1 AND leg.state = 'failed' AND leg.problem->>'kind' = 'original gone'
         AND f.inlet_id = $1 AND f.path = clip.path
         AND f.place::jsonb = jsonb_build_array(clip.store_id, clip.root)
       RETURNING f.size_bytes AS size, f.sampled`,
      [id],
    );
    if (lost.length === 0) return;
    for (const { size, sampled } of lost)
      await tx.query('DELETE FROM inlet_file WHERE inlet_id = $1 AND size_bytes = $2 AND sampled = $3', [
        id,
        size,
        sampled,
      ]);
    await tx.query('UPDATE inlet SET stirs = stirs + 1 WHERE id = $1', [id]);
  });
}
