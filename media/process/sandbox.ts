import { spawn } from 'node:child_process';
import { existsSync, readlinkSync, statSync } from 'node:fs';
import { totalmem } from 'node:os';
import { linking } from './ffmpeg.ts';
import { pinsIn } from './pinned.ts';
import { scratchIn } from './scratch.ts';

/**
 * Whatever reads strangers' files (FFmpeg, ffprobe) runs in a place of its own, made by bubblewrap: the system's
 * programs and libraries, the files it was handed by descriptor, the scratch folder that its arguments name, and
 * nothing else; no network, a clean environment, no new privileges, a limit of memory, an end when its parent ends.
 * docs/decisions/0022-strangers-files.md
 */

const bubblewrap = process.env.RELAY_BWRAP ?? '/usr/bin/bwrap';
const [setpriv, prlimit] = ['/usr/bin/setpriv', '/usr/bin/prlimit'].map((program) =>
  existsSync(program) ? program : null,
) as [string | null, string | null];

/** All that a program is told of its surroundings. */
const environment: Readonly<Record<string, string>> = {
  PATH: '/usr/bin:/bin',
  LANG: 'C.UTF-8',
  AV_LOG_FORCE_NOCOLOR: '1',
  SVT_LOG: '1',
};

/**
 * What every program sees of this machine, read-only. Libraries are found by the loader's cache, some through Debian's
 * alternatives.
 */
const seen: readonly string[] = [
  '--ro-bind',
  '/usr',
  '/usr',
  ...['bin', 'lib', 'lib64', 'sbin'].flatMap((name) => linkOrBind(name)),
  ...['/etc/alternatives', '/etc/ld.so.cache'].flatMap((path) => ['--ro-bind-try', path, path]),
  // Encoders ask how many processors and memories there are.
  '--ro-bind-try',
  '/sys/devices/system',
  '/sys/devices/system',
  '--proc',
  '/proc',
  '--dev',
  '/dev',
  '--tmpfs',
  '/tmp',
];

/** `/lib` and its like are links into `/usr` on a Debian of today, folders on an older one. */
function linkOrBind(name: string): string[] {
  try {
    return ['--symlink', readlinkSync(`/${name}`), `/${name}`];
  } catch {
    return ['--ro-bind-try', `/${name}`, `/${name}`];
  }
}

const apart: readonly string[] = [
  '--unshare-all',
  '--cap-drop',
  'ALL',
  '--die-with-parent',
  '--new-session',
  '--clearenv',
  ...Object.entries(environment).flatMap(([name, value]) => ['--setenv', name, value]),
];

/** Whether strangers' files are read in a place of their own on this machine; why not, where they are not. */
export type Isolation = { works: true } | { works: false; why: string };

let isolation: Promise<Isolation> | null = null;

/** Tries it once for each process of ours. */
export function isolated(): Promise<Isolation> {
  return (isolation ??= tryIt());
}

async function tryIt(): Promise<Isolation> {
  if (process.env.RELAY_ISOLATION === 'off') return { works: false, why: 'it is switched off by RELAY_ISOLATION' };
  if (!existsSync(bubblewrap)) return { works: false, why: 'bubblewrap is not installed' };
  const { command, args } = withoutOurRights(bubblewrap, [...seen, ...apart, '--', '/usr/bin/true']);
  const child = spawn(command, args, { stdio: ['ignore', 'ignore', 'pipe'], env: { PATH: environment.PATH } });
  let said = '';
  child.stderr.on('data', (chunk: Buffer) => (said += chunk.toString().slice(0, 1_000)));
  const code = await new Promise<number | null>((resolve) =>
    child.once('close', resolve).once('error', () => resolve(null)),
  );
  return code === 0
    ? { works: true }
    : { works: false, why: `this system forbids it (${said.trim().split('\n').at(-1) || 'no reason given'})` };
}

/**
 * A worker started as root keeps a few rights for writing where others own the folder; programs that it starts get
 * none.
 */
function withoutOurRights(command: string, args: readonly string[]): { command: string; args: string[] } {
  return setpriv && process.env.RELAY_RIGHTS === 'some'
    ? { command: setpriv, args: ['--inh-caps=-all', '--ambient-caps=-all', '--', command, ...args] }
    : { command, args: [...args] };
}

/** A limit on memory that a program may write to, in bytes (setrlimit(2), RLIMIT_DATA). */
function limited(bytes: number, command: string, args: readonly string[]): { command: string; args: string[] } {
  return prlimit
    ? { command: prlimit, args: [`--data=${Math.round(bytes)}`, '--', command, ...args] }
    : { command, args: [...args] };
}

/** What FFmpeg may take of memory where nothing more is known: enough for every common picture. */
const usualMemory = 4 * 2 ** 30;
/**
 * For each picture sample that is in the hands of decoders, filters and encoders: some dozens of frames of all of them,
 * 16 bits a sample.
 */
const bytesPerSample = 1_200;

/** The memory that a command may take which handles pictures of so many samples together (originals and outputs). */
export function memoryFor(samples: number): number {
  return Math.min(totalmem(), usualMemory + samples * bytesPerSample);
}

/** A program ready to be started. */
export interface Prepared {
  command: string;
  args: string[];
  env: Record<string, string>;
  /** Descriptors that it inherits, under their own numbers. */
  descriptors: number[];
  /** Folders that it was given by path, to be held against their descriptors before it is let go. */
  folders: { descriptor: number; inside: string }[];
  isolated: boolean;
}

export interface Handed {
  /** Pinned paths that no argument names, but a list that one names does. */
  hands?: readonly string[];
  memoryBytes?: number;
}

/** Works out how a program is started so that it has its own files and nothing else. */
export async function prepare(program: string, args: readonly string[], handed: Handed): Promise<Prepared> {
  const pins = pinsIn([...args, ...(handed.hands ?? [])]);
  const memory = handed.memoryBytes ?? memoryFor(0);
  const state = await isolated();
  const told = Object.entries(linking(program));
  if (!state.works) {
    // Told to the program alone, not to those that start it.
    const telling = told.length > 0 ? [...told.map(([name, value]) => `${name}=${value}`), program, ...args] : null;
    const alone = telling ? limited(memory, '/usr/bin/env', telling) : limited(memory, program, args);
    const ending = setpriv
      ? { command: setpriv, args: ['--pdeathsig', 'KILL', '--no-new-privs', '--', alone.command, ...alone.args] }
      : alone;
    return {
      ...withoutOurRights(ending.command, ending.args),
      env: { ...environment, PATH: process.env.PATH ?? (environment.PATH as string) },
      descriptors: [...pins.files, ...pins.folders],
      folders: [],
      isolated: false,
    };
  }
  const folders = pins.folders.map((descriptor) => ({ descriptor, inside: `/held/${descriptor}` }));
  const own = program.includes('/') && !program.startsWith('/usr/') ? ['--ro-bind', program, program] : [];
  const inside = args.map((arg) =>
    folders.reduce(
      (text, { descriptor, inside: place }) => text.replaceAll(`/proc/self/fd/${descriptor}/`, `${place}/`),
      arg,
    ),
  );
  const bound = limited(memory, bubblewrap, [
    ...seen,
    ...own,
    ...scratchIn(args).flatMap((folder) => ['--bind', folder, folder]),
    ...folders.flatMap(({ descriptor, inside: place }) => [
      '--bind',
      readlinkSync(`/proc/self/fd/${descriptor}`),
      place,
    ]),
    ...apart,
    ...told.flatMap(([name, value]) => ['--setenv', name, value]),
    ...(folders.length > 0 ? ['--info-fd', '4', '--block-fd', '5'] : []),
    '--',
    program,
    ...inside,
  ]);
  return {
    ...withoutOurRights(bound.command, bound.args),
    env: { PATH: environment.PATH as string },
    descriptors: pins.files,
    folders,
    isolated: true,
  };
}

/**
 * Whether the folders that a waiting program was given are the ones that were opened for it: bubblewrap takes them by
 * path, which somebody may have exchanged meanwhile.
 */
export function foldersHold(pid: number, folders: Prepared['folders']): boolean {
  return folders.every(({ descriptor, inside }) => {
    try {
      const [given, opened] = [statSync(`/proc/${pid}/root${inside}`), statSync(`/proc/self/fd/${descriptor}`)];
      return given.dev === opened.dev && given.ino === opened.ino;
    } catch {
      return false;
    }
  });
}
