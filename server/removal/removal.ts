import type { DataSource, EntityManager } from 'typeorm';
import { notThere, Refused } from '../http.ts';

/**
 * What is taken out of the records: a production, a folder that was read, a run, an output. Nothing on a disk is touched
 * by any of it, and what is under way is stopped first, by a person.
 */

const undone = 'Nothing on any disk is touched by removing';

async function count(db: EntityManager, sql: string, id: string): Promise<number> {
  const [row] = await db.query<{ n: number }[]>(`SELECT (${sql})::int AS n`, [id]);
  return row?.n ?? 0;
}

function busy(what: string, remedy: string): Refused {
  return new Refused(409, { what, remedy: `${remedy}. ${undone}` });
}

/** Legs that are queued, held or under way. */
const openLegs = `l.state IN ('waiting', 'held', 'running', 'proving')`;

/** A production with all that is known of it. @throws Refused while something of it is under way */
export async function removeProduction(db: DataSource, id: string): Promise<void> {
  await db.transaction(async (tx) => {
    // Whoever would begin something in it now waits, and finds it gone.
    await tx.query('SELECT id FROM production WHERE id = $1 FOR UPDATE', [id]);
    const [legs, rolls, readings] = [
      await count(
        tx,
        `SELECT count(*) FROM leg l JOIN run r ON r.id = l.run_id WHERE r.production_id = $1 AND ${openLegs}`,
        id,
      ),
      await count(tx, `SELECT count(*) FROM roll WHERE production_id = $1 AND state IN ('copying', 'verifying')`, id),
      await count(tx, `SELECT count(*) FROM reading WHERE production_id = $1 AND state = 'running'`, id),
    ];
    if (legs > 0) throw busy(`${legs} legs of it are not done`, 'Stop its runs first');
    if (rolls > 0) throw busy('A card is coming in', 'Stop it, or wait until it is proved');
    if (readings > 0) throw busy('A folder is being read', 'Wait until it is');
    const gone = await tx.query<[unknown[], number]>('DELETE FROM production WHERE id = $1', [id]);
    if (gone[1] === 0) throw notThere('The production');
  });
}

/** Clips of the folder that a reading read; those of rolls are the roll's. */
const clipsOfReading = `clip c JOIN reading r ON c.production_id = r.production_id AND c.store_id = r.store_id AND c.root = r.folder
  WHERE r.id = $1 AND c.roll_id IS NULL`;

/** A folder that was read: its clips are known no more. @throws Refused where some were run, or it is being read */
export async function removeReading(db: DataSource, id: string): Promise<{ production: string }> {
  return db.transaction(async (tx) => {
    const [row] = await tx.query<{ production: string; store: string; folder: string; state: string }[]>(
      `SELECT production_id AS production, store_id AS store, folder, state FROM reading WHERE id = $1 AND roll_id IS NULL FOR UPDATE`,
      [id],
    );
    if (!row) throw notThere('The reading');
    if (row.state === 'running') throw busy('This folder is being read', 'Wait until it is');
    // A run that would begin with one of them now waits, and finds it gone.
    await tx.query(`SELECT id FROM clip WHERE id IN (SELECT c.id FROM ${clipsOfReading}) FOR UPDATE`, [id]);
    const runs = await count(
      tx,
      `SELECT count(DISTINCT l.run_id) FROM leg l WHERE l.clip_id IN (SELECT c.id FROM ${clipsOfReading})`,
      id,
    );
    if (runs > 0)
      throw busy(
        `Clips of it were run: ${runs} ${runs === 1 ? 'run knows' : 'runs know'} them`,
        'Remove those runs first',
      );
    await tx.query(`DELETE FROM clip WHERE id IN (SELECT c.id FROM ${clipsOfReading})`, [id]);
    await tx.query(
      'DELETE FROM reading WHERE production_id = $1 AND store_id = $2 AND folder = $3 AND roll_id IS NULL',
      [row.production, row.store, row.folder],
    );
    return { production: row.production };
  });
}

/** A run with its legs, proofs and logs. @throws Refused while legs of it are not done */
export async function removeRun(db: DataSource, id: string): Promise<{ production: string }> {
  return db.transaction(async (tx) => {
    const [row] = await tx.query<{ production: string }[]>(
      'SELECT production_id AS production FROM run WHERE id = $1 FOR UPDATE',
      [id],
    );
    if (!row) throw notThere('The run');
    const legs = await count(tx, `SELECT count(*) FROM leg l WHERE l.run_id = $1 AND ${openLegs}`, id);
    if (legs > 0) throw busy(`${legs} legs of it are not done`, 'Stop the run first');
    await tx.query('DELETE FROM run WHERE id = $1', [id]);
    return row;
  });
}

/** The record of one output: it is checked and handed off no more. @throws Refused while its leg is not done */
export async function removeOutput(db: DataSource, id: string): Promise<{ production: string }> {
  return db.transaction(async (tx) => {
    const [row] = await tx.query<{ production: string; open: boolean }[]>(
      `SELECT r.production_id AS production, ${openLegs} AS open
       FROM output o JOIN leg l ON l.id = o.leg_id JOIN run r ON r.id = l.run_id
       WHERE o.id = $1
       FOR UPDATE OF o`,
      [id],
    );
    if (!row) throw notThere('The output');
    if (row.open) throw busy('Its leg is not done', 'Stop the leg first');
    await tx.query('DELETE FROM output WHERE id = $1', [id]);
    return { production: row.production };
  });
}
