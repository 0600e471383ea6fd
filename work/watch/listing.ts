import type { Dirent } from 'node:fs';
import { lstat, readdir } from 'node:fs/promises';
import { namedLikeClip } from '@relay/core/clip/formats';
import type { Sighting } from '@relay/core/inlet/watched';
import { isReceiptName } from '@relay/core/inlet/receipt';
import { folderAndName, under } from '@relay/core/naming/under';
import { isLitter } from '../custody/card.ts';
import { historyFolder } from '../custody/history.ts';
import { holding, type Held, type Root } from '../disk/held.ts';
import type { Unseen } from '../disk/walk.ts';

/** A file of an inlet, with the times that a description states. */
export interface Seen extends Sighting {
  modifiedAt: string;
}

/** What is known of one folder from the last time that it was looked into. */
interface Known {
  /** The folder's own times when its names were read; null where they may be older than what was read. */
  mark: string | null;
  /** Its number on the disk, and when it was made: a number is given to another folder again. */
  self: string;
  folders: string[];
  names: Set<string>;
  /** Links, pipes, devices and what lies too deep: passed over. */
  unseen: Unseen[];
  /** Those of its files that wait. */
  waiting: Map<string, Seen>;
}

/** Folders deeper, or more files than these, are nobody's inlet. */
const most = { depth: 100, files: 1_000_000 } as const;

/** A folder that changed so shortly before it was read may change again within one step of its disk's clock. */
const clockStepMs = 2_500;

function markOf({ mtimeMs, ctimeMs }: { mtimeMs: number; ctimeMs: number }): string {
  return `${mtimeMs}:${ctimeMs}`;
}

/** How closely a look looks. *names*: what is settled is not asked about where its folder's names are the same. */
export type Closeness = 'names' | 'everything';

/**
 * The files below an inlet's folder. What is settled (taken up, or left) is remembered by its state, so that a look
 * costs as much as there is new, not as much as there is: a folder whose own times stand still is not read again.
 */
export class Listing {
  private readonly known = new Map<string, Known>();
  private readonly settledAs = new Map<string, string>();
  private readonly eyed = new Set<string>();
  /** Folders that cannot be opened. */
  private readonly closed = new Map<string, Unseen>();
  /** Folders that hold a history of checksums, or a list of them. */
  readonly withHistory = new Set<string>();
  /** Folders that hold an index of what lies in folders below, and no clip themselves, as cards do. */
  readonly withIndex = new Set<string>();
  private count = 0;

  constructor(
    private readonly root: Root,
    private readonly options: {
      /** Paths that are passed over, with all below them. */
      passes: (path: string) => boolean;
      /** Whether a file is remembered from before this process began: it is settled as soon as it is seen. */
      remembered: (file: Seen) => boolean;
      onFolder?: (folder: string) => void;
      /** More files than these are nobody's inlet. */
      mostFiles?: number;
    },
  ) {}

  /** Links, pipes, devices and folders that cannot be opened, and why each is passed over. */
  get unseen(): Unseen[] {
    return [...this.closed.values(), ...[...this.known.values()].flatMap(({ unseen }) => unseen)];
  }

  /** The size of what lies at a path, as it was last seen; null where nothing does. */
  sizeAt(path: string): number | null {
    const { folder, name } = folderAndName(path);
    const known = this.known.get(folder);
    const waiting = known?.waiting.get(name);
    if (waiting) return waiting.sizeBytes;
    // A name may be read before what is settled of it is asked about.
    const settled = known?.names.has(name) ? this.settledAs.get(path) : undefined;
    return settled === undefined ? null : Number(settled.split(' ')[0]);
  }

  /** Every folder that is known, the inlet's own among them. */
  get folders(): Iterable<string> {
    return this.known.keys();
  }

  /** Folders that hold a file that waits. */
  get restless(): string[] {
    return [...this.known].filter(([, { waiting }]) => waiting.size > 0).map(([folder]) => folder);
  }

  /** Everything that waits, as it was last seen. */
  get waiting(): Seen[] {
    return [...this.known.values()].flatMap(({ waiting }) => [...waiting.values()]);
  }

  /** Takes a file as dealt with, as it was seen: it is not told of again until it changes. */
  settle({ path, sizeBytes, mark }: Sighting): void {
    this.settledAs.set(path, `${sizeBytes} ${mark}`);
    const { folder, name } = folderAndName(path);
    const waiting = this.known.get(folder)?.waiting;
    const now = waiting?.get(name);
    if (now?.sizeBytes === sizeBytes && now.mark === mark) waiting?.delete(name);
  }

  /** Asks about a file at every look although it is settled: one that was left, and is tried again when it changes. */
  keepAnEyeOn(path: string): void {
    this.eyed.add(path);
  }

  /** Takes a file as not dealt with: the next look that is a close one tells of it again. */
  unsettle(path: string): void {
    this.settledAs.delete(path);
    const folder = this.known.get(folderAndName(path).folder);
    if (folder) folder.mark = null;
  }

  /**
   * Looks at the whole tree, or at some folders of it.
   * @throws the system's error where the inlet's own folder cannot be opened
   */
  async look(closeness: Closeness, folders?: Iterable<string>): Promise<void> {
    if (folders === undefined) {
      await holding((held) => this.visit(held, '', 0, closeness));
      return;
    }
    for (const folder of new Set(folders)) {
      if (!this.known.has(folder)) continue;
      await holding((held) =>
        this.visitFolder(held, {
          folder,
          closeness: 'everything',
          depth: folder === '' ? 0 : folder.split('/').length,
          below: false,
        }),
      );
    }
  }

  /** Forgets what is where, after the inlet's own folder was not there; what is settled stays so. */
  lost(): void {
    this.known.clear();
    this.closed.clear();
    this.withHistory.clear();
    this.withIndex.clear();
    this.count = 0;
  }

  private visit(held: Held, folder: string, depth: number, closeness: Closeness): Promise<void> {
    return this.visitFolder(held, { folder, depth, closeness, below: true });
  }

  private forget(folder: string): void {
    if (folder === '') this.lost();
    for (const [one, { names }] of [...this.known]) {
      if (one !== folder && !one.startsWith(`${folder}/`)) continue;
      this.known.delete(one);
      this.closed.delete(one);
      this.withHistory.delete(one);
      this.withIndex.delete(one);
      this.count -= names.size;
    }
  }

  private async visitFolder(
    held: Held,
    { folder, depth, closeness, below }: { folder: string; depth: number; closeness: Closeness; below: boolean },
  ): Promise<void> {
    let place: string;
    let read: { known: Known; fresh: string[]; gone: string[] };
    try {
      place = await held.folder(this.root, folder);
      read = await this.namesOf(place, folder, depth, closeness);
    } catch (error) {
      if (depth === 0) throw error;
      const { code, message } = error as NodeJS.ErrnoException;
      this.forget(folder);
      if (code !== 'ENOENT')
        this.closed.set(folder, { shownPath: folder, why: `the folder cannot be opened (${code ?? message})` });
      return;
    }
    this.closed.delete(folder);
    await this.lookAtFiles(place, folder, read.known, closeness);
    for (const inner of read.gone) this.forget(inner);
    for (const inner of below ? read.known.folders : read.fresh)
      await holding((own) => this.visit(own, inner, depth + 1, closeness));
  }

  /** The names in a folder: as they are known, where its own times say that they are the same. */
  private async namesOf(
    place: string,
    folder: string,
    depth: number,
    closeness: Closeness,
  ): Promise<{ known: Known; fresh: string[]; gone: string[] }> {
    const facts = await lstat(`${place}/.`);
    const mark = markOf(facts);
    // Another folder may have got the name since: all of it is new.
    const last = this.known.get(folder);
    const self = `${facts.ino} ${facts.birthtimeMs}`;
    if (last && last.self !== self) this.forget(folder);
    const before = this.known.get(folder);
    if (before && before.mark === mark && closeness === 'names') return { known: before, fresh: [], gone: [] };
    const entries = await readdir(place, { withFileTypes: true });
    const sorted = this.sortOut(entries, folder, depth);
    this.count += sorted.names.size - (before?.names.size ?? 0);
    const mostFiles = this.options.mostFiles ?? most.files;
    if (this.count > mostFiles) throw new Error(`more than ${mostFiles} files lie in the inlet`);
    const old = Date.now() - Math.max(facts.mtimeMs, facts.ctimeMs) > clockStepMs;
    const known: Known = {
      ...sorted,
      self,
      mark: old ? mark : null,
      waiting: before?.waiting ?? new Map<string, Seen>(),
    };
    this.known.set(folder, known);
    if (!before) this.options.onFolder?.(folder);
    const [were, are] = [new Set(before?.folders), new Set(known.folders)];
    return {
      known,
      fresh: known.folders.filter((inner) => !were.has(inner)),
      gone: (before?.folders ?? []).filter((inner) => !are.has(inner)),
    };
  }

  private sortOut(
    entries: readonly Dirent[],
    folder: string,
    depth: number,
  ): Pick<Known, 'folders' | 'names' | 'unseen'> {
    const folders: string[] = [];
    const names: string[] = [];
    const unseen: Unseen[] = [];
    this.withHistory.delete(folder);
    for (const entry of entries) {
      const { name } = entry;
      const path = folder === '' ? name : `${folder}/${name}`;
      if (name === historyFolder && entry.isDirectory()) this.withHistory.add(folder);
      if (name.startsWith('.') || name === historyFolder || isLitter(name) || isReceiptName(name)) continue;
      if (this.options.passes(path)) continue;
      if (entry.isFile() && /\.(mhl|md5|sha1|xxh|xxh64|xxh3|xxh128)$/i.test(name)) this.withHistory.add(folder);
      if (entry.isDirectory() && depth < most.depth) folders.push(path);
      else if (entry.isFile()) names.push(name);
      else
        unseen.push({
          shownPath: path,
          why: entry.isSymbolicLink()
            ? 'it is a link, and links are not followed'
            : entry.isDirectory()
              ? `it lies more than ${most.depth} folders deep`
              : 'it is no file',
        });
    }
    const indexed = folders.length > 0 && names.some((name) => /\.xml$/i.test(name)) && !names.some(namedLikeClip);
    if (indexed) this.withIndex.add(folder);
    else this.withIndex.delete(folder);
    return { folders, names: new Set(names), unseen };
  }

  /** Looks at those files of a folder that wait, and, closely, at all. */
  private async lookAtFiles(place: string, folder: string, known: Known, closeness: Closeness): Promise<void> {
    for (const name of [...known.waiting.keys()]) if (!known.names.has(name)) known.waiting.delete(name);
    for (const name of known.names) {
      const path = folder === '' ? name : `${folder}/${name}`;
      const settled = this.settledAs.get(path);
      if (settled !== undefined && closeness === 'names' && !this.eyed.has(path)) continue;
      const facts = await lstat(under(place, name)).catch(() => null);
      if (!facts?.isFile()) {
        known.waiting.delete(name);
        continue;
      }
      const seen = { path, sizeBytes: facts.size, mark: markOf(facts), modifiedAt: facts.mtime.toISOString() };
      if (settled === `${seen.sizeBytes} ${seen.mark}`) continue;
      if (settled === undefined && this.options.remembered(seen)) this.settle(seen);
      else {
        this.eyed.delete(path);
        known.waiting.set(name, seen);
      }
    }
  }
}
