import type { OriginalsLine } from '@relay/contract/originals';
import { under } from '@relay/core/naming/under';
import { goneFrom } from '@relay/work/disk/present';
import { isThere } from '@relay/work/disk/store';
import type { Tools } from '../desk/tools.ts';

/** Files that were read of originals, sidecars among them; what could not be read has no size. */
export const knownFiles = `coalesce((own->>'sizeBytes')::bigint, size_bytes)`;

/** Where a production's originals lie, roll by roll, and how many of their files are not there now. */
export async function originalsPlaces(
  { db, stores }: Pick<Tools, 'db' | 'stores'>,
  production: string,
): Promise<OriginalsLine[]> {
  const rows = await db.query<{ store: string; folder: string; roll: string; paths: string[]; bytes: number }[]>(
    `SELECT store_id AS store, root AS folder, roll, array_agg(path) AS paths, sum(${knownFiles})::float AS bytes
     FROM clip
     WHERE production_id = $1 AND ${knownFiles} > 0
     GROUP BY store_id, root, roll
     ORDER BY store_id, root, roll`,
    [production],
  );
  const known = new Map((await stores.list()).map((store) => [store.id, store]));
  return Promise.all(
    rows.map(async ({ store: id, folder, roll, paths, bytes }) => {
      const store = known.get(id);
      const storeThere = store !== undefined && (await isThere(store));
      const gone =
        store && storeThere
          ? (
              await goneFrom(
                store,
                paths.map((path) => under(folder, path)),
              )
            ).size
          : paths.length;
      return {
        ...{ store: id, folder, roll, bytes, gone, storeThere },
        storeName: store?.name ?? id,
        files: paths.length,
      };
    }),
  );
}
