import { spawnSync } from 'node:child_process';
import { existsSync } from 'node:fs';
import { chmod, chown, mkdir } from 'node:fs/promises';
import { places } from './home.ts';

/**
 * Started as root, nothing of ours that answers the network or reads strangers' files runs as root: it runs as an
 * account of its own, with the few rights without which it could not read originals that others own, or write where
 * others own the folder (capabilities(7)). Programs that it starts get none of them.
 */

/** The account that a site started as root runs as. */
const name = 'brisk-relay';

export interface Account {
  uid: number;
  gid: number;
}

/** Rights that a process of ours keeps. The server only reads; a worker writes into folders of whoever owns them. */
const rights = {
  serve: ['dac_read_search'],
  worker: ['dac_read_search', 'dac_override', 'chown', 'fowner'],
} as const;

export type Role = keyof typeof rights;

let known: Account | null | undefined;

/** The account to run as; null where we are not root, and run as who we are. @throws Error when it cannot be made */
export function ownAccount(): Account | null {
  if (known !== undefined) return known;
  if (process.geteuid?.() !== 0) return (known = null);
  if (!existsSync('/usr/bin/setpriv')) throw new Error('setpriv is missing; install the package util-linux again');
  const number = (flag: string): number | null => {
    const asked = spawnSync('id', [flag, name], { encoding: 'utf8' });
    return asked.status === 0 ? Number(asked.stdout) : null;
  };
  if (number('-u') === null) {
    const made = spawnSync(
      'useradd',
      [
        '--system',
        '--user-group',
        '--no-create-home',
        '--home-dir',
        '/nonexistent',
        '--shell',
        '/usr/sbin/nologin',
        name,
      ],
      { encoding: 'utf8' },
    );
    // Two starts at a time may both want to make it.
    if (made.status !== 0 && number('-u') === null)
      throw new Error(
        `the account ${name} could not be made: ${made.stderr?.trim() || 'useradd is missing; install the package passwd'}`,
      );
  }
  const [uid, gid] = [number('-u'), number('-g')];
  if (!uid || !gid) throw new Error(`the account ${name} has no numbers of its own`);
  return (known = { uid, gid });
}

/** How a process of ours is started: as the account, with its role's rights; as it stands where we are not root. */
export function asAccount(
  role: Role,
  command: string,
  args: readonly string[],
): { command: string; args: string[]; env: Record<string, string> } {
  const account = ownAccount();
  if (!account) return { command, args: [...args], env: {} };
  const kept = ['-all', ...rights[role].map((right) => `+${right}`)].join(',');
  return {
    command: '/usr/bin/setpriv',
    args: [
      `--reuid=${account.uid}`,
      `--regid=${account.gid}`,
      '--clear-groups',
      `--inh-caps=${kept}`,
      `--ambient-caps=${kept}`,
      `--bounding-set=${kept}`,
      '--no-new-privs',
      '--',
      command,
      ...args,
    ],
    env: { RELAY_RIGHTS: 'some' },
  };
}

/**
 * Makes the site's own folders, private, and gives them to who runs the site. What others must walk through stays open
 * to that.
 */
export async function layOutHome(): Promise<void> {
  const account = ownAccount();
  for (const folder of [places.cache, places.journals, places.scratch, places.logs]) {
    await mkdir(folder, { recursive: true, mode: 0o700 });
    await chmod(folder, 0o700);
  }
  if (!account) return;
  await chown(places.home, account.uid, account.gid);
  for (const folder of [places.cache, places.journals, places.scratch]) give(folder, account);
  if (existsSync(places.stores)) await chown(places.stores, account.uid, account.gid);
}

/** Gives a folder of our own, and all below it, to the account. Links are not followed. */
export function give(folder: string, account = ownAccount()): void {
  if (!account || !existsSync(folder)) return;
  const given = spawnSync('chown', ['-R', '-P', '-h', `${account.uid}:${account.gid}`, '--', folder], {
    encoding: 'utf8',
  });
  if (given.status !== 0)
    throw new Error(`${folder} could not be given to the account ${name}: ${given.stderr.trim().split('\n')[0] ?? ''}`);
}
