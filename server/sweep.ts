import type { DataSource } from 'typeorm';
import type PgBoss from 'pg-boss';
import { orphanedReadings } from './arrivals/reading.ts';
import { orphanedRolls } from './arrivals/rolls.ts';
import { orphanedMeasurings } from './checks/measurings.ts';
import { orphanedLooks } from './clips/looking.ts';
import { tell } from './live/notify.ts';
import {
  arrivalQueue,
  queueLegs,
  queueLooks,
  queueMeasurings,
  readingQueue,
  joinedCopyQueue,
  handoffQueue,
  searchQueue,
  removalQueue,
  verifyQueue,
} from './queue/boss.ts';
import { endLeasesOfTheDead, orphanedLegs, takeBackLapsed } from './runs/claims.ts';
import { placesOf } from './runs/recorded.ts';
import { unqueuedSegments } from './runs/segmentClaims.ts';
import { orphanedJoinedCopies } from './runs/joinedCopies.ts';
import { isAlive } from '@relay/media/process/alive';
import { discardLeftovers } from '@relay/work/disk/place';
import { orphanedHandoffs } from './handoffs/carry.ts';
import { unverified } from './handoffs/returned.ts';
import { orphanedSearches } from './originals/find.ts';
import { orphanedRemovals } from './space/carry.ts';
import { placeIn } from '@relay/work/disk/store';
import type { Stores } from './stores/stores.ts';

/** What a worker needs to take up what others left lying. */
export interface Sweeping {
  db: DataSource;
  boss: PgBoss;
  stores: Stores;
  host: string;
  /** When this worker began, by the database's clock; null where looks are another's. */
  started: Date | null;
}

/** Gives back what dead workers held, and queues what lost its place in the queue. */
export async function sweep({ db, boss, stores, host, started }: Sweeping): Promise<void> {
  await endLeasesOfTheDead(db, host, isAlive);
  const back = await takeBackLapsed(db);
  for (const leg of back)
    await tell(db, {
      kind: 'leg',
      run: leg.runId,
      leg: leg.id,
      state: leg.state,
      framesDone: 0,
      framesTotal: 0,
      speed: null,
    });
  // A leg that will be taken up again clears up after itself then; one that has ended here does not.
  for (const ended of await placesOf(
    db,
    back.filter((leg) => leg.state !== 'waiting').map((leg) => leg.id),
  )) {
    const store = await stores.get(ended.store);
    if (store) await discardLeftovers(placeIn(store, ended.folder), ended.paths, ended.id);
  }
  await queueLegs(
    boss,
    back.filter((leg) => leg.state === 'waiting').map((leg) => leg.id),
    true,
  );
  await queueLegs(boss, await orphanedLegs(db));
  await queueLegs(boss, await unqueuedSegments(db));
  for (const reading of await orphanedReadings(db)) await boss.send(readingQueue, { reading });
  await queueLooks(boss, await orphanedLooks(db, started));
  for (const handoff of await orphanedHandoffs(db)) await boss.send(handoffQueue, { handoff });
  for (const handoff of await unverified(db)) await boss.send(handoffQueue, { handoff, verify: true });
  for (const search of await orphanedSearches(db)) await boss.send(searchQueue, { search });
  for (const removal of await orphanedRemovals(db)) await boss.send(removalQueue, { removal });
  for (const joinedCopy of await orphanedJoinedCopies(db)) await boss.send(joinedCopyQueue, { joinedCopy });
  await queueMeasurings(boss, await orphanedMeasurings(db));
  const { rolls, copies } = await orphanedRolls(db);
  for (const roll of rolls) await boss.send(arrivalQueue, { roll });
  for (const copy of copies) await boss.send(verifyQueue, { copy });
}
