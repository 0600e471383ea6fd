import { cardQuery, newRoll, type CardAnswer } from '@relay/contract/arrivals';
import { closedFormat, isSidecar } from '@relay/core/clip/formats';
import { stemOf } from '@relay/core/clip/roll';
import { recogniseCard, sayRecognised, type CardFile } from '@relay/core/custody/card';
import { cameraOf, nextRollName } from '@relay/core/custody/rollName';
import { collisionKey } from '@relay/core/naming/paths';
import { Router } from 'express';
import { storeOr404, type Context } from '../context.ts';
import { member } from '../clips/identityRoutes.ts';
import { readHistory } from '../custody/history.ts';
import { checked, idOf, notThere, Refused } from '../http.ts';
import { tell } from '../live/notify.ts';
import { arrivalQueue, verifyQueue } from '../queue/boss.ts';
import { placeInside } from '../stores/place.ts';
import { isThere } from '../stores/stores.ts';
import { cardBytes, lookAtCard } from './card.ts';
import { note, rollAnswer, rollLines } from './rolls.ts';

/** Cards looked at before they are brought in, rolls begun, paused, stopped, resumed, verified again, and their history. */
export function rollRoutes(context: Context): Router {
  const router = Router();
  const { db, boss, stores } = context;

  async function placeOf(storeId: string, folder: string): Promise<string> {
    const store = await storeOr404(context, storeId);
    return placeInside(store.path, folder).catch(() => {
      throw new Refused(400, { what: `${folder} leads out of ${store.name}`, remedy: 'Choose a folder inside the store' });
    });
  }
  const cardOf = (place: string): ReturnType<typeof lookAtCard> => lookAtCard(place).catch(() => {
    throw new Refused(404, { what: 'The card cannot be read', remedy: 'See that it is in the reader, then look again' });
  });

  router.get('/productions/:id/card', async (request, response) => {
    const { store, folder } = checked(cardQuery, request.query);
    const place = await placeOf(store, folder);
    const card = await cardOf(place);
    const rolls = (await db.query('SELECT name, card_files AS files FROM roll WHERE production_id = $1', [idOf(request)])) as { name: string; files: CardFile[] }[];
    const readRolls = (await db.query('SELECT DISTINCT roll FROM clip WHERE production_id = $1', [idOf(request)])) as { roll: string }[];
    const essence = card.files.filter((file) => !isSidecar(file.path) && (closedFormat(file.path) !== null || /\.(mov|mp4|m4v|mxf|mts|m2ts|ts|avi|mkv|mpg|wav|bwf|aif|aiff)$/i.test(file.path)));
    const recognised = recogniseCard(card.files, rolls.filter((roll) => roll.files.length > 0).map((roll) => ({ roll: roll.name, files: roll.files })));
    response.json({
      files: card.files.length, bytes: cardBytes(card), clips: essence.length, notCopied: card.notCopied.slice(0, 100),
      proposedName: nextRollName(cameraOf(essence.map((file) => stemOf(file.path))) ?? 'A', [...rolls.map((roll) => roll.name), ...readRolls.map((roll) => roll.roll)]),
      recognised: recognised ? { ...recognised, says: sayRecognised(recognised) } : null, hasManifest: (await readHistory(place)).kind !== 'none',
    } satisfies CardAnswer);
  });

  router.get('/productions/:id/rolls', async (request, response) => void response.json(await rollLines(db, stores, idOf(request))));
  router.post('/productions/:id/rolls', async (request, response) => {
    const wanted = checked(newRoll, request.body);
    const production = idOf(request);
    const card = await placeOf(wanted.card.store, wanted.card.folder);
    const found = await cardOf(card);
    if (found.files.length === 0) throw new Refused(400, { what: 'There is nothing on this card', remedy: 'Choose the folder that the card is mounted at' });
    const targets = wanted.destinations.map((place) => ({ store: place.store, folder: [place.folder, wanted.day, wanted.name].filter((part) => part !== '').join('/') }));
    if (new Set(targets.map((place) => `${place.store}\u0000${collisionKey(place.folder)}`)).size < targets.length) throw new Refused(400, { what: 'Both copies would lie in one folder', remedy: 'Choose another store for the second' });
    for (const target of targets) {
      const store = await storeOr404(context, target.store);
      if (!(await isThere(store))) throw new Refused(409, { what: `${store.name} is not there: what lies at ${store.path} is not this store`, remedy: 'Mount it, or choose another' });
      const place = await placeOf(target.store, target.folder);
      if (`${place}/`.startsWith(`${card}/`)) throw new Refused(400, { what: 'A copy would lie on the card itself', remedy: 'Choose a folder outside the card' });
    }
    const id = await db.transaction(async (tx) => {
      const [row] = (await tx.query(
        `INSERT INTO roll (production_id, name, day, card_store, card_folder, hash, also_md5, files, bytes, card_files) VALUES ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10)
         ON CONFLICT (production_id, lower(name)) DO NOTHING RETURNING id`,
        [production, wanted.name, wanted.day, wanted.card.store, wanted.card.folder, wanted.hash, wanted.alsoMd5, found.files.length, cardBytes(found), JSON.stringify(found.files)],
      )) as { id: string }[];
      if (!row) throw new Refused(409, { what: `There is a roll called ${wanted.name} in this production already`, remedy: 'Take another name; two cards never share one' });
      for (const [ordinal, target] of targets.entries()) {
        const made = (await tx.query('INSERT INTO roll_copy (roll_id, ordinal, store_id, folder) VALUES ($1, $2, $3, $4) ON CONFLICT (store_id, folder) DO NOTHING RETURNING id', [row.id, ordinal, target.store, target.folder])) as { id: string }[];
        if (made.length === 0) throw new Refused(409, { what: `${target.folder} is another roll's copy already`, remedy: 'Choose another folder or name' });
      }
      return row.id;
    });
    await note(db, id, member, `Arrived as ${wanted.name}, ${wanted.day}: ${found.files.length} files, ${(cardBytes(found) / 1e6).toFixed(1)} MB`);
    await boss.send(arrivalQueue, { roll: id });
    await tell(db, { kind: 'changed', what: 'rolls', production });
    response.status(201).json(await rollAnswer(db, stores, id));
  });
  router.get('/rolls/:id', async (request, response) => {
    const roll = await rollAnswer(db, stores, idOf(request));
    if (!roll) throw notThere('The roll');
    response.json(roll);
  });

  for (const what of ['pause', 'stop'] as const) {
    router.post(`/rolls/:id/${what}`, async (request, response) => {
      const id = idOf(request);
      await db.query(`UPDATE roll SET wanted = $2, state = CASE WHEN state = 'waiting' THEN $3 ELSE state END WHERE id = $1 AND state IN ('waiting', 'copying')`, [id, what, what === 'pause' ? 'paused' : 'stopped']);
      await note(db, id, member, what === 'pause' ? 'Asked to pause' : 'Asked to stop');
      await tell(db, { kind: 'changed', what: 'rolls', production: null });
      response.status(204).end();
    });
  }
  router.post('/rolls/:id/resume', async (request, response) => {
    const id = idOf(request);
    const [rows] = (await db.query(`UPDATE roll SET wanted = 'go', state = 'waiting' WHERE id = $1 AND state IN ('paused', 'stopped', 'failed') RETURNING id`, [id])) as [{ id: string }[], number];
    if (rows.length === 0) throw new Refused(409, { what: 'There is nothing to resume', remedy: 'Wait until it has stopped' });
    await note(db, id, member, 'Resumed');
    await boss.send(arrivalQueue, { roll: id });
    await tell(db, { kind: 'changed', what: 'rolls', production: null });
    response.status(204).end();
  });
  router.post('/rolls/:id/verify', async (request, response) => {
    const id = idOf(request);
    const [rows] = (await db.query(`UPDATE roll_copy SET verify_wanted = now() WHERE roll_id = $1 AND manifest IS NOT NULL RETURNING id`, [id])) as [{ id: string }[], number];
    if (rows.length === 0) throw new Refused(409, { what: 'This roll has no manifest yet', remedy: 'Finish copying it first' });
    for (const copy of rows) await boss.send(verifyQueue, { copy: copy.id });
    await note(db, id, member, 'Asked to verify again');
    await tell(db, { kind: 'changed', what: 'rolls', production: null });
    response.status(204).end();
  });
  return router;
}
