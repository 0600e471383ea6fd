import { isSidecar } from '@relay/core/clip/formats';
import { folderOf } from '@relay/core/clip/roll';
import { under } from '@relay/core/naming/under';
import { pathOf } from '@relay/work/disk/held';
import type { FoundFile } from '@relay/work/disk/walk';
import { Sidecars } from '@relay/work/read/sidecars';
import type { Ready } from '@relay/work/watch/follower';
import { filesToRead } from '@relay/work/watch/takeUp';
import { keepSidecars } from '../arrivals/keepRead.ts';
import { refreshClips } from '../clips/refresh.ts';
import type { TakingUp } from './takingUp.ts';

/** Clips that were read from some folders of an inlet before, as files: by them it is told whose a sidecar is. */
export async function clipsIn(
  { db, root, work }: Pick<TakingUp, 'db' | 'root' | 'work'>,
  folders: readonly string[],
): Promise<(FoundFile & { id: string })[]> {
  const rows = await db.query<{ id: string; path: string }[]>(
    `SELECT id, path
     FROM clip
     WHERE production_id = $1 AND store_id = $2 AND root = $3 AND description IS NOT NULL
       AND rtrim(regexp_replace(path, '[^/]*$', ''), '/') = ANY($4)`,
    [work.productionId, work.storeId, work.folder, folders],
  );
  return rows.map(({ id, path }) => ({ id, root, shownPath: path, path: under(pathOf(root), path) }));
}

/** Gives sidecars that arrive after their clips to these. */
export async function attachLate(at: TakingUp, lot: readonly Ready[]): Promise<void> {
  const late = lot.filter(({ files }) => files.every(({ path }) => isSidecar(path)));
  if (late.length === 0) return;
  const files = await filesToRead(late, at.root, () => true);
  const clips = await clipsIn(at, [...new Set(files.map(({ shownPath }) => folderOf(shownPath)))]);
  if (clips.length === 0) return;
  const sidecars = new Sidecars([...files, ...clips]);
  await keepSidecars(
    at.db,
    at.work,
    sidecars,
    clips.map(({ shownPath }) => shownPath),
  );
  await refreshClips(
    at.db,
    at.work.productionId,
    clips.map(({ id }) => id),
  );
}
