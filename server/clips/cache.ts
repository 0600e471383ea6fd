import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { LookAnswer } from '@relay/contract/clips';

/** What is drawn of clips, kept in the application's own cache, never beside originals. */
export function posterPath(cacheFolder: string, clipId: string): string {
  return join(cacheFolder, 'posters', `${clipId}.jpg`);
}

export function stripPath(cacheFolder: string, clipId: string): string {
  return join(cacheFolder, 'strips', `${clipId}.jpg`);
}

export function lookPath(cacheFolder: string, clipId: string): string {
  return join(cacheFolder, 'looks', `${clipId}.json`);
}

export async function readLook(path: string): Promise<LookAnswer | null> {
  const text = await readFile(path, 'utf8').catch(() => null);
  return text === null ? null : (JSON.parse(text) as LookAnswer);
}
