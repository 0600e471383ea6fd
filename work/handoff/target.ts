import { realpath } from 'node:fs/promises';
import type { FileSystem } from '@relay/core/handoff/fileSystem';
import { mountOf, mountsNow } from '../disk/mounts.ts';

const kinds: Readonly<Record<string, FileSystem>> = {
  exfat: 'exfat',
  ntfs: 'ntfs',
  ntfs3: 'ntfs',
  vfat: 'fat32',
  msdos: 'fat32',
  apfs: 'apfs',
  ext4: 'ext4',
};

/** Which of the known file systems a folder lies on; null where it is another, or nobody can tell. */
export async function targetSystem(folder: string, table = '/proc/self/mountinfo'): Promise<FileSystem | null> {
  const mount = mountOf(await mountsNow(table), await realpath(folder).catch(() => folder));
  return mount ? (kinds[mount.kind] ?? null) : null;
}
