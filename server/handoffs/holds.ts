import type { Holdings } from '@relay/contract/handoffs';
import type { HeldItem } from '@relay/core/handoff/travel';
import type { RelinkRow } from '@relay/core/relink/sheet';
import type { DataSource } from 'typeorm';

/** Something that a receiver holds: where it was put, and its line of the sheet. */
export interface HeldThing extends HeldItem {
  store: string;
  folder: string;
  relink: RelinkRow | null;
}

/** What came over to a receiver, of each path the newest, but for what they lost, or were told to delete since. */
export async function heldBy(db: DataSource, production: string, receiver: string): Promise<HeldThing[]> {
  return db.query<HeldThing[]>(
    `SELECT DISTINCT ON (item.path) item.path, item.size_bytes::float AS "sizeBytes", item.xxh3, item.key,
       handoff.store_id AS store, handoff.folder, item.relink
     FROM handoff_item item
     JOIN handoff ON handoff.id = item.handoff_id
     JOIN receiver ON receiver.id = handoff.receiver_id
     WHERE receiver.production_id = $1 AND lower(receiver.name) = lower($2) AND item.came
       AND handoff.lost_at IS NULL
       AND NOT EXISTS (
         SELECT 1
         FROM handoff later
         WHERE later.receiver_id = receiver.id AND later.created_at > handoff.created_at AND later.state = 'proved'
           AND later.to_delete @> jsonb_build_array(jsonb_build_object('path', item.path))
       )
     ORDER BY item.path, handoff.created_at DESC`,
    [production, receiver],
  );
}

/** Receivers × rolls: of how many clips of each roll every receiver holds something. */
export async function holdingsOf(db: DataSource, production: string): Promise<Holdings> {
  const rolls = await db.query<Holdings['rolls']>(
    `SELECT roll AS name, count(*)::int AS clips
     FROM clip
     WHERE production_id = $1 AND description IS NOT NULL
     GROUP BY roll
     ORDER BY roll`,
    [production],
  );
  const receivers = await db.query<Holdings['receivers']>(
    `SELECT receiver.id, receiver.name, receiver.file_system AS "fileSystem",
       (SELECT count(*)::int FROM handoff WHERE handoff.receiver_id = receiver.id) AS handoffs,
       coalesce(held.bytes, 0)::float AS bytes,
       (
         SELECT to_char(max(ended_at) AT TIME ZONE 'UTC', 'YYYY-MM-DD"T"HH24:MI:SS"Z"')
         FROM handoff
         WHERE handoff.receiver_id = receiver.id AND state = 'proved'
       ) AS "lastAt",
       coalesce(held.clips, '{}') AS clips
     FROM receiver
     LEFT JOIN LATERAL (
       SELECT sum(one.bytes) AS bytes, jsonb_object_agg(one.roll, one.clips) AS clips
       FROM (
         SELECT item.roll, count(DISTINCT item.clip_id)::int AS clips, sum(item.size_bytes) AS bytes
         FROM handoff_item item
         JOIN handoff ON handoff.id = item.handoff_id
         WHERE handoff.receiver_id = receiver.id AND item.came AND handoff.lost_at IS NULL
           AND item.clip_id IS NOT NULL
         GROUP BY item.roll
       ) one
     ) held ON true
     WHERE receiver.production_id = $1
     ORDER BY receiver.name`,
    [production],
  );
  return { rolls, receivers };
}
