import { readFile } from 'node:fs/promises';

/** A file system that is mounted on this machine. */
export interface Mount {
  path: string;
  /** Its kind, as the system calls it: `exfat`, `ext4`, `nfs4`. */
  kind: string;
  readOnly: boolean;
  /** The disk's own numbers, `major:minor`: two folders of one number lie on one disk. */
  device: string;
  /** What is mounted: a device's file, `host:/share`, `//host/share`. */
  source: string;
}

/** More lines than this are on no machine that edits are made on. */
const mostMounts = 4_000;

/** Blanks and line ends in paths are written as three octal digits (proc(5), proc_pid_mountinfo(5)). */
function unescaped(text: string): string {
  return text.replace(/\\([0-7]{3})/g, (_, digits: string) => String.fromCharCode(parseInt(digits, 8)));
}

/**
 * What a table of mounts says (proc_pid_mountinfo(5): id, parent, major:minor, root, mount point, options, optional
 * fields, `-`, kind, source, options). What is mounted over another is listed later, and is the one that is seen.
 */
export function mountsIn(text: string): Mount[] {
  const found = new Map<string, Mount>();
  for (const line of text.split('\n').slice(0, mostMounts)) {
    const [before = '', after] = line.split(' - ');
    const [, , device, , path, options] = before.split(' ');
    const [kind, source = ''] = after?.split(' ') ?? [];
    if (!device || !path || !kind) continue;
    const place = unescaped(path);
    found.set(place, {
      path: place,
      kind,
      device,
      source: unescaped(source),
      readOnly: options?.split(',').includes('ro') ?? false,
    });
  }
  return [...found.values()];
}

/** What is mounted now; nothing where the system has no such table. */
export async function mountsNow(table: string): Promise<Mount[]> {
  return mountsIn(await readFile(table, 'utf8').catch(() => ''));
}

/** File systems of drives, cards and shares; others are the system's own: memory, processes, layers of containers. */
const ofDrives = new Set(
  'vfat exfat ntfs ntfs3 fuseblk ext2 ext3 ext4 btrfs xfs f2fs hfs hfsplus apfs udf iso9660 nfs nfs4 cifs smb3 virtiofs 9p'.split(
    ' ',
  ),
);

/** Whether a mount is a drive, a card or a share, as people know them. */
export function isDrive({ kind }: Mount): boolean {
  return ofDrives.has(kind);
}

/** Whether a path is a folder or lies below it. */
export function isWithin(path: string, folder: string): boolean {
  return path === folder || path.startsWith(folder.endsWith('/') ? folder : `${folder}/`);
}

/** The mount that a path lies on: the innermost. */
export function mountOf(mounts: readonly Mount[], path: string): Mount | undefined {
  return mounts
    .filter((mount) => isWithin(path, mount.path))
    .reduce<Mount | undefined>(
      (inner, mount) => (inner && inner.path.length >= mount.path.length ? inner : mount),
      undefined,
    );
}

/** File systems that do not say what other machines do on them, so that only looking tells. */
const withoutEvents = /^(nfs|nfs4|cifs|smb3|9p|virtiofs|afs|ceph|glusterfs|fuse(\..*)?)$/;

/** Whether the system tells of every change on a mount. Where nothing is known of it, it is taken for not telling. */
export function tellsOfChanges(mount: Mount | undefined): boolean {
  return mount !== undefined && !withoutEvents.test(mount.kind);
}
