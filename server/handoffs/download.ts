import { textsOf } from '@relay/core/handoff/texts';
import { under } from '@relay/core/naming/under';
import { holding, NotAsItShould } from '@relay/work/disk/held';
import { packed, type ParcelItem } from '@relay/work/handoff/parcel';
import type { Request, Response } from 'express';
import { storeOr404, type Context } from '../context.ts';
import { handoffItem, type HandoffItemRow, type HandoffRow } from '../db/entities/handoffs.ts';
import { notThere, Refused } from '../http.ts';
import { sendHeld } from '../sendFile.ts';
import { textsFor } from './carry.ts';
import { noteHandoff } from './order.ts';
import { handoffOr404 } from './queries.ts';
import { sendZip } from './zipped.ts';

/** What somebody downloads of a hand-off, from where it lies here: each time is in its history. */
export interface Asking {
  request: Request;
  response: Response;
  who: string;
}

/** Only what begins is told: a download that goes on where it broke off is the same one. */
async function noted({ db }: Context, { request, who }: Asking, id: string, what: string): Promise<void> {
  const range = request.headers.range;
  if (range === undefined || /^bytes=0-/.test(range)) await noteHandoff(db, id, who, what);
}

async function parcelItem(context: Context, item: HandoffItemRow): Promise<ParcelItem> {
  const { path, kind, sizeBytes, storeId, source } = item;
  const store = await storeOr404(context, storeId);
  return { path, kind, sizeBytes, xxh3: null, from: { root: store.path, path: source } };
}

/** Items that are there and as long as they were, file by file; sums are not taken, so that it begins at once. @throws Refused naming the first that is not */
async function filesOf(context: Context, items: readonly HandoffItemRow[]) {
  const parcel = await packed(await Promise.all(items.map((item) => parcelItem(context, item))));
  const [problem] = parcel.problems;
  if (problem) throw new Refused(409, { what: problem.what, remedy: problem.remedy });
  return parcel.files;
}

const nameOf = (path: string): string => path.slice(path.lastIndexOf('/') + 1);

/** One item: its file, or, of a folder of files, all of them as one archive. */
export async function sendItem(context: Context, asking: Asking, id: string, place: number): Promise<void> {
  const item = await context.db.manager.findOneBy(handoffItem, { handoffId: id, place });
  if (!item) throw notThere('The file');
  const { from } = await parcelItem(context, item);
  const whole = await holding(async (held) => {
    const path = await held.file(from.root, from.path).catch((error: Error) => {
      if (error instanceof NotAsItShould) return null;
      throw new Refused(404, {
        what: `${item.path} is not where it was made (any more)`,
        remedy: 'Make it again, or leave it out',
      });
    });
    if (path === null) return false;
    await noted(context, asking, id, `Downloads ${item.path}`);
    await sendHeld(asking.response, { path, name: nameOf(item.path), keep: true, xxh3: item.xxh3 });
    return true;
  });
  if (whole) return;
  const files = await filesOf(context, [item]);
  await noted(context, asking, id, `Downloads ${item.path}`);
  await sendZip(asking.request, asking.response, {
    name: `${nameOf(item.path)}.zip`,
    files: files.map((file) => ({ ...file, path: under(nameOf(item.path), nameOf(file.path)) })),
    texts: [],
    at: new Date(0),
  });
}

/** All of it as one archive, with the texts that lie beside it on a drive. */
export async function sendAll(context: Context, asking: Asking, id: string): Promise<void> {
  const { db } = context;
  const work: HandoffRow = await handoffOr404(db, id);
  const items = await db.manager.find(handoffItem, { where: { handoffId: id }, order: { place: 'ASC' } });
  const files = await filesOf(context, items);
  const texts = await textsFor(db, work, items);
  await noted(context, asking, id, 'Downloads all of it');
  await sendZip(asking.request, asking.response, {
    name: `${work.name.replace(/[^\p{L}\p{N} ._-]/gu, '_')}.zip`,
    files,
    texts: textsOf({ ...texts, before: [] }, new Set(items.map(({ path }) => path))),
    at: work.createdAt,
  });
}
