import { mkdir, realpath } from 'node:fs/promises';
import { resolve, sep } from 'node:path';
import { under } from '@relay/core/naming/under';
import type { OutputPlace, Recipe } from '@relay/core/recipe/recipe';
import type { Root } from '@relay/work/disk/held';
import type { RecordedOutput } from '@relay/work/leg/outcome';
import { openSheet, type Sheet } from '@relay/work/leg/sheet';
import type { RelinkRow } from '@relay/core/relink/sheet';
import { Misuse } from './output.ts';

/** A folder that outputs go to, made if it was not there. @throws Misuse where it cannot be, or lies in the source */
export async function outFolder(path: string, source: string, option: string): Promise<string> {
  const inside = new Misuse(`${option} lies inside --source: outputs are never mixed with originals`);
  const whole = resolve(path);
  if (`${whole}${sep}`.startsWith(source + sep)) throw inside;
  await mkdir(whole, { recursive: true }).catch((error: NodeJS.ErrnoException) => {
    throw new Misuse(`${path} cannot be made (${error.code})`);
  });
  if (`${await realpath(whole)}${sep}`.startsWith(source + sep)) throw inside;
  return whole;
}

/** Where the outputs of a run on the command line go, each place with its relink sheet. */
export interface OutPlaces {
  /** Every folder, the run's own first. */
  folders: string[];
  elsewhere: (place: OutputPlace) => Root;
  recorded: (path: string, place?: OutputPlace) => Promise<RecordedOutput | null>;
  record: (row: RelinkRow, place?: OutputPlace) => Promise<void>;
  /** The original that an output was made of; null for one that was never written down. */
  originalOf: (path: string, place?: OutputPlace) => string | null;
}

interface Placing {
  recipe: Recipe;
  source: string;
  /** The run's own folder. */
  out: string;
  /** `STORE=DIR`, as they were given. */
  given: readonly string[];
}

const keyOf = ({ store, folder }: OutputPlace): string => JSON.stringify([store, folder]);

async function storesGiven(given: readonly string[], source: string): Promise<Map<string, string>> {
  const stores = new Map<string, string>();
  for (const one of given) {
    const at = one.indexOf('=');
    if (at < 1 || at === one.length - 1) throw new Misuse(`--place takes STORE=DIR, not ${one}`);
    stores.set(one.slice(0, at), await outFolder(one.slice(at + 1), source, '--place'));
  }
  return stores;
}

async function sheetAt(folder: string): Promise<Sheet> {
  return openSheet(folder).catch((error: Error) => {
    throw new Misuse(error.message);
  });
}

/** Lays out the places that a recipe names, and opens their sheets. @throws Misuse where nobody said where a store lies */
export async function outPlaces({ recipe, source, out, given }: Placing): Promise<OutPlaces> {
  const stores = await storesGiven(given, source);
  const own = await sheetAt(out);
  const folders = [out];
  const sheets = new Map<string, Sheet>();
  for (const { name, place } of recipe.deliverables) {
    if (!place || sheets.has(keyOf(place))) continue;
    const store = stores.get(place.store);
    if (store === undefined)
      throw new Misuse(`${name} goes to the store ${place.store}: say where that lies with --place ${place.store}=DIR`);
    const folder = await outFolder(under(store, place.folder), source, '--place');
    folders.push(folder);
    sheets.set(keyOf(place), await sheetAt(folder));
  }
  const sheetOf = (place: OutputPlace | undefined): Sheet => (place ? sheets.get(keyOf(place)) : undefined) ?? own;
  return {
    folders,
    elsewhere: ({ store, folder }) => ({ root: stores.get(store) ?? out, folder }),
    recorded: (path, place) => sheetOf(place).recorded(path),
    record: (row, place) => sheetOf(place).record(row),
    originalOf: (path, place) => sheetOf(place).originalOf(path),
  };
}
