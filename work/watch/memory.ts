import { open, readFile, type FileHandle } from 'node:fs/promises';
import { hostname } from 'node:os';
import { KnownFiles, type KnownFile } from '@relay/core/inlet/content';
import { under } from '@relay/core/naming/under';
import { isAlive } from '@relay/media/process/alive';
import { z } from 'zod';
import { readText, writeWhole } from '../disk/place.ts';

/** Where an inlet's memory lies, beside its outputs. */
export const memoryName = 'relay-inlet.jsonl';

/** A memory of a million files is smaller. */
const largest = 512_000_000;
/** It is written anew when it has so many times as many lines as it says things. */
const wordiest = 3;

const file = z.object({
  path: z.string(),
  sizeBytes: z.number(),
  modifiedAt: z.string(),
  sampled: z.string(),
  whole: z.string().nullable(),
});
const line = z.discriminatedUnion('kind', [
  /** Who keeps it: as long as that process lives, nobody else does. */
  z.object({ kind: z.literal('keeper'), host: z.string(), pid: z.number(), born: z.string() }),
  z.object({ kind: z.literal('taken'), ...file.shape }),
  z.object({ kind: z.literal('result'), ...file.shape }),
  z.object({ kind: z.literal('left'), ...file.omit({ sampled: true, whole: true }).shape }),
]);
type Line = z.infer<typeof line>;

/** A file that was left, as it was then: it is tried again when it is another. */
interface LeftFile {
  path: string;
  sizeBytes: number;
  modifiedAt: string;
}

/** Thrown where another process keeps the memory, or something else has its name. */
export class MemoryTaken extends Error {}

/** When a process of this machine began, as its system counts; empty where it cannot be told (proc(5), field 22). */
async function bornAt(pid: number): Promise<string> {
  const stat = await readFile(`/proc/${pid}/stat`, 'utf8').catch(() => '');
  return stat.slice(stat.lastIndexOf(')') + 2).split(' ')[19] ?? '';
}

/**
 * What an inlet took up, what came of it, and what was left: kept beside the outputs, a line for each, so
 * that it goes wherever they go, and a process that is killed loses nothing that it had finished.
 */
export class InletMemory {
  readonly taken = new KnownFiles();
  /** What was made, wherever it may turn up again. */
  readonly results = new KnownFiles();
  private readonly left = new Map<string, LeftFile>();
  private writing: Promise<void> = Promise.resolve();
  private unwritten = '';

  private constructor(private readonly journal: FileHandle) {}

  /** @throws MemoryTaken where another process keeps it, or what has its name is no memory of ours */
  static async open(folder: string): Promise<InletMemory> {
    const path = under(folder, memoryName);
    const text = await readText(path, largest).catch((error: NodeJS.ErrnoException) =>
      error.code === 'ENOENT' ? '' : Promise.reject(error),
    );
    const rows = text.split('\n').filter((row) => row !== '');
    const lines = rows.flatMap(lineOf);
    if (rows.length > 1 && lines.length === 0)
      throw new MemoryTaken(`${path} is there, but is no memory of an inlet: move it away`);
    await refuseKept(lines, path);
    const said = new Map<string, Line>();
    // A later line on a path takes the earlier's place.
    for (const one of lines)
      if (one.kind !== 'keeper') said.set(one.kind === 'result' ? `result ${one.path}` : one.path, one);
    if (rows.length > wordiest * said.size + 100)
      await writeWhole(path, `${[...said.values()].map((one) => JSON.stringify(one)).join('\n')}\n`);
    const journal = await open(path, 'a', 0o644);
    const memory = new InletMemory(journal);
    for (const one of said.values()) memory.take(one);
    // A torn line must not swallow the next one.
    if (text !== '' && !text.endsWith('\n')) await journal.write('\n');
    const { pid } = process;
    await memory.write({ kind: 'keeper', host: hostname(), pid, born: await bornAt(pid) });
    return memory;
  }

  /** Whether a file was dealt with as it is now. */
  remembers(seen: LeftFile): boolean {
    const { sizeBytes, modifiedAt } = this.left.get(seen.path) ?? {};
    return this.taken.sameAsEver(seen) || (sizeBytes === seen.sizeBytes && modifiedAt === seen.modifiedAt);
  }

  async addTaken(known: KnownFile): Promise<void> {
    await this.keep({ kind: 'taken', ...known });
  }

  async addResult(known: KnownFile): Promise<void> {
    await this.keep({ kind: 'result', ...known });
  }

  async addLeft(files: readonly LeftFile[]): Promise<void> {
    await this.keep(
      ...files.map(({ path, sizeBytes, modifiedAt }): Line => ({ kind: 'left', path, sizeBytes, modifiedAt })),
    );
  }

  async close(): Promise<void> {
    await this.write();
    await this.journal.close();
  }

  private async keep(...lines: readonly Line[]): Promise<void> {
    lines.forEach((one) => this.take(one));
    if (lines.length > 0) await this.write(...lines);
  }

  private take(one: Line): void {
    if (one.kind === 'taken') {
      this.left.delete(one.path);
      this.taken.add(one);
    } else if (one.kind === 'result') this.results.add(one);
    else if (one.kind === 'left') {
      this.taken.forget(one.path);
      this.left.set(one.path, one);
    }
  }

  /** What a full disk refuses is written with the next line. */
  private write(...lines: readonly Line[]): Promise<void> {
    this.unwritten += lines.map((one) => `${JSON.stringify(one)}\n`).join('');
    this.writing = this.writing.then(async () => {
      const text = this.unwritten;
      if (text === '') return;
      try {
        await this.journal.write(text);
        await this.journal.datasync();
        this.unwritten = this.unwritten.slice(text.length);
      } catch {
        // Half a line may be there: the next one must not be swallowed by it.
        if (!this.unwritten.startsWith('\n')) this.unwritten = `\n${this.unwritten}`;
      }
    });
    return this.writing;
  }
}

function lineOf(row: string): Line[] {
  try {
    const parsed = line.safeParse(JSON.parse(row));
    return parsed.success ? [parsed.data] : [];
  } catch {
    return [];
  }
}

/** Refuses a memory whose keeper lives on this machine. */
async function refuseKept(lines: readonly Line[], path: string): Promise<void> {
  const keeper = lines.filter((one) => one.kind === 'keeper').at(-1);
  if (!keeper || keeper.host !== hostname() || keeper.pid === process.pid || !isAlive(keeper.pid)) return;
  if ((await bornAt(keeper.pid)) === keeper.born)
    throw new MemoryTaken(`${path} is kept by process ${keeper.pid}, which watches for this folder of outputs already`);
}
