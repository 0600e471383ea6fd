import { mkdir, opendir, readdir, readFile, rename, stat, statfs, writeFile } from 'node:fs/promises';
import type { MemberSystem } from '@relay/core/naming/systemPath';
import { dirname } from 'node:path';
import { under } from '@relay/core/naming/under';
import { z } from 'zod';
import { asItsFolder, type Held, holding } from './held.ts';
import { readText } from './place.ts';

/** A disk or folder that Brisk Relay may use. */
export interface Store {
  id: string;
  name: string;
  path: string;
  /**
   * A small file at its root says that it is this store: a share that is not mounted leaves an empty folder, which must
   * not be filled.
   */
  marked?: boolean;
  /** Its path as members' machines write it, by system. */
  elsewhere?: Partial<Record<MemberSystem, string>>;
}

const storesFile = z.array(
  z.strictObject({
    id: z.string(),
    name: z.string(),
    path: z.string(),
    marked: z.boolean().optional(),
    elsewhere: z
      .strictObject({ windows: z.string().optional(), mac: z.string().optional(), linux: z.string().optional() })
      .optional(),
  }),
);

const markName = '.relay-store';
/** Bytes that a mark has at most: a store's id and a line's end. */
const mostMark = 1_000;

/** The stores of this machine, kept in a small file, so that every process and the command line see the same. */
export class Stores {
  constructor(private readonly file: string) {}

  async list(): Promise<Store[]> {
    const text = await readFile(this.file, 'utf8').catch(() => '[]');
    return storesFile.parse(JSON.parse(text));
  }

  async get(id: string): Promise<Store | null> {
    return (await this.list()).find((store) => store.id === id) ?? null;
  }

  /**
   * Adds a store, or changes where one of that name lies. It is marked as that store where it can be written to. `made`
   * where its folder was made just now, and so is empty by right.
   * @throws Error when the folder is marked as another store, or is empty where that store was
   */
  async put(name: string, path: string, made = false): Promise<void> {
    const id =
      name
        .toLowerCase()
        .replace(/[^a-z0-9]+/g, '-')
        .replace(/^-|-$/g, '') || 'store';
    const marked = await markOf(path);
    if (marked !== null && marked !== id) throw new Error(`${path} is the store ${marked} already`);
    const known = await this.get(id);
    if (
      !made &&
      known?.marked &&
      known.path === path &&
      marked === null &&
      (await readdir(path).catch(() => [])).length === 0
    )
      throw new Error(`${path} is empty, and ${name} was there: mount it first`);
    const written =
      marked === id ||
      (await writeFile(under(path, markName), `${id}\n`, { flag: 'wx' })
        .then(() => asItsFolder(under(path, markName), path))
        .then(
          () => true,
          () => false,
        ));
    await this.keep({
      id,
      name,
      path,
      ...(written ? { marked: true } : {}),
      ...(known?.elsewhere ? { elsewhere: known.elsewhere } : {}),
    });
  }

  /** Says how members' machines write a store's path. */
  async putElsewhere(id: string, elsewhere: NonNullable<Store['elsewhere']>): Promise<void> {
    const store = await this.get(id);
    if (store) await this.keep({ ...store, elsewhere });
  }

  private async keep(changed: Store): Promise<void> {
    const stores = await this.list();
    await mkdir(dirname(this.file), { recursive: true });
    const next = stores.some(({ id }) => id === changed.id)
      ? stores.map((store) => (store.id === changed.id ? changed : store))
      : [...stores, changed];
    await writeFile(`${this.file}.new`, `${JSON.stringify(next, null, 2)}\n`);
    await rename(`${this.file}.new`, this.file);
  }
}

/** Which store a folder is marked as; null where it is not. */
async function markOf(path: string): Promise<string | null> {
  return readText(under(path, markName), mostMark).then(
    (text) => text.trim(),
    () => null,
  );
}

/** Whether a store is there: mounted, and itself. */
export async function isThere(store: Store): Promise<boolean> {
  if (store.marked) return (await markOf(store.path)) === store.id;
  return stat(store.path).then(
    (facts) => facts.isDirectory(),
    () => false,
  );
}

/** Bytes free and in all on a store's disk; null when it is not there. */
export async function storeSpace(store: Store): Promise<{ freeBytes: number; totalBytes: number } | null> {
  const facts = (await isThere(store)) ? await statfs(store.path).catch(() => null) : null;
  return facts ? { freeBytes: facts.bavail * facts.bsize, totalBytes: facts.blocks * facts.bsize } : null;
}

/** Folders of one folder that are told: nobody chooses among more. */
const mostFolders = 5_000;
const byNumber = new Intl.Collator('en', { numeric: true });

/**
 * Folders and the number of files directly in a folder of a store; hidden ones are passed over. A folder of very many
 * is looked through bit by bit.
 */
export async function lookInto(store: Store, folder: string): Promise<{ folders: string[]; files: number }> {
  return holding(async (held) => {
    const folders: string[] = [];
    let files = 0;
    for await (const entry of await opendir(await held.folder(store.path, folder), { bufferSize: 256 })) {
      if (entry.name.startsWith('.')) continue;
      if (entry.isDirectory() && folders.length < mostFolders) folders.push(entry.name);
      if (entry.isFile()) files += 1;
    }
    return { folders: folders.sort(byNumber.compare), files };
  });
}

/** A clip's original on this machine, held open. `root` is the folder that was read, `path` the file's below it. */
export async function originalIn(held: Held, store: Store, root: string, path: string): Promise<string> {
  return held.file(store.path, under(root, path));
}
