import type { CardAnswer, newRoll, RollAnswer } from '@relay/contract/arrivals';
import { namedLikeClip } from '@relay/core/clip/formats';
import { stemOf } from '@relay/core/clip/roll';
import { recogniseCard, sayRecognised, type CardFile } from '@relay/core/custody/card';
import { placementOf } from '@relay/core/custody/cardFolders';
import { cameraOf, nextRollName } from '@relay/core/custody/rollName';
import { collisionKey } from '@relay/core/naming/paths';
import { placeProblem } from '@relay/core/naming/under';
import type { z } from 'zod';
import type { Tools } from '../desk/tools.ts';
import { member } from '../clips/decisions.ts';
import { historyNames } from '@relay/work/custody/history';
import { storeOr404, writableStore } from '../context.ts';
import { Refused } from '../http.ts';
import { tell } from '../live/notify.ts';
import { arrivalQueue } from '../queue/boss.ts';
import { realPathOf, type Place } from '@relay/work/disk/held';
import { isThere, placeIn, type Store } from '@relay/work/disk/store';
import type { Stores } from '../stores/stores.ts';
import { cardBytes, lookAtCard, type Card } from '@relay/work/custody/card';
import { note, rollAnswer } from './rolls.ts';

/**
 * Cards looked at before they are brought in, and rolls begun: a card may hold a hundred thousand files, and is looked
 * through at the desk.
 */

function checkedPlace(store: Store, folder: string): Place {
  if (folder !== '' && placeProblem(folder))
    throw new Refused(400, {
      what: `${folder} leads out of ${store.name}`,
      remedy: 'Choose a folder inside the store',
    });
  return placeIn(store, folder);
}

function cardAt(place: Place): Promise<Card> {
  return lookAtCard(place).catch(() => {
    throw new Refused(404, {
      what: 'The card cannot be read',
      remedy: 'See that it is in the reader, then look again',
    });
  });
}

/** What a card holds, whether it came before, and what its roll may be called. */
export async function cardAnswer(
  { db, stores }: Tools,
  production: string,
  storeId: string,
  folder: string,
): Promise<CardAnswer> {
  const place = checkedPlace(await storeOr404({ stores }, storeId), folder);
  const card = await cardAt(place);
  const rolls = await db.query<{ name: string; files: CardFile[] }[]>(
    'SELECT name, card_files AS files FROM roll WHERE production_id = $1',
    [production],
  );
  const readRolls = await db.query<
    {
      roll: string;
    }[]
  >('SELECT DISTINCT roll FROM clip WHERE production_id = $1', [production]);
  const essence = card.files.filter((file) => namedLikeClip(file.path));
  const recognised = recogniseCard(
    card.files,
    rolls.filter((roll) => roll.files.length > 0).map((roll) => ({ roll: roll.name, files: roll.files })),
  );
  return {
    files: card.files.length,
    bytes: cardBytes(card),
    clips: essence.length,
    notCopied: card.notCopied.slice(0, 100),
    proposedName: nextRollName(cameraOf(essence.map((file) => stemOf(file.path))) ?? 'A', [
      ...rolls.map((roll) => roll.name),
      ...readRolls.map((roll) => roll.roll),
    ]),
    recognised: recognised ? { ...recognised, says: sayRecognised(recognised) } : null,
    placement: placementOf(
      folder,
      card.files.map((file) => file.path),
    ),
    hasManifest: (await historyNames(place)).kind !== 'none',
  };
}

/** Writes a roll down, and has its card brought in. */
export async function beginRoll(
  { db, boss, stores }: Tools,
  production: string,
  wanted: z.output<typeof newRoll>,
): Promise<RollAnswer | null> {
  const card = checkedPlace(await storeOr404({ stores }, wanted.card.store), wanted.card.folder);
  const found = await cardAt(card);
  if (found.files.length === 0)
    throw new Refused(400, {
      what: 'There is nothing on this card',
      remedy: 'Choose the folder that the card is mounted at',
    });
  const targets = wanted.destinations.map((place) => ({
    store: place.store,
    folder: [place.folder, wanted.day, wanted.name].filter((part) => part !== '').join('/'),
  }));
  await seeTargets(stores, card, targets);
  const id = await db.transaction(async (tx) => {
    const [row] = await tx.query<{ id: string }[]>(
      `INSERT INTO roll (production_id, name, day, card_store, card_folder, hash, also_md5, files, bytes, card_files)
       VALUES ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10)
       ON CONFLICT (production_id, lower(name)) DO NOTHING
       RETURNING id`,
      [
        production,
        wanted.name,
        wanted.day,
        wanted.card.store,
        wanted.card.folder,
        wanted.hash,
        wanted.alsoMd5,
        found.files.length,
        cardBytes(found),
        JSON.stringify(found.files),
      ],
    );
    if (!row)
      throw new Refused(409, {
        what: `There is a roll called ${wanted.name} in this production already`,
        remedy: 'Take another name; two cards never share one',
      });
    for (const [ordinal, target] of targets.entries()) {
      const made = await tx.query<{ id: string }[]>(
        `INSERT INTO roll_copy (roll_id, ordinal, store_id, folder)
         VALUES ($1, $2, $3, $4)
         ON CONFLICT (store_id, folder) DO NOTHING
         RETURNING id`,
        [row.id, ordinal, target.store, target.folder],
      );
      if (made.length === 0)
        throw new Refused(409, {
          what: `${target.folder} is another roll's copy already`,
          remedy: 'Choose another folder or name',
        });
    }
    return row.id;
  });
  await note(
    db,
    id,
    member,
    `Arrived as ${wanted.name}, ${wanted.day}: ${found.files.length} files, ${(cardBytes(found) / 1e6).toFixed(1)} MB`,
  );
  await boss.send(arrivalQueue, { roll: id });
  await tell(db, { kind: 'changed', what: 'rolls', production });
  return rollAnswer(db, stores, id);
}

/** Sees that a roll's copies go to places of their own, on stores that are there, and not onto the card. */
async function seeTargets(
  stores: Stores,
  card: Place,
  targets: readonly { store: string; folder: string }[],
): Promise<void> {
  if (new Set(targets.map((place) => `${place.store}\u0000${collisionKey(place.folder)}`)).size < targets.length)
    throw new Refused(400, {
      what: 'Both copies would lie in one folder',
      remedy: 'Choose another store for the second',
    });
  for (const target of targets) {
    const store = await writableStore({ stores }, target.store);
    if (!(await isThere(store)))
      throw new Refused(409, {
        what: `${store.name} is not there: what lies at ${store.path} is not this store`,
        remedy: 'Mount it, or choose another',
      });
    const place = checkedPlace(store, target.folder);
    if (`${await realPathOf(place)}/`.startsWith(`${await realPathOf(card)}/`))
      throw new Refused(400, {
        what: 'A copy would lie on the card itself',
        remedy: 'Choose a folder outside the card',
      });
  }
}
