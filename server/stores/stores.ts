import { mkdir, readdir, readFile } from 'node:fs/promises';
import { basename, dirname } from 'node:path';
import { diskProblem } from '@relay/work/disk/diskProblem';
import { writeWhole } from '@relay/work/disk/place';
import { markOf } from '@relay/work/disk/mark';
import { isThere, markAs, type Store } from '@relay/work/disk/store';
import { z } from 'zod';
import { Refused } from '../http.ts';

const storesFile = z.array(
  z.strictObject({
    id: z.string(),
    name: z.string(),
    path: z.string(),
    marked: z.boolean().optional(),
    readOnly: z.boolean().optional(),
    before: z.string().optional(),
    elsewhere: z
      .strictObject({ windows: z.string().optional(), mac: z.string().optional(), linux: z.string().optional() })
      .optional(),
  }),
);

/** The store that stands for the card reader of the demo; no other may be called so. */
export const bayStore = 'card-bay';

/** What a folder is added for. What is brought in from is a card, whatever it looks like, and stays as it is. */
export type StoreUse = 'read' | 'bring in' | 'make';

/** Whether a mark says an id: a stranger's disk may hold anything under its name. */
function isId(mark: string): boolean {
  return mark.length <= 100 && mark === idOf(mark) && mark !== bayStore;
}

/** A store's id, by its name. */
function idOf(name: string): string {
  return (
    name
      .toLowerCase()
      .replace(/[^a-z0-9]+/g, '-')
      .replace(/^-|-$/g, '') || 'store'
  );
}

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
    const id = idOf(name);
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
    const written = marked === id || (await markAs(path, id));
    await this.keep({
      id,
      name,
      path,
      ...(written ? { marked: true } : {}),
      ...(known?.elsewhere ? { elsewhere: known.elsewhere } : {}),
    });
  }

  /**
   * Adds a folder: under the name that its mark says where it was a store before, else under its own, with a number where
   * that is taken. It is marked only where something is to be made in it: what is merely read gets nothing written.
   * @throws Refused when its mark says that it is a store that is known at another place
   */
  async add(path: string, use: StoreUse): Promise<Store> {
    const stores = await this.list();
    const taken = new Set([bayStore, ...stores.map((store) => store.id)]);
    const own = basename(path) || 'Disk';
    const mark = await markOf(path);
    const before = mark !== null && isId(mark) ? mark : null;
    const known = stores.find((store) => store.id === before);
    if (known)
      throw new Refused(409, {
        what: `${path} is the store ${known.name}, which is known at ${known.path}`,
        remedy: 'Mount it there; or, where that is away, say under Site that it lies here now',
      });
    let name = own;
    for (let number = 2; before === null && taken.has(idOf(name)); number += 1) name = `${own} ${number}`;
    const id = before ?? idOf(name);
    const marked = before !== null || (use === 'make' && (await markAs(path, id)));
    await this.keep({
      id,
      name,
      path,
      ...(marked ? { marked } : {}),
      ...(use === 'bring in' ? { readOnly: true } : {}),
    });
    return (await this.get(id)) as Store;
  }

  /** Lets something be made on a store that was only read from. */
  async letWrite(id: string): Promise<Store | null> {
    const store = await this.get(id);
    if (!store) return null;
    const { readOnly, ...rest } = store;
    const marked = readOnly && (await this.carriesMark(store));
    await this.keep({ ...rest, ...(marked ? { marked } : {}) });
    return this.get(id);
  }

  /**
   * Marks a store before something is made on it, where it has no mark yet. An empty folder gets none: a share that is
   * not mounted leaves one. Where that cannot be done, or written down, the work goes on, and the next tries again.
   */
  async markFirst(store: Store): Promise<void> {
    if (store.marked || store.readOnly) return;
    const holds = await readdir(store.path).catch(() => []);
    if (holds.length > 0 && (await this.carriesMark(store)))
      await this.keep({ ...store, marked: true }).catch(() => undefined);
  }

  /** Whether a store's folder carries its mark, from before or from now. */
  private async carriesMark({ id, path }: Store): Promise<boolean> {
    return (await markOf(path)) === id || markAs(path, id);
  }

  /**
   * Says that a store lies at another path now: a volume that was renamed, or all of it on another drive. The path before
   * is kept, to go back to. `vouched` where something else than its mark says that it is the store.
   * @throws Refused where the store is at its place, or the folder is not it
   */
  async moved(store: Store, path: string, vouched = false): Promise<void> {
    if (await isThere(store))
      throw new Refused(409, {
        what: `${store.name} is there, at ${store.path}`,
        remedy:
          'Only a store that is away can lie elsewhere: unmount it first, or look for its originals under Arrivals',
      });
    const mark = await markOf(path);
    if (mark !== store.id && !(vouched && mark === null))
      throw new Refused(409, {
        what: mark === null ? `${path} is not marked as ${store.name}` : `${path} is marked as another store: ${mark}`,
        remedy: 'Add it as a store of its own, and look for the originals there under Arrivals',
      });
    await this.keep({ ...store, path, before: store.path });
  }

  /** Says that it lies where it lay before. @throws Refused where it was never said to lie elsewhere */
  async movedBack(store: Store): Promise<void> {
    const { before, ...rest } = store;
    if (before === undefined)
      throw new Refused(409, { what: `${store.name} lay nowhere else`, remedy: 'Look at the list again' });
    await this.keep({ ...rest, path: before });
  }

  /** Takes a store off the list; what lies on it stays as it is. */
  async forget(id: string): Promise<void> {
    await this.write((await this.list()).filter((store) => store.id !== id));
  }

  /** Says how members' machines write a store's path. */
  async putElsewhere(id: string, elsewhere: NonNullable<Store['elsewhere']>): Promise<void> {
    const store = await this.get(id);
    if (store) await this.keep({ ...store, elsewhere });
  }

  private async keep(changed: Store): Promise<void> {
    const stores = await this.list();
    await this.write(
      stores.some(({ id }) => id === changed.id)
        ? stores.map((store) => (store.id === changed.id ? changed : store))
        : [...stores, changed],
    );
  }

  /** @throws Refused where the list cannot be written; the one before stays as it was */
  private async write(stores: readonly Store[]): Promise<void> {
    try {
      await mkdir(dirname(this.file), { recursive: true });
      await writeWhole(this.file, `${JSON.stringify(stores, null, 2)}\n`);
    } catch (error) {
      throw new Refused(507, diskProblem(error, this.file));
    }
  }
}
