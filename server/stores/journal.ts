import { mkdir, open, readFile, rm, type FileHandle } from 'node:fs/promises';
import { join } from 'node:path';
import type { Hashes } from '@relay/core/custody/manifest';
import { z } from 'zod';

/** A file that was copied, read back and found the same: what an arrival need not do again after a crash. */
export interface JournalLine {
  path: string;
  sizeBytes: number;
  modifiedAt: string;
  hashes: Hashes;
  fromDisk: boolean;
}

const name = '.relay-arrival.jsonl';
const line = z.object({ path: z.string(), sizeBytes: z.number(), modifiedAt: z.string(), hashes: z.record(z.string(), z.string()), fromDisk: z.boolean() });

/** The unfinished business of one copy, kept hidden in its folder until the manifest takes its place. */
export class Journal {
  private constructor(private readonly file: FileHandle, readonly lines: ReadonlyMap<string, JournalLine>) {}

  /** Opens the journal of a folder, with what an earlier attempt wrote. A torn last line is passed over. */
  static async open(folder: string): Promise<Journal> {
    await mkdir(folder, { recursive: true });
    const lines = await Journal.read(folder);
    const path = join(folder, name);
    const file = await open(path, 'a');
    // A torn line must not swallow the next one.
    if (lines && lines.size > 0) await file.write('\n');
    return new Journal(file, lines ?? new Map());
  }

  /** What an unfinished arrival left in a folder; null when there is none. */
  static async read(folder: string): Promise<Map<string, JournalLine> | null> {
    const text = await readFile(join(folder, name), 'utf8').catch(() => null);
    if (text === null) return null;
    return new Map(text.split('\n').flatMap((row) => {
      try {
        const parsed = line.safeParse(JSON.parse(row));
        return parsed.success ? [[parsed.data.path, parsed.data as JournalLine] as const] : [];
      } catch {
        return [];
      }
    }));
  }

  async write(done: JournalLine): Promise<void> {
    await this.file.write(`${JSON.stringify(done)}\n`);
  }

  async close(): Promise<void> {
    await this.file.close();
  }

  static async remove(folder: string): Promise<void> {
    await rm(join(folder, name), { force: true });
  }
}
