import type { FileHandle } from 'node:fs/promises';
import { openRegular } from '../process/plain.ts';

/** Reads the outermost structure of a file to see whether it ends before it says it does. */
export async function cutShort(path: string, sizeBytes: number, wrapperId: string): Promise<string | null> {
  const file = await openRegular(path);
  try {
    if (wrapperId === 'mov' || wrapperId === 'mp4') return await boxesCutShort(file, sizeBytes);
    if (wrapperId.startsWith('mxf')) return await partitionsCutShort(file, sizeBytes);
    if (wrapperId === 'wav') return await samplesCutShort(file, sizeBytes);
    return null;
  } finally {
    await file.close();
  }
}

function missing(bytes: bigint): string {
  const megabytes = Number(bytes) / 1e6;
  return `${megabytes >= 0.1 ? `${megabytes.toFixed(1)} MB are` : `${bytes} bytes are`} missing at the end of the file`;
}

/** ISO/IEC 14496-12 boxes: four bytes of size, four of type; size 1 means eight bytes of size follow, 0 to the end. */
async function boxesCutShort(file: FileHandle, sizeBytes: number): Promise<string | null> {
  const head = Buffer.alloc(16);
  let at = 0n;
  for (let box = 0; box < 10_000 && at + 8n <= BigInt(sizeBytes); box += 1) {
    const { bytesRead } = await file.read(head, 0, 16, Number(at));
    if (bytesRead < 8) return null;
    const short = head.readUInt32BE(0);
    if (short === 0) return null;
    if (short === 1 && bytesRead < 16) return null;
    const length = short === 1 ? head.readBigUInt64BE(8) : BigInt(short);
    if (length < 8n) return null;
    at += length;
  }
  return at > BigInt(sizeBytes) ? missing(at - BigInt(sizeBytes)) : null;
}

/** Chunks of a Wave file that are looked through for its samples. */
const mostChunks = 1_000;
/** What stands for a size in RF64, and for one that was never written down. */
const elsewhere = 0xffff_ffff;

/**
 * RIFF chunks (EBU Tech 3306 for RF64): four bytes of name, four of size, filled up to even. Where the samples are said
 * to reach beyond the file, it is short; a size that nobody wrote down says nothing.
 */
async function samplesCutShort(file: FileHandle, sizeBytes: number): Promise<string | null> {
  const head = Buffer.alloc(32);
  let long: bigint | null = null;
  let at = 12;
  for (let chunk = 0; chunk < mostChunks && at + 8 <= sizeBytes; chunk += 1) {
    const { bytesRead } = await file.read(head, 0, 32, at);
    if (bytesRead < 8) return null;
    const [name, size] = [head.toString('latin1', 0, 4), head.readUInt32LE(4)];
    // ds64: the file's size and the samples', eight bytes each.
    if (name === 'ds64' && bytesRead >= 24) long = head.readBigUInt64LE(16);
    if (name === 'data') {
      const samples = size === elsewhere ? long : BigInt(size);
      const end = samples === null || samples === 0n ? null : BigInt(at + 8) + samples;
      return end !== null && end > BigInt(sizeBytes) ? missing(end - BigInt(sizeBytes)) : null;
    }
    at += 8 + size + (size % 2);
  }
  return null;
}

/** SMPTE ST 377-1 partition pack: after key and length come version, KAG, this, previous and footer partition. */
async function partitionsCutShort(file: FileHandle, sizeBytes: number): Promise<string | null> {
  const head = Buffer.alloc(64);
  const { bytesRead } = await file.read(head, 0, 64, 0);
  const isPartition =
    bytesRead === 64 && head.subarray(0, 4).equals(Buffer.from([0x06, 0x0e, 0x2b, 0x34])) && head[13] === 0x02;
  if (!isPartition) return null;
  const first = head[16] ?? 0;
  const lengthBytes = first < 0x80 ? 1 : 1 + (first & 0x7f);
  const footerAt = 16 + lengthBytes + 2 + 2 + 4 + 8 + 8;
  if (footerAt + 8 > bytesRead) return null;
  const footer = head.readBigUInt64BE(footerAt);
  return footer >= BigInt(sizeBytes) ? missing(footer - BigInt(sizeBytes) + 1n) : null;
}

/** Whether a file begins with a box that MOV and MP4 files begin with; a renamed text does not. */
export async function startsWithBox(path: string): Promise<boolean> {
  const file = await openRegular(path);
  try {
    const head = Buffer.alloc(8);
    const { bytesRead } = await file.read(head, 0, 8, 0);
    return (
      bytesRead === 8 &&
      ['ftyp', 'moov', 'mdat', 'wide', 'free', 'skip', 'pnot', 'uuid'].includes(head.toString('latin1', 4, 8))
    );
  } finally {
    await file.close();
  }
}
