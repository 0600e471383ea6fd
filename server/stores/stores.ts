import { mkdir, readdir, readFile, rename, stat, statfs, writeFile } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import { z } from 'zod';
import { placeInside } from './place.ts';

/** A disk or folder that Brisk Relay may use. */
export interface Store {
  id: string;
  name: string;
  path: string;
}

const storesFile = z.array(z.strictObject({ id: z.string(), name: z.string(), path: z.string() }));

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

  /** Adds a store, or changes where one of that name lies. */
  async put(name: string, path: string): Promise<void> {
    const id = name.toLowerCase().replace(/[^a-z0-9]+/g, '-').replace(/^-|-$/g, '') || 'store';
    const others = (await this.list()).filter((store) => store.id !== id);
    await mkdir(dirname(this.file), { recursive: true });
    await writeFile(`${this.file}.new`, `${JSON.stringify([...others, { id, name, path }], null, 2)}\n`);
    await rename(`${this.file}.new`, this.file);
  }
}

/** Bytes free and in all on a store's disk; null when it is not there. */
export async function storeSpace(store: Store): Promise<{ freeBytes: number; totalBytes: number } | null> {
  const there = await stat(store.path).catch(() => null);
  const facts = there?.isDirectory() ? await statfs(store.path).catch(() => null) : null;
  return facts ? { freeBytes: facts.bavail * facts.bsize, totalBytes: facts.blocks * facts.bsize } : null;
}

/** Folders and the number of files directly in a folder of a store; hidden ones are passed over. */
export async function lookInto(store: Store, folder: string): Promise<{ folders: string[]; files: number }> {
  const entries = await readdir(await placeInside(store.path, folder), { withFileTypes: true });
  const shown = entries.filter((entry) => !entry.name.startsWith('.'));
  return {
    folders: shown.filter((entry) => entry.isDirectory()).map((entry) => entry.name).sort((a, b) => a.localeCompare(b, 'en', { numeric: true })),
    files: shown.filter((entry) => entry.isFile()).length,
  };
}

/** The place of a clip's original on this machine. */
export async function originalPlace(store: Store, root: string, path: string): Promise<string> {
  return placeInside(store.path, join(root, path));
}
