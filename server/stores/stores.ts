import { mkdir, readdir, readFile, rename, writeFile } from 'node:fs/promises';
import { dirname } from 'node:path';
import { markAs, markOf, type Store } from '@relay/work/disk/store';
import { z } from 'zod';

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
    const written = marked === id || (await markAs(path, id));
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
