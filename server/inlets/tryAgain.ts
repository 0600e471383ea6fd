import type { DataSource } from 'typeorm';
import { notThere } from '../http.ts';

/**
 * Has what was left of a thing looked at again: nothing of it is remembered, so that its keeper finds it new. What was
 * made of the rest stays as it is.
 */
export async function tryAgain(db: DataSource, thing: string): Promise<void> {
  await db.transaction(async (tx) => {
    const [row] = await tx.query<{ inlet: string; left: string[] }[]>(
      `SELECT inlet_id AS inlet, ARRAY(SELECT one->>'path' FROM jsonb_array_elements(problems) one) AS left
       FROM inlet_thing
       WHERE id = $1
       FOR UPDATE`,
      [thing],
    );
    if (!row) throw notThere('What was taken up');
    await tx.query('DELETE FROM inlet_file WHERE thing_id = $1 AND path = ANY($2)', [thing, row.left]);
    await tx.query(`UPDATE inlet_thing SET problems = '[]' WHERE id = $1`, [thing]);
    await tx.query('UPDATE inlet SET stirs = stirs + 1 WHERE id = $1', [row.inlet]);
  });
}
