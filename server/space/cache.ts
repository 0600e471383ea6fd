import { lstat, readdir, rm } from 'node:fs/promises';
import { under } from '@relay/core/naming/under';

/** Pictures and analyses that the application keeps for itself, and makes again as soon as somebody asks for them. */
const madeAgain = ['compared', 'repairs'] as const;

/** Files of a folder of the cache, with their bytes; none where it is not there. */
async function filesIn(folder: string): Promise<{ path: string; bytes: number }[]> {
  const names = await readdir(folder, { recursive: true }).catch(() => []);
  const facts = await Promise.all(
    names.map(async (name) => {
      const path = under(folder, name);
      const seen = await lstat(path).catch(() => null);
      return seen?.isFile() ? [{ path, bytes: seen.size }] : [];
    }),
  );
  return facts.flat();
}

/** How much of the cache could go. */
export async function cacheSize(cacheFolder: string): Promise<{ files: number; bytes: number }> {
  const files = (await Promise.all(madeAgain.map((name) => filesIn(under(cacheFolder, name))))).flat();
  return { files: files.length, bytes: files.reduce((sum, { bytes }) => sum + bytes, 0) };
}

/** Empties that part of the cache; answers the bytes that came back. */
export async function clearCache(cacheFolder: string): Promise<number> {
  let freed = 0;
  for (const name of madeAgain)
    for (const { path, bytes } of await filesIn(under(cacheFolder, name))) {
      const gone = await rm(path).then(
        () => true,
        () => false,
      );
      if (gone) freed += bytes;
    }
  return freed;
}
