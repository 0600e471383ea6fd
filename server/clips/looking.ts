import { mkdir, writeFile } from 'node:fs/promises';
import { under } from '@relay/core/naming/under';
import type { LookAnswer } from '@relay/contract/clips';
import type { Packet } from '@relay/core/measure/measured';
import { lookClosely, type Look } from '@relay/media/look/look';
import type { DataSource } from 'typeorm';
import { tell } from '../live/notify.ts';
import { holding } from '@relay/work/disk/held';
import { originalIn } from '@relay/work/disk/store';
import type { Stores } from '../stores/stores.ts';
import { lookPath, stripPath } from './cache.ts';
import { refreshClips } from './refresh.ts';
import { clip } from '../db/entities/clips.ts';
import { byItsClock } from '../db/entities/columns.ts';

/** Longer clips are drawn second by second. */
const mostPictures = 6_000;

/** Looks closely at one clip, keeps what was measured and what is drawn, and works out its findings anew. */
export async function carryOutLook(db: DataSource, stores: Stores, cacheFolder: string, clipId: string): Promise<void> {
  const found = await db.manager.findOne(clip, {
    select: { productionId: true, storeId: true, root: true, path: true, description: true, lookedAt: true },
    where: { id: clipId },
  });
  if (!found?.description || found.lookedAt) return;
  const { description, root, storeId, productionId } = found;
  try {
    const store = await stores.get(storeId);
    if (!store) throw new Error(`there is no store ${storeId} any more`);
    const paths = description.chapters.length > 0 ? description.chapters.map(({ path }) => path) : [found.path];
    for (const folder of ['strips', 'looks']) await mkdir(under(cacheFolder, folder), { recursive: true });
    const look = await holding(async (held) => {
      // A store that is away must not look like a clip that cannot be decoded.
      const files = await Promise.all(
        paths.map((path) =>
          originalIn(held, store, root, path).catch((error: Error) =>
            Promise.reject(new Error(`${path} is not there (${error.message})`)),
          ),
        ),
      );
      return lookClosely(description, files, stripPath(cacheFolder, clipId));
    });
    await writeFile(lookPath(cacheFolder, clipId), JSON.stringify(drawn(look)));
    await db.manager.update(clip, { id: clipId }, { measured: look.measured, lookedAt: byItsClock, lookProblem: null });
  } catch (error) {
    await db.manager.update(clip, { id: clipId }, { lookedAt: byItsClock, lookProblem: (error as Error).message });
  }
  await refreshClips(db, productionId, [clipId]);
  await tell(db, { kind: 'changed', what: 'clips', production: productionId });
}

function drawn({ measured, outlines, packets }: Look): LookAnswer {
  return {
    outlines: outlines.map((outline, index) => ({
      track: measured.sound[index]?.track ?? 0,
      channel: measured.sound[index]?.channel ?? index,
      ...outline,
    })),
    flow: flowOf(packets),
  };
}

function flowOf(packets: readonly Packet[]): LookAnswer['flow'] {
  const first = packets.reduce((least, packet) => Math.min(least, packet.seconds), Infinity);
  if (packets.length <= mostPictures) {
    const shown = [...packets].sort((a, b) => a.seconds - b.seconds);
    return {
      kind: 'pictures',
      seconds: shown.map((packet) => Math.round((packet.seconds - first) * 1e4) / 1e4),
      bytes: shown.map((packet) => packet.bytes),
      whole: shown.map((packet) => packet.whole),
    };
  }
  const bytes: number[] = [];
  for (const packet of packets)
    bytes[Math.floor(packet.seconds - first)] = (bytes[Math.floor(packet.seconds - first)] ?? 0) + packet.bytes;
  return {
    kind: 'seconds',
    seconds: bytes.map((_, second) => second),
    bytes: Array.from(bytes, (value) => value ?? 0),
    whole: [],
  };
}

/**
 * Clips that nobody has looked at and no job is going to: to be queued again. One worker looks, the site's own: what was
 * begun before it `started` (by the database's clock) was begun by one that is gone. Null where that is not known.
 */
export async function orphanedLooks(db: DataSource, started: Date | null): Promise<string[]> {
  const rows = await db.query<{ id: string }[]>(
    `SELECT id
     FROM clip
     WHERE looked_at IS NULL
       AND description IS NOT NULL
       AND created_at < now() - interval '20 seconds'
       AND NOT EXISTS (
         SELECT 1
         FROM pgboss.job
         WHERE job.name = 'look'
           AND job.data->>'clip' = clip.id::text
           AND (
             job.state IN ('created', 'retry')
             OR (job.state = 'active' AND ($1::timestamptz IS NULL OR job.started_on >= $1))
           )
       )
     LIMIT 500`,
    [started],
  );
  return rows.map((row) => row.id);
}
