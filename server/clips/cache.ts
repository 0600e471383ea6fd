import { readFile } from 'node:fs/promises';
import { under } from '@relay/core/naming/under';
import type { LookAnswer } from '@relay/contract/clips';

/** What is drawn of clips, kept in the application's own cache, never beside originals. */
export function posterPath(cacheFolder: string, clipId: string): string {
  return under(cacheFolder, 'posters', `${clipId}.jpg`);
}

export function stripPath(cacheFolder: string, clipId: string): string {
  return under(cacheFolder, 'strips', `${clipId}.jpg`);
}

export function lookPath(cacheFolder: string, clipId: string): string {
  return under(cacheFolder, 'looks', `${clipId}.json`);
}

export async function readLook(path: string): Promise<LookAnswer | null> {
  const text = await readFile(path, 'utf8').catch(() => null);
  return text === null ? null : (JSON.parse(text) as LookAnswer);
}
