import { writeFile } from 'node:fs/promises';
import { under } from '@relay/core/naming/under';
import { openRegular } from '@relay/media/process/plain';

/** The small file at a store's root that says which store it is. */
const markName = '.relay-store';
/** Bytes that a mark has at most: a store's id and a line's end. */
const mostMark = 1_000;

/** Which store a folder is marked as; null where it is not. */
export async function markOf(path: string): Promise<string | null> {
  const file = await openRegular(under(path, markName)).catch(() => null);
  if (!file) return null;
  try {
    const { size } = await file.stat();
    if (size > mostMark) return null;
    const { buffer, bytesRead } = await file.read(Buffer.alloc(size), 0, size, 0);
    return buffer.toString('utf8', 0, bytesRead).trim();
  } catch {
    return null;
  } finally {
    await file.close();
  }
}

/** Marks a folder as a store, where it may be written to and is not marked. @throws the system's error */
export async function writeMark(path: string, id: string): Promise<string> {
  const mark = under(path, markName);
  await writeFile(mark, `${id}\n`, { flag: 'wx' });
  return mark;
}
