import { isDevice } from '../naming/fold.ts';

/** File systems that a receiver's drive may have. */
export const fileSystems = ['exfat', 'ntfs', 'apfs', 'ext4', 'fat32'] as const;
export type FileSystem = (typeof fileSystems)[number];

/** What a file system, and the machines that it is usual on, take. */
export interface FileSystemLimits {
  name: string;
  /** The longest name: so many of what it counts in. */
  longestName: { most: number; unit: 'UTF-16 units' | 'bytes' };
  /** Bytes of the largest file. */
  largestFile: number;
  /** Characters that no name may hold; what holds any of them matches. */
  refused: RegExp;
  /** A name that ends with a dot or a blank, or is a device's, is refused by the system that it is usual on. */
  windowsNames: boolean;
  /** Two names that differ in case alone are one. */
  ignoresCase: boolean;
  /** The longest path from the drive's root, in what the system counts in. */
  longestPath: { most: number; unit: 'UTF-16 units' | 'bytes' };
}

/** Names of exFAT, NTFS and FAT: no controls, and none of these (exFAT specification, 7.7.3; Microsoft, Naming files, paths and namespaces). */
const windowsRefused = /[\u0000-\u001f"*/:<>?\\|]/;
/** MAX_PATH is 260 units with drive, colon, backslash and the ending zero (Microsoft, Maximum path length limitation). */
const windowsPath = { most: 256, unit: 'UTF-16 units' } as const;

export const limitsOf: Readonly<Record<FileSystem, FileSystemLimits>> = {
  exfat: {
    name: 'exFAT',
    // exFAT specification, 7.7 (255 units) and 7.6 (length of 64 bits; a volume of at most 2^32 clusters of 32 MB).
    longestName: { most: 255, unit: 'UTF-16 units' },
    largestFile: 2 ** 57,
    refused: windowsRefused,
    windowsNames: true,
    ignoresCase: true,
    longestPath: windowsPath,
  },
  ntfs: {
    name: 'NTFS',
    // Microsoft, NTFS overview: 255 units; with clusters of 4 kB a volume, and so a file, of 16 TB less 64 kB.
    longestName: { most: 255, unit: 'UTF-16 units' },
    largestFile: 2 ** 44 - 2 ** 16,
    refused: windowsRefused,
    windowsNames: true,
    ignoresCase: true,
    longestPath: windowsPath,
  },
  apfs: {
    name: 'APFS',
    // Apple File System Reference: names of up to 255 bytes of UTF-8, files of 63 bits; PATH_MAX is 1024 bytes. A colon
    // is what its desktop shows a slash for.
    longestName: { most: 255, unit: 'bytes' },
    largestFile: 2 ** 63,
    refused: /[\u0000/:]/,
    windowsNames: false,
    ignoresCase: true,
    longestPath: { most: 1_023, unit: 'bytes' },
  },
  ext4: {
    name: 'ext4',
    // Linux kernel documentation, ext4: names of 255 bytes, files of 16 TB with blocks of 4 kB; PATH_MAX is 4096 bytes.
    longestName: { most: 255, unit: 'bytes' },
    largestFile: 2 ** 44,
    refused: /[\u0000/]/,
    windowsNames: false,
    ignoresCase: false,
    longestPath: { most: 4_095, unit: 'bytes' },
  },
  fat32: {
    name: 'FAT32',
    // Microsoft FAT specification: sizes of 32 bits; long names of 255 units.
    longestName: { most: 255, unit: 'UTF-16 units' },
    largestFile: 2 ** 32 - 1,
    refused: windowsRefused,
    windowsNames: true,
    ignoresCase: true,
    longestPath: windowsPath,
  },
};

const encoder = new TextEncoder();

function lengthIn(text: string, unit: 'UTF-16 units' | 'bytes'): number {
  return unit === 'bytes' ? encoder.encode(text).length : text.length;
}

/** Why a file system, or the system that it is usual on, refuses a name; null where it takes it. */
export function nameRefusedBy(name: string, system: FileSystem): string | null {
  const { name: called, refused, longestName, windowsNames } = limitsOf[system];
  const letter = refused.exec(name)?.[0];
  if (letter !== undefined)
    return `${JSON.stringify(name)} holds ${letter < ' ' ? 'a control character' : letter}, which ${called} refuses`;
  if (windowsNames && /[. ]$/.test(name))
    return `${JSON.stringify(name)} ends with a ${name.endsWith('.') ? 'dot' : 'blank'}, which Windows takes away`;
  if (windowsNames && isDevice(name)) return `${name} is a device’s name on Windows`;
  const length = lengthIn(name, longestName.unit);
  return length > longestName.most
    ? `${name} has ${length} ${longestName.unit}, ${called} takes ${longestName.most}`
    : null;
}

/** Why a receiver's file system refuses a path below the drive's root; null where it takes it. */
export function pathRefusedBy(path: string, system: FileSystem): string | null {
  for (const name of path.split('/')) {
    const why = nameRefusedBy(name, system);
    if (why) return why;
  }
  const { longestPath, name } = limitsOf[system];
  const length = lengthIn(path, longestPath.unit);
  return length > longestPath.most
    ? `${path} has ${length} ${longestPath.unit}; where ${name} is usual, paths end at ${longestPath.most}`
    : null;
}
