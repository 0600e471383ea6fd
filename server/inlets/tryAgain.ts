import { diskProblem } from '@relay/work/disk/diskProblem';
import { QueryFailedError, type DataSource } from 'typeorm';
import { storeOr404 } from '../context.ts';
import { notThere, Refused } from '../http.ts';
import type { Stores } from '../stores/stores.ts';
import { inOneFolder, thingById, type EndedThing } from './endedThings.ts';
import { carryOut, folderOfPlace, isKnownIn, StoreAway, type Movable } from './moveThings.ts';

/**
 * Has what was left of a thing looked at again: nothing of it is remembered, so that its keeper finds it new, where it
 * arrived. What was made of the rest stays as it is.
 * @throws Refused where something else lies there now
 */
export async function tryAgain({ db, stores }: { db: DataSource; stores: Stores }, id: string): Promise<void> {
  const thing = await thingById(db, id);
  if (!thing) throw notThere('What was taken up');
  if (thing.lies !== '') await moveBack(db, stores, thing);
  await db.transaction(async (tx) => {
    const left = thing.problems.map(({ path }) => path);
    await tx.query('DELETE FROM inlet_file WHERE thing_id = $1 AND path = ANY($2)', [id, left]);
    await tx.query(`UPDATE inlet_thing SET problems = '[]', ended = NULL, ended_at = NULL WHERE id = $1`, [id]);
    // Of what is found anew nothing more is to be said here.
    await tx.query(
      `DELETE FROM inlet_thing t
       WHERE id = $1 AND clips = '{}' AND NOT EXISTS (SELECT 1 FROM inlet_file f WHERE f.thing_id = t.id)`,
      [id],
    );
    await tx.query('UPDATE inlet SET stirs = stirs + 1 WHERE id = $1', [thing.inlet]);
  });
}

/** Moves a thing back to where it arrived. */
async function moveBack(db: DataSource, stores: Stores, thing: EndedThing & { inlet: string }): Promise<void> {
  const at = await folderOfPlace(thing, (store) => storeOr404({ stores }, store));
  const group = thing.kind === 'structure' ? await inOneFolder(db, thing.inlet, thing) : [thing];
  if (group === null)
    throw new Refused(409, {
      what: `${thing.key} cannot be moved back: something of it is being made`,
      remedy: 'Wait until that has ended, then try again',
    });
  const movable: Movable = {
    ids: group.map(({ id }) => id),
    paths: group.flatMap(({ files }) => files.map(({ path }) => path)),
    lies: thing.lies,
  };
  if (await isKnownIn(db, at, movable.paths, ''))
    throw new Refused(409, {
      what: `${thing.key} cannot be moved back: the production knows another of the name there`,
      remedy: 'Give it another name, and put it into the inlet by hand',
    });
  await carryOut(db, at, movable, { from: thing.lies, to: '', names: thing.names }).catch((error: unknown) => {
    if (error instanceof QueryFailedError) throw error;
    throw new Refused(409, {
      what: `${thing.key} cannot be moved back: ${error instanceof StoreAway ? error.message : diskProblem(error, thing.key).what}`,
      remedy: 'See what lies there now, then try again',
    });
  });
}
