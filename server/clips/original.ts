import type { ClipDescription } from '@relay/core/clip/description';
import { storeOr404, type Context } from '../context.ts';
import { notThere, Refused } from '../http.ts';
import { holding } from '@relay/work/disk/held';
import { isThere, originalIn, type Store } from '@relay/work/disk/store';
import { clip } from '../db/entities/clips.ts';

/** A clip's files on this machine, in their order, held open, and its description. */
export interface Original {
  files: string[];
  description: ClipDescription;
  /** The time that its file carried when it was read, or was found elsewhere. */
  modifiedAt: Date | null;
}

/** Calls `work` with a clip's files, for as long as it takes. */
export async function withOriginal<T>(
  context: Context,
  id: string,
  work: (original: Original) => Promise<T>,
): Promise<T> {
  const found = await context.db.manager.findOne(clip, {
    select: { storeId: true, root: true, path: true, description: true, modifiedAt: true },
    where: { id },
  });
  const { description } = found ?? {};
  if (!found || !description) throw notThere('The clip');
  const store = await storeOr404(context, found.storeId);
  const paths = description.chapters.length > 0 ? description.chapters.map((chapter) => chapter.path) : [found.path];
  return holding(async (held) => {
    const files = await Promise.all(
      paths.map((path) =>
        originalIn(held, store, found.root, path).catch(async () => Promise.reject(await away(store, path))),
      ),
    );
    return work({ files, description, modifiedAt: found.modifiedAt });
  });
}

/** Why an original cannot be opened, by whether its store is there at all. */
async function away(store: Store, path: string): Promise<Refused> {
  return new Refused(404, {
    what: `${path} is not there (any more)`,
    remedy: (await isThere(store))
      ? `See whether it is on ${store.name}; look for what moved under Arrivals, Originals`
      : `Mount ${store.name}, then look again`,
  });
}
