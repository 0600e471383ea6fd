import type { DataSource } from 'typeorm';

/** The outputs of a run in its order, by their ids. */
export async function outputsOfRun(db: DataSource, run: string): Promise<string[]> {
  const rows = await db.query<{ id: string }[]>(
    'SELECT o.id FROM output o JOIN leg ON leg.id = o.leg_id WHERE leg.run_id = $1 ORDER BY leg.ordinal, o.path',
    [run],
  );
  return rows.map(({ id }) => id);
}
