import type { OriginalCopy } from '@relay/core/space/mayGo';
import { diskOf } from '@relay/work/disk/disk';
import { hashSamples } from '@relay/work/disk/hash';
import { holding } from '@relay/work/disk/held';
import { fileFacts } from '@relay/work/disk/place';
import { isThere, placeIn, type Store } from '@relay/work/disk/store';
import type { DataSource } from 'typeorm';

/** A file of an original. */
interface OriginalFile {
  path: string;
  sizeBytes: number;
  sampled: string | null;
}

/** A place that a clip's original lies in, as it is known. */
interface KnownCopy {
  store: string;
  folder: string;
  disk: string | null;
  proved: boolean;
}

/** A clip's original: its files, and every place where they should lie. */
export interface KnownOriginals {
  clip: string;
  files: OriginalFile[];
  copies: KnownCopy[];
}

/**
 * What is known of clips' originals. A roll's copies are proved where all its files were, and nothing was found wrong
 * since; of what was read where it lies, that place is the one copy that is known.
 */
export async function knownOriginals(db: DataSource, clips: readonly string[]): Promise<KnownOriginals[]> {
  return db.query<KnownOriginals[]>(
    `SELECT clip.id AS clip,
       (
         SELECT json_agg(json_build_object('path', file.path, 'sizeBytes', file.size, 'sampled', known.sampled))
         FROM (
           SELECT chapter->>'path' AS path, (chapter->>'sizeBytes')::bigint AS size
           FROM jsonb_array_elements(clip.description->'chapters') chapter
           UNION ALL
           SELECT clip.path, clip.size_bytes WHERE coalesce(jsonb_array_length(clip.description->'chapters'), 0) = 0
         ) file
         LEFT JOIN clip known ON known.production_id = clip.production_id AND known.store_id = clip.store_id
           AND known.root = clip.root AND known.path = file.path
       ) AS files,
       coalesce(
         (
           SELECT json_agg(
             json_build_object(
               'store', copy.store_id, 'folder', copy.folder, 'disk', copy.disk, 'proved',
               copy.files_proved >= roll.files AND roll.files > 0 AND copy.problem IS NULL
                 AND coalesce((copy.verification->>'verified')::boolean, true)
             )
           )
           FROM roll_copy copy
           JOIN roll ON roll.id = copy.roll_id
           WHERE copy.roll_id = clip.roll_id
         ), '[]'
       )::jsonb || CASE
         WHEN EXISTS (
           SELECT 1
           FROM roll_copy copy
           WHERE copy.roll_id = clip.roll_id AND copy.store_id = clip.store_id AND copy.folder = clip.root
         ) THEN '[]'
         ELSE jsonb_build_array(jsonb_build_object('store', clip.store_id, 'folder', clip.root, 'disk', NULL, 'proved', clip.roll_id IS NULL))
       END AS copies
     FROM clip
     WHERE clip.id = ANY ($1::uuid[]) AND jsonb_typeof(clip.description) = 'object'`,
    [clips],
  );
}

/** Looks at originals as they lie now; stores and disks are asked once. */
export class OriginalsLook {
  private readonly there = new Map<string, Promise<boolean>>();
  private readonly disks = new Map<string, Promise<string | null>>();

  /** `sampling`: samples of every file are read and held against those that were kept when it was read. */
  constructor(
    private readonly stores: ReadonlyMap<string, Store>,
    private readonly sampling: boolean,
  ) {}

  /** Every copy of a clip's original, with whether it is there now. */
  async copiesOf({ files, copies }: KnownOriginals): Promise<OriginalCopy[]> {
    return Promise.all(
      copies.map(async ({ store: id, folder, disk, proved }) => {
        const store = this.stores.get(id);
        const there = store !== undefined && (await this.isThere(store)) && (await this.holds(store, folder, files));
        return { store: store?.name ?? id, disk: disk ?? (store ? await this.diskOf(store) : null), there, proved };
      }),
    );
  }

  private isThere(store: Store): Promise<boolean> {
    const known = this.there.get(store.id) ?? isThere(store);
    this.there.set(store.id, known);
    return known;
  }

  private diskOf(store: Store): Promise<string | null> {
    const known = this.disks.get(store.id) ?? diskOf(store.path);
    this.disks.set(store.id, known);
    return known;
  }

  private async holds(store: Store, folder: string, files: readonly OriginalFile[]): Promise<boolean> {
    return holding(async (held) => {
      for (const { path, sizeBytes, sampled } of files) {
        const place = await held.file(placeIn(store, folder), path);
        if ((await fileFacts(place))?.sizeBytes !== sizeBytes) return false;
        if (this.sampling && sampled !== null && (await hashSamples(place)) !== sampled) return false;
      }
      return files.length > 0;
    }).catch(() => false);
  }
}
