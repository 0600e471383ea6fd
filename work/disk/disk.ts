import { readFile, readdir, realpath, stat } from 'node:fs/promises';
import { dirname } from 'node:path';
import { under } from '@relay/core/naming/under';
import { mountOf, mountsNow } from './mounts.ts';

/** Where the system tells of its disks; another folder in tests. */
export interface DiskTables {
  sys: string;
  mounts: string;
}

const linux: DiskTables = { sys: '/sys', mounts: '/proc/self/mountinfo' };
/** Layers of volumes over disks, at most: LVM on RAID on encryption on partitions are four. */
const deepest = 8;

/**
 * What tells the disk under a folder from others: its serial number where the system tells it, or its name in this
 * system, several joined by `+` where a volume spans them; a share's server. Two folders of one answer lie on one disk,
 * and go with it; null where nobody can tell, or the folder is not there.
 */
export async function diskOf(path: string, tables: DiskTables = linux): Promise<string | null> {
  try {
    const { dev } = await stat(path, { bigint: true });
    const number = numbersOf(dev);
    if (!number.startsWith('0:')) return await diskOfDevice(number, tables).catch(() => `volume ${number}`);
    return await diskOfMount(await realpath(path), number, tables);
  } catch {
    return null;
  }
}

/** `major:minor` of a device number, as glibc packs the two (sysmacros.h). */
function numbersOf(dev: bigint): string {
  const major = ((dev >> 8n) & 0xfffn) | ((dev >> 32n) & ~0xfffn);
  const minor = (dev & 0xffn) | ((dev >> 12n) & ~0xffn);
  return `${major}:${minor}`;
}

/** Of what has no device of its own: a share by its server, a file system over several by the device it names. */
export async function diskOfMount(path: string, number: string, tables: DiskTables): Promise<string> {
  const source = mountOf(await mountsNow(tables.mounts), path)?.source ?? '';
  const server = /^(?:\/\/([^/]+)\/|(\[[^\]]+\]|[^/:]+):)/.exec(source);
  if (server) return `server ${(server[1] ?? server[2] ?? '').toLowerCase()}`;
  if (source.startsWith('/dev/'))
    return diskOfDevice(numbersOf((await stat(source, { bigint: true })).rdev), tables).catch(() => `disk ${source}`);
  return `volume ${number}`;
}

/** The disks under a block device (sysfs, Documentation/ABI/stable/sysfs-block): a partition's, a volume's. */
export async function diskOfDevice(number: string, { sys }: DiskTables): Promise<string> {
  const found = new Set<string>();
  const look = async (device: string, depth: number): Promise<void> => {
    const whole = (await said(under(device, 'partition'))) === null ? device : dirname(device);
    const below = depth < deepest ? await readdir(under(whole, 'slaves')).catch(() => []) : [];
    if (below.length === 0) found.add(await nameOf(whole));
    for (const one of below) await look(await realpath(under(whole, 'slaves', one)), depth + 1);
  };
  await look(await realpath(under(sys, 'dev/block', number)), 0);
  return [...found].sort().join(' + ');
}

/** A disk's own number, by which it is known in another socket too; else what the system calls it now. */
async function nameOf(device: string): Promise<string> {
  for (const file of ['wwid', 'device/wwid', 'serial', 'device/serial']) {
    const number = await said(under(device, file));
    if (number) return `disk ${number}`;
  }
  return `disk ${device.slice(device.lastIndexOf('/') + 1)}`;
}

async function said(file: string): Promise<string | null> {
  return readFile(file, 'utf8').then(
    (text) => text.trim().replace(/\s+/g, ' ').slice(0, 200),
    () => null,
  );
}
