import { createReadStream } from 'node:fs';
import { mkdir, open, readdir, stat } from 'node:fs/promises';
import type { InletLine } from '@relay/contract/inlets';
import { under } from '@relay/core/naming/under';
import { exists } from '@relay/work/disk/place';
import { filesBelow } from '@relay/work/disk/walk';
import type { Context } from '../context.ts';
import { Refused } from '../http.ts';
import { bayStore } from '../stores/stores.ts';

/**
 * What stands in for somebody who copies a card into an inlet: one of the demo's cards, written slowly under its final
 * names, so that the waiting is seen. Only into folders of the demo's own stores.
 */

/** Seconds that a card takes to arrive. */
const arrivesIn = 15;
const pieceMs = 100;

/** The inlet's first folder, where it is the demo's; null where it is anybody's. */
async function demoFolderOf({ stores, demoFolder }: Context, { definition }: InletLine): Promise<string | null> {
  const [first] = definition.source.kind === 'folders' ? definition.source.folders : [];
  const store = first ? await stores.get(first.store) : null;
  if (!first || !store || demoFolder === '' || !`${store.path}/`.startsWith(`${demoFolder}/`)) return null;
  return under(store.path, first.folder);
}

export async function hasDemo(context: Context, line: InletLine): Promise<boolean> {
  return (await demoFolderOf(context, line)) !== null && (await cards(context)).length > 0;
}

/** The demo's cards, wherever in the bay they are. */
async function cards({ stores }: Context): Promise<{ name: string; folder: string }[]> {
  const bay = await stores.get(bayStore);
  if (!bay) return [];
  const places = ['.tray', 'slot-1', 'slot-2'];
  const found = await Promise.all(
    places.map(async (place) =>
      (await readdir(under(bay.path, place)).catch(() => []))
        .filter((name) => !name.startsWith('.'))
        .map((name) => ({ name, folder: under(bay.path, place, name) })),
    ),
  );
  return found.flat().sort((a, b) => (a.name < b.name ? -1 : 1));
}

/** Begins to write the next card that is not there yet; goes on after this has answered. */
export async function dropCard(context: Context, line: InletLine): Promise<void> {
  const folder = await demoFolderOf(context, line);
  if (folder === null)
    throw new Refused(409, { what: "This is no inlet of the demo's", remedy: 'Copy a card into it' });
  await mkdir(folder, { recursive: true });
  for (const card of await cards(context)) {
    if (await exists(under(folder, card.name))) continue;
    void writeSlowly(card.folder, under(folder, card.name)).catch(() => undefined);
    return;
  }
  throw new Refused(409, {
    what: 'Every card of the demo lies in it already',
    remedy: 'Take one of them out of its folder, and drop it again',
  });
}

async function writeSlowly(from: string, to: string): Promise<void> {
  const { files } = await filesBelow(from);
  const sizes = await Promise.all(files.map(async ({ path }) => (await stat(path)).size));
  const bytesEach = Math.max(1, sizes.reduce((sum, size) => sum + size, 0) / ((arrivesIn * 1000) / pieceMs));
  for (const { path, shownPath } of files) {
    const place = under(to, shownPath);
    await mkdir(place.slice(0, place.lastIndexOf('/')), { recursive: true });
    const copy = await open(place, 'wx');
    try {
      for await (const piece of createReadStream(path, { highWaterMark: Math.ceil(bytesEach) })) {
        await copy.write(piece as Buffer);
        await new Promise((resolve) => setTimeout(resolve, pieceMs));
      }
    } finally {
      await copy.close();
    }
  }
}
