import { join } from 'node:path';

/** Where the poster of a clip is kept: in the application's own cache, never beside originals. */
export function posterPath(cacheFolder: string, clipId: string): string {
  return join(cacheFolder, 'posters', `${clipId}.jpg`);
}
