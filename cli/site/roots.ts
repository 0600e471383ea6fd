import type { AllowedRoots } from '@relay/server/stores/roots';
import { spawnSync } from 'node:child_process';
import { homedir } from 'node:os';

/** Where systems mount drives and cards for the person at the machine (FHS 3.0, 3.11 and 3.12; udisks; macOS). */
const mountedBelow = ['/media', '/mnt', '/run/media', '/Volumes'];

/** The home of whoever started this, also where they did it with sudo. */
function homeOfStarter(): string {
  const name = process.env.SUDO_USER;
  if (!name || process.geteuid?.() !== 0) return homedir();
  return spawnSync('getent', ['passwd', name], { encoding: 'utf8' }).stdout.split(':')[5] ?? homedir();
}

/** What a start lets its pages look into: as it was told, else the starter's home and where drives are mounted. */
export function rootsToAllow(given: readonly string[] | undefined): string {
  return JSON.stringify(given ?? [homeOfStarter()]);
}

/** The same, as the server was given it; elsewhere mounted drives, and another table of them, by its environment. */
export function allowedRoots(given: string | undefined): AllowedRoots {
  const folders = given === undefined ? [] : (JSON.parse(given) as string[]);
  return {
    folders,
    mountedBelow: process.env.RELAY_MOUNTED_BELOW?.split(':') ?? mountedBelow,
    mountTable: process.env.RELAY_MOUNTS ?? '/proc/self/mountinfo',
  };
}
