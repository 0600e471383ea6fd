import type { ReturnedAnswer } from '@relay/contract/handoffs';
import { namedLikeClip } from '@relay/core/clip/formats';
import { verifyFolder } from '@relay/work/custody/verify';
import { placeIn, isThere } from '@relay/work/disk/store';
import type { DataSource } from 'typeorm';
import { patiently } from '../db/dataSource.ts';
import { handoff, receiver, type HandoffRow } from '../db/entities/handoffs.ts';
import { tell } from '../live/notify.ts';
import type { Stores } from '../stores/stores.ts';
import { markIn } from './drives.ts';
import { noteHandoff } from './order.ts';

/** So many lines of each list are kept. */
const kept = 1_000;

function kindOf(path: string): ReturnedAnswer['more'][number]['kind'] {
  if (/\.(edl|otio)$/i.test(path)) return 'edit list';
  return namedLikeClip(path) ? 'media' : 'other';
}

/** Holds the folder of a hand-off against its manifest, and says what is there that was not sent. */
async function lookAgain(
  { db, stores }: { db: DataSource; stores: Stores },
  { storeId, folder, receiverId }: HandoffRow,
  signal: AbortSignal,
): Promise<ReturnedAnswer> {
  const nothing: ReturnedAnswer = {
    at: new Date().toISOString(),
    verified: false,
    same: 0,
    missing: [],
    changed: [],
    more: [],
    moreCount: 0,
    markedFor: null,
    readFromDisk: false,
    problem: null,
  };
  const store = await stores.get(storeId);
  if (!store || !(await isThere(store)))
    return {
      ...nothing,
      problem: { what: `${store?.name ?? storeId} is not there`, remedy: 'Put the drive in, then verify again' },
    };
  const at = placeIn(store, folder);
  const found = await verifyFolder(at, { record: !store.readOnly, signal });
  const [mark, whose] = [await markIn(at), await db.manager.findOneByOrFail(receiver, { id: receiverId })];
  return {
    ...nothing,
    // What came back besides is no fault of what was sent.
    verified:
      found.problem === null &&
      found.missing.length + found.changed.length + found.doubts.length + found.unread.length === 0,
    same: found.same,
    missing: found.missing.slice(0, kept),
    changed: [...found.changed, ...found.unread, ...found.doubts.map(({ file, why }) => ({ path: file, why }))].slice(
      0,
      kept,
    ),
    more: found.extra.slice(0, kept).map((path) => ({ path, kind: kindOf(path) })),
    moreCount: found.extra.length,
    markedFor: mark && mark.receiver !== whose.id ? mark.called : null,
    readFromDisk: found.readFromDisk,
    problem: found.problem,
  };
}

/** Carries out a verification that was asked for, and keeps what it found. */
export async function verifyHandoff(
  at: { db: DataSource; stores: Stores },
  id: string,
  leaving: AbortSignal,
): Promise<void> {
  const { db } = at;
  const row = await db.manager.findOneBy(handoff, { id });
  if (!row?.verifyWanted) return;
  const found = await lookAgain(at, row, leaving).catch((error: Error): Partial<ReturnedAnswer> | null =>
    leaving.aborted
      ? null
      : { problem: { what: error.message, remedy: 'See that the drive can be read, then verify again' } },
  );
  // A worker that leaves leaves it to the next.
  if (found === null) return;
  const whole: ReturnedAnswer = {
    ...{ at: new Date().toISOString(), verified: false, same: 0, missing: [], changed: [], more: [], moreCount: 0 },
    ...{ markedFor: null, readFromDisk: false, problem: null, ...found },
  };
  await patiently(() => db.manager.update(handoff, { id }, { returned: whole, verifyWanted: null }));
  const says = whole.problem
    ? `Could not be verified: ${whole.problem.what}`
    : `${whole.verified ? 'Verified' : 'Differs'}: ${whole.same} files as they were sent, ${whole.missing.length} missing, ${whole.changed.length} changed, ${whole.moreCount} that were not sent`;
  await patiently(() => noteHandoff(db, id, 'worker', says));
  await tell(db, { kind: 'changed', what: 'handoffs', production: row.productionId });
}

/** Verifications that were asked for, and whose job is lost. */
export async function unverified(db: DataSource): Promise<string[]> {
  const rows = await db.query<{ id: string }[]>(
    `SELECT id
     FROM handoff
     WHERE verify_wanted < now() - interval '1 minute' AND NOT EXISTS (
       SELECT 1
       FROM pgboss.job
       WHERE job.name = 'handoff' AND job.state IN ('created', 'retry', 'active')
         AND job.data->>'handoff' = handoff.id::text AND job.data->>'verify' IS NOT NULL
     )`,
  );
  return rows.map(({ id }) => id);
}
