import { randomBytes } from 'node:crypto';
import { mkdir, readFile, rename, rm, writeFile } from 'node:fs/promises';
import { dirname } from 'node:path';
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

/** A small picture of an output, or of its original beside it: of this output as it is, whose digest is in its name. */
export function comparedPath(
  cacheFolder: string,
  { id, xxh3 }: { id: string; xxh3: string | null },
  side: string,
  frame: number,
): string {
  return under(cacheFolder, 'compared', id, `${xxh3}-${side}-${frame}.jpg`);
}

/** Keeps a picture under its name once it is whole; where it cannot, on a full disk, nothing of it stays. */
export async function keepPicture(path: string, picture: Buffer): Promise<void> {
  const part = `${path}.${randomBytes(6).toString('hex')}`;
  try {
    await mkdir(dirname(path), { recursive: true });
    await writeFile(part, picture);
    await rename(part, path);
  } catch {
    // It is made again when it is asked for again.
    await rm(part, { force: true }).catch(() => undefined);
  }
}

export async function readLook(path: string): Promise<LookAnswer | null> {
  const text = await readFile(path, 'utf8').catch(() => null);
  return text === null ? null : (JSON.parse(text) as LookAnswer);
}
