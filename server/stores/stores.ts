import { mkdir, readdir, readFile, rename, writeFile } from 'node:fs/promises';
import { basename, dirname } from 'node:path';
import { markAs, markOf, type Store } from '@relay/work/disk/store';
import { z } from 'zod';

const storesFile = z.array(
  z.strictObject({
    id: z.string(),
    name: z.string(),
    path: z.string(),
    marked: z.boolean().optional(),
    readOnly: z.boolean().optional(),
    elsewhere: z
      .strictObject({ windows: z.string().optional(), mac: z.string().optional(), linux: z.string().optional() })
      .optional(),
  }),
);

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

  /** Adds a folder under a name that no store has yet: its own, with a number where that is taken. */
  async add(path: string, readOnly: boolean): Promise<Store> {
    const taken = new Set((await this.list()).map((store) => store.id));
    const own = basename(path) || 'Disk';
    let name = own;
    for (let number = 2; taken.has(idOf(name)); number += 1) name = `${own} ${number}`;
    if (readOnly) await this.keep({ id: idOf(name), name, path, readOnly });
    else await this.put(name, path);
    return (await this.get(idOf(name))) as Store;
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

  private async write(stores: readonly Store[]): Promise<void> {
    await mkdir(dirname(this.file), { recursive: true });
    await writeFile(`${this.file}.new`, `${JSON.stringify(stores, null, 2)}\n`);
    await rename(`${this.file}.new`, this.file);
  }
}
