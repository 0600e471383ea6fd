import { lstat } from 'node:fs/promises';
import type { FoundFile } from './walk.ts';

/** A file that was not written to for so long counts as complete. */
const quietAfterMs = 2_000;
/** After so long the others are read, and what still changes is left for later. */
const patienceMs = 20_000;
const lookEveryMs = 500;

interface Mark {
  size: number;
  changed: number;
  since: number;
}

/**
 * Waits until files have stopped changing, by size and by both of their times. Files that nobody touched lately are
 * let through at once; what still changes after a while is given back as arriving. `beat` is called while waiting.
 */
export async function untilQuiet(
  files: readonly FoundFile[],
  beat: () => void,
  patience = patienceMs,
): Promise<{ quiet: FoundFile[]; arriving: FoundFile[] }> {
  const end = Date.now() + patience;
  const marks = new Map<FoundFile, Mark>();
  const quiet = new Set<FoundFile>();
  for (let waiting = [...files]; ;) {
    const now = Date.now();
    for (const file of waiting) {
      const facts = await lstat(file.path).catch(() => null);
      // Gone or unreadable: describing it says so.
      if (!facts) {
        quiet.add(file);
        continue;
      }
      const changed = Math.max(facts.mtimeMs, facts.ctimeMs);
      const before = marks.get(file);
      const same = before?.size === facts.size && before.changed === changed;
      const since = same ? before.since : now;
      marks.set(file, { size: facts.size, changed, since });
      // The clock of another machine may be off: what we saw unchanged for long enough is quiet by our own.
      if (now - changed >= quietAfterMs || now - since >= quietAfterMs) quiet.add(file);
    }
    waiting = waiting.filter((file) => !quiet.has(file));
    if (waiting.length === 0 || Date.now() >= end)
      return { quiet: files.filter((file) => quiet.has(file)), arriving: waiting };
    beat();
    await new Promise((resolve) => setTimeout(resolve, lookEveryMs));
  }
}
