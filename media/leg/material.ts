import { open } from 'node:fs/promises';
import { inputArguments } from '../process/ffmpeg.ts';
import { probeOpened } from '../describe/probe.ts';

/** Header metadata of a file of one track lies well within this; it comes first in the file. */
const headBytes = 1 << 20;

/**
 * The identifier of an MXF file's material package (SMPTE ST 377-1, annex B; ST 330): what a cutting program takes for
 * the clip. 32 bytes; null where there is none.
 */
export async function materialOf(path: string): Promise<Buffer | null> {
  const tags = (await probeOpened(inputArguments(path)))?.format.tags ?? {};
  const text = /^0x([0-9a-f]{64})$/i.exec(tags.material_package_umid ?? '')?.[1];
  return text ? Buffer.from(text, 'hex') : null;
}

/**
 * Makes finished OP-Atom files one clip: each was given a material package of its own by FFmpeg, and gets the first
 * one's. Nothing else in them names their own, which is 16 random bytes in 32.
 * @throws Error when a file has no material package
 */
export async function shareMaterial(paths: readonly string[]): Promise<void> {
  const [first, ...others] = paths;
  if (first === undefined || others.length === 0) return;
  const shared = await materialOf(first);
  for (const path of others) {
    const own = await materialOf(path);
    if (!shared || !own) throw new Error(`${own ? first : path} has no material package`);
    const file = await open(path, 'r+');
    try {
      const { buffer, bytesRead } = await file.read(Buffer.alloc(headBytes), 0, headBytes, 0);
      const head = buffer.subarray(0, bytesRead);
      for (let at = head.indexOf(own); at >= 0; at = head.indexOf(own, at + 1))
        await file.write(shared, 0, shared.length, at);
    } finally {
      await file.close();
    }
  }
}
