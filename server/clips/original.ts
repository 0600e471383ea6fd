import type { ClipDescription } from '@relay/core/clip/description';
import { storeOr404, type Context } from '../context.ts';
import { notThere } from '../http.ts';
import { holding } from '@relay/work/disk/held';
import { originalIn } from '@relay/work/disk/store';

/** A clip's files on this machine, in their order, held open, and its description. */
export interface Original {
  files: string[];
  description: ClipDescription;
}

/** Calls `work` with a clip's files, for as long as it takes. */
export async function withOriginal<T>(
  context: Context,
  id: string,
  work: (original: Original) => Promise<T>,
): Promise<T> {
  const [clip] = await context.db.query<
    { storeId: string; root: string; path: string; description: ClipDescription | null }[]
  >('SELECT store_id AS "storeId", root, path, description FROM clip WHERE id = $1', [id]);
  const { description } = clip ?? {};
  if (!clip || !description) throw notThere('The clip');
  const store = await storeOr404(context, clip.storeId);
  const paths = description.chapters.length > 0 ? description.chapters.map((chapter) => chapter.path) : [clip.path];
  return holding(async (held) => {
    const files = await Promise.all(
      paths.map((path) => originalIn(held, store, clip.root, path).catch(() => Promise.reject(notThere(path)))),
    );
    return work({ files, description });
  });
}
