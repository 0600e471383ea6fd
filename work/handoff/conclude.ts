import { stat } from 'node:fs/promises';
import type { ManifestEntry } from '@relay/core/custody/manifest';
import { markedAlso, markName, readMark, writeMark } from '@relay/core/handoff/mark';
import { folderAndName } from '@relay/core/naming/under';
import { addGeneration, readHistory, statedEntries } from '../custody/history.ts';
import { diskProblem } from '../disk/diskProblem.ts';
import { holding, pathOf } from '../disk/held.ts';
import { exists, flushFolders, readText, writeWhole } from '../disk/place.ts';
import { readBack } from '../disk/readBack.ts';
import type { ParcelFile } from './parcel.ts';
import { hash, provedIn, whole, type DeliveryOrder, type UnderWay } from './underWay.ts';

/** Writes what goes beside the files, the manifest and the mark. */
export async function conclude(delivery: UnderWay): Promise<void> {
  const { order, copy, files } = delivery;
  try {
    const stated = new Map(statedEntries(await readHistory(copy.at)).map((entry) => [entry.path, entry]));
    const came = whole(delivery);
    const texts: ParcelFile[] = [];
    if (came.size > 0) for (const text of order.texts(came)) texts.push(await writeBeside(delivery, text, stated));
    const all = [...files.filter(({ path }) => copy.proved.has(path)), ...texts];
    await holding(async (held) => {
      const folders = new Set(all.map(({ path }) => folderAndName(path).folder));
      for (const folder of folders) await flushFolders([await held.folder(copy.at, folder)]);
    });
    if (came.size === 0) return;
    copy.manifest = await addGeneration(copy.at, {
      createdAt: new Date().toISOString().replace(/\.\d+Z$/, 'Z'),
      host: order.host,
      tool: 'Brisk Relay',
      process: 'transfer',
      entries: all.map(({ path, sizeBytes, modifiedAt }): ManifestEntry => {
        const hashes = copy.proved.get(path)?.hashes ?? {};
        const known = stated.get(path)?.hashes[hash] === hashes[hash];
        return { path, sizeBytes, modifiedAt, hashes, action: known ? 'verified' : 'original' };
      }),
    });
    await keepMark(order);
    if (delivery.problems.length > 0) return;
    await copy.journal?.remove();
    copy.journal = null;
  } catch (error) {
    copy.problem = diskProblem(error, pathOf(copy.at));
  }
}

/** Writes a text, where nothing lies or what lies there is ours: stated by the folder's history, or written down before. */
async function writeBeside(
  delivery: UnderWay,
  { path, text }: { path: string; text: string },
  stated: ReadonlyMap<string, ManifestEntry>,
): Promise<ParcelFile> {
  const { copy } = delivery;
  return holding(async (held) => {
    const place = await held.place(copy.at, path, true);
    if (await exists(place)) {
      const { hashes } = await readBack(place, [hash]);
      const ours = [stated.get(path)?.hashes[hash], copy.journal?.lines.get(path)?.hashes[hash]];
      const same = (await readText(place, Buffer.byteLength(text)).catch(() => null)) === text;
      if (!same && !ours.includes(hashes[hash]))
        throw new Error(`${path} is there already and is not ours: move it away`);
    }
    await writeWhole(place, text);
    const back = await readBack(place, [hash]);
    const facts = await stat(place);
    const file = { path, sizeBytes: facts.size, modifiedAt: facts.mtime.toISOString() };
    await provedIn(delivery, file, back.hashes[hash] ?? '', back.fromDisk);
    return { ...file, from: { root: copy.at, path }, xxh3: null, replaces: null, item: path };
  });
}

/** The folder says whose it is, and what else is on it. */
async function keepMark({ to, mark }: DeliveryOrder): Promise<void> {
  await holding(async (held) => {
    const place = await held.place(to.at, markName);
    const before = readMark(await readText(place, 1e6).catch(() => ''));
    await writeWhole(place, writeMark(markedAlso(before.ok ? before.value : null, mark)));
  });
}
