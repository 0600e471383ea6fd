import { createHash } from 'node:crypto';
import { createReadStream } from 'node:fs';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { makeZip, predictLength } from 'client-zip';
import type { Request, Response } from 'express';
import { Held } from '@relay/work/disk/held';
import type { ParcelFile } from '@relay/work/handoff/parcel';
import { Refused } from '../http.ts';

/** Several files as one, as they are: a ZIP archive of stored entries (APPNOTE 6.3.10, with its ZIP64 extensions). */
export interface Zipped {
  /** Of the archive. */
  name: string;
  files: readonly ParcelFile[];
  /** What goes along that lies nowhere, as of a time. */
  texts: readonly { path: string; text: string }[];
  at: Date;
}

/** A file's bytes, as many as it was said to have. @throws Error where it is not as it was any more */
async function* bytesOf({ from, sizeBytes, path }: ParcelFile): AsyncGenerator<Buffer> {
  const held = new Held();
  try {
    let sent = 0;
    for await (const piece of createReadStream(await held.file(from.root, from.path), { highWaterMark: 1 << 20 })) {
      sent += (piece as Buffer).length;
      if (sent > sizeBytes) break;
      yield piece as Buffer;
    }
    if (sent !== sizeBytes) throw new Error(`${path} changed while it was sent`);
  } finally {
    await held.close();
  }
}

/** Each entry when its turn comes, so that no more than one file is open. */
function* entriesOf({ files, texts, at }: Zipped) {
  for (const file of files)
    yield { name: file.path, size: file.sizeBytes, lastModified: new Date(file.modifiedAt), input: bytesOf(file) };
  for (const { path, text } of texts) {
    const input = Buffer.from(text);
    yield { name: path, size: input.length, lastModified: at, input };
  }
}

/** The bytes of an archive from one place to another, the last among them. */
async function* piecesOf(of: Zipped, start: number, end: number): AsyncGenerator<Uint8Array> {
  let at = 0;
  // What comes before is made all the same: the checksums of its entries stand at the archive's end.
  const archive = makeZip(entriesOf(of), { buffersAreUTF8: true }) as unknown as AsyncIterable<Uint8Array>;
  for await (const piece of archive) {
    const from = Math.max(0, start - at);
    if (from < piece.length) yield piece.subarray(from, Math.min(piece.length, end + 1 - at));
    at += piece.length;
    if (at > end) return;
  }
}

/** What tells this archive from any other that could be made of the same things. */
function markOf({ files, texts }: Zipped): string {
  const told = [files.map(({ path, sizeBytes, modifiedAt }) => [path, sizeBytes, modifiedAt]), texts];
  return `"${createHash('sha256').update(JSON.stringify(told)).digest('hex').slice(0, 32)}"`;
}

/** The one range that is asked for; null for all of it. @throws Refused where there is no such range */
function rangeOf(request: Request, total: number, mark: string): { start: number; end: number } | null {
  const since = request.headers['if-range'];
  // Of what has changed since, a part would not fit what came before.
  if (request.headers.range === undefined || (since !== undefined && since !== mark)) return null;
  const found = request.range(total);
  if (found === -1)
    throw new Refused(400, { what: 'There is no such range', remedy: 'Download it from its beginning' });
  const [only] = Array.isArray(found) && found.type === 'bytes' && found.length === 1 ? found : [];
  return only ?? null;
}

/** Sends files as one archive, or the range of it that is asked for. */
export async function sendZip(request: Request, response: Response, of: Zipped): Promise<void> {
  const meta = of.files.map(({ path, sizeBytes }) => ({ name: path, size: sizeBytes }));
  const texts = of.texts.map(({ path, text }) => ({ name: path, size: Buffer.byteLength(text) }));
  const total = Number(predictLength([...meta, ...texts]));
  const mark = markOf(of);
  const range = rangeOf(request, total, mark);
  const { start, end } = range ?? { start: 0, end: total - 1 };
  response.attachment(of.name).status(range ? 206 : 200);
  response.set({ 'Content-Type': 'application/zip', ETag: mark, 'Accept-Ranges': 'bytes' });
  response.set('Content-Length', String(end + 1 - start));
  if (range) response.set('Content-Range', `bytes ${start}-${end}/${total}`);
  // Whoever goes away in the middle is no fault of ours, and what changes meanwhile breaks it off: its length is said.
  await pipeline(Readable.from(piecesOf(of, start, end)), response).catch(() => response.destroy());
}
