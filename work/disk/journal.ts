import { createHash } from 'node:crypto';
import { mkdir, open, readFile, rm, type FileHandle } from 'node:fs/promises';
import { under } from '@relay/core/naming/under';
import type { Hashes } from '@relay/core/custody/manifest';
import { z } from 'zod';

/** A file that was copied, read back and found the same: where to go on after a crash. */
export interface JournalLine {
  path: string;
  sizeBytes: number;
  modifiedAt: string;
  hashes: Hashes;
}

const line = z.object({
  path: z.string(),
  sizeBytes: z.number(),
  modifiedAt: z.string(),
  hashes: z.record(z.string(), z.string()),
});

/**
 * The unfinished business of one copy, kept with the site, where nobody else can write, until the manifest takes its
 * place. It says where to go on; what it says of a file counts only once that file's bytes were read from the disk
 * again.
 */
export class Journal {
  private constructor(
    private readonly file: FileHandle,
    private readonly path: string,
    readonly lines: ReadonlyMap<string, JournalLine>,
  ) {}

  /**
   * Opens the journal of the copy that lies at `copy`, with what an earlier attempt wrote. A torn last line is passed
   * over.
   */
  static async open(folder: string, copy: string): Promise<Journal> {
    await mkdir(folder, { recursive: true, mode: 0o700 });
    const lines = await Journal.read(folder, copy);
    const path = placeOf(folder, copy);
    const file = await open(path, 'a', 0o600);
    // A torn line must not swallow the next one.
    if (lines && lines.size > 0) await file.write('\n');
    return new Journal(file, path, lines ?? new Map());
  }

  /** What an unfinished arrival wrote of a copy; null when there is none. */
  static async read(folder: string, copy: string): Promise<Map<string, JournalLine> | null> {
    const text = await readFile(placeOf(folder, copy), 'utf8').catch(() => null);
    if (text === null) return null;
    return new Map(
      text.split('\n').flatMap((row) => {
        try {
          const parsed = line.safeParse(JSON.parse(row));
          return parsed.success ? [[parsed.data.path, parsed.data] as const] : [];
        } catch {
          return [];
        }
      }),
    );
  }

  async write(done: JournalLine): Promise<void> {
    await this.file.write(`${JSON.stringify(done)}\n`);
  }

  async close(): Promise<void> {
    await this.file.close();
  }

  /** Once a manifest says more. */
  async remove(): Promise<void> {
    await this.close();
    await rm(this.path, { force: true });
  }
}

/** A copy is known by where it lies. */
function placeOf(folder: string, copy: string): string {
  return under(folder, `${createHash('sha256').update(copy).digest('hex').slice(0, 32)}.jsonl`);
}
