import { largestText, type LutFile } from '@relay/core/colour/lut/read';
import { readLutFile } from '@relay/core/colour/lut/file';
import type { Result } from '@relay/core/result';
import { readFile, stat } from 'node:fs/promises';
import { Misuse } from '../output.ts';

export function orMisuse<T>(result: Result<T>): T {
  if (result.ok) return result.value;
  throw new Misuse(`${result.problem.what}. ${result.problem.remedy}`);
}

/** A file's text. @throws Misuse naming the file where it cannot be read */
export async function textOf(path: string): Promise<string> {
  const facts = await stat(path).catch((error: NodeJS.ErrnoException) => {
    throw new Misuse(
      error.code === 'ENOENT' ? `${path} is not there` : `${path} cannot be read (${error.code ?? 'unknown'})`,
    );
  });
  if (!facts.isFile()) throw new Misuse(`${path} is not a file`);
  if (facts.size > largestText) throw new Misuse(`${path} is too large for a LUT. Make it again with fewer points`);
  return readFile(path, 'utf8').catch((error: NodeJS.ErrnoException) => {
    throw new Misuse(`${path} cannot be read (${error.code ?? 'unknown'})`);
  });
}

/** A LUT or CDL, read and understood. */
export async function lutOf(path: string): Promise<LutFile> {
  const read = readLutFile(await textOf(path), path);
  if (read.ok) return read.value;
  throw new Misuse(`${path}: ${read.problem.what}. ${read.problem.remedy}`);
}
