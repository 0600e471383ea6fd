import { randomBytes } from 'node:crypto';
import { open, readFile, rm } from 'node:fs/promises';
import { join } from 'node:path';
import { expect, it } from 'vitest';
import { scratchFolder } from '../../testing/commands.ts';
import { readBack } from './readBack.ts';

/** Bytes that this process has had fetched from disks so far (proc(5), `/proc/pid/io`). */
async function fetched(): Promise<number> {
  return Number(/^read_bytes: (\d+)$/m.exec(await readFile('/proc/self/io', 'utf8'))?.[1]);
}

it('what is read back comes from the disk when it says so, though memory has it still', async () => {
  const folder = await scratchFolder();
  const path = join(folder, 'A001C001.mov');
  const bytes = randomBytes(24 * 1024 * 1024 + 1234);
  const file = await open(path, 'wx');
  await file.writeFile(bytes);
  await file.sync();
  await file.close();
  // Memory has it: reading it in the plain way fetches nothing.
  const before = await fetched();
  expect((await readFile(path)).equals(bytes)).toBe(true);
  const plain = (await fetched()) - before;
  expect(plain).toBeLessThan(1024 * 1024);

  const from = await fetched();
  const read = await readBack(path, ['xxh64']);
  const direct = (await fetched()) - from;
  expect(read.sizeBytes).toBe(bytes.length);
  // File systems that live in memory have no disk, and it says so.
  if (read.fromDisk) expect(direct).toBeGreaterThanOrEqual(bytes.length - 4096);
  else expect(direct).toBeLessThan(1024 * 1024);
  await rm(path);
});
