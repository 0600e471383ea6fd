import { spawn, type ChildProcess, type StdioOptions } from 'node:child_process';
import type { Duplex, Readable, Writable } from 'node:stream';
import { linking } from './ffmpeg.ts';
import { asShown } from './pinned.ts';
import { openPlain } from './plain.ts';
import { foldersHold, prepare, type Prepared } from './sandbox.ts';

/** How a process ended. `code` is null when a signal ended it. */
export interface Ended {
  code: number | null;
  /** The signal that ended it, if one did. */
  endedBy: NodeJS.Signals | null;
  stdout: string;
  /** The last part of what it said; never more than 64 KiB. Users' files are called in it as users call them. */
  stderr: string;
}

export interface RunOptions {
  /** Ends the process at once (KILL) after this long. */
  timeoutMs?: number;
  /** Asks the process to end when aborted: by `quit` on stdin if given, else TERM; KILL ten seconds later. */
  signal?: AbortSignal;
  quit?: string;
  /** Called for every line on standard output; then nothing is kept in `stdout`. */
  onLine?: (line: string) => void;
  /**
   * Called for every piece of standard output as it comes; then nothing is kept in `stdout`. The process waits while a
   * promise it returns is open.
   */
  onData?: (chunk: Buffer) => Promise<void> | void;
  /** Called for every line on descriptor 3. */
  onProgress?: (line: string) => void;
  /** Told the process's number as soon as it has one; what it works at may be a child of it. */
  onStart?: (pid: number) => void;
  /** Writes to standard input; resolve when done. */
  feed?: (stdin: NodeJS.WritableStream) => Promise<void>;
  maxStdoutBytes?: number;
  /** Pinned paths that a list names, where no argument does. */
  hands?: readonly string[];
  /** How much memory it may write to; 4 GiB unless told. */
  memoryBytes?: number;
  /** What it is given is our own, such as painted material: it runs as we do. */
  own?: boolean;
}

/** Calls back for each whole line, however the bytes arrive. */
export function eachLine(stream: Readable, call: (line: string) => void): void {
  let rest = '';
  stream.setEncoding('utf8');
  stream.on('data', (chunk: string) => {
    const lines = (rest + chunk).split('\n');
    rest = lines.pop() ?? '';
    lines.forEach(call);
  });
  stream.on('end', () => {
    if (rest !== '') call(rest);
  });
}

/** Descriptors 0 to 3 are ours, 4 and 5 bubblewrap's; pinned files come under their own numbers. */
const [info, block] = [4, 5];

function stdioOf({ descriptors, folders }: Prepared): StdioOptions {
  const stdio: ('pipe' | 'ignore' | number)[] = ['pipe', 'pipe', 'pipe', 'pipe'];
  if (folders.length > 0) stdio.push('pipe', 'pipe');
  for (const descriptor of descriptors) {
    if (descriptor <= block) throw new Error('a file was pinned under a number that is not free');
    while (stdio.length <= descriptor) stdio.push('ignore');
    stdio[descriptor] = descriptor;
  }
  return stdio;
}

/**
 * Ends a program and what it has forked. Bubblewrap's child waits for its parent before it can end with it: a parent that
 * is ended alone in that moment leaves a child that waits for ever, and holds our pipes open. Both are in one group of
 * their own until the child has made its place; from then on it ends with its parent. KILL, since the child is the first
 * of its namespace of processes, which hears nothing less (pid_namespaces(7)); what runs inside is killed either way.
 */
function endAll(child: ChildProcess, ownGroup: boolean): void {
  if (ownGroup && child.pid !== undefined) killQuietly(-child.pid);
  else child.kill('SIGKILL');
}

/** Signals by which a program inside ends, as bubblewrap tells of them: 128 more than their number (bwrap(1)). */
const signals: Readonly<Record<number, NodeJS.Signals>> = {
  134: 'SIGABRT',
  136: 'SIGFPE',
  137: 'SIGKILL',
  139: 'SIGSEGV',
  143: 'SIGTERM',
  159: 'SIGSYS',
};

/**
 * Runs FFmpeg or ffprobe with an argument array (never through a shell), in a place of its own, and waits for its end.
 * It has the files whose pinned paths its arguments name, and the scratch folders; nothing else of this machine.
 * @throws Error when the program cannot be started at all
 */
export async function run(program: string, args: readonly string[], options: RunOptions = {}): Promise<Ended> {
  const plain = options.own ? { args: [...args], close: async () => undefined } : await openPlain(args);
  try {
    return await runPrepared(
      program,
      options.own ? asWeAre(program, args) : await prepare(program, plain.args, options),
      options,
    );
  } finally {
    await plain.close();
  }
}

/** The same for material of our own, as tests and benches have it: the program sees what we see. */
export function runOwn(program: string, args: readonly string[], options: RunOptions = {}): Promise<Ended> {
  return run(program, args, { ...options, own: true });
}

function asWeAre(program: string, args: readonly string[]): Prepared {
  return {
    command: program,
    args: [...args],
    env: { ...process.env, AV_LOG_FORCE_NOCOLOR: '1', SVT_LOG: '1', ...linking(program) },
    descriptors: [],
    folders: [],
    isolated: false,
  };
}

/** How a process ends, once all that it said is read; a program that is not there is said so. */
function whenEnded(
  child: ChildProcess,
  program: string,
  prepared: Prepared,
  said: () => string,
): Promise<Pick<Ended, 'code' | 'endedBy'>> {
  return new Promise((resolve, reject) => {
    child.once('error', (error: NodeJS.ErrnoException) => reject(error.code === 'ENOENT' ? missing(program) : error));
    child.once('close', (code, endedBy) => {
      if (/^(bwrap|setpriv|prlimit): .*(execvp|failed to execute).*No such file/m.test(said()))
        reject(missing(program));
      else
        resolve(
          prepared.isolated && code !== null && signals[code]
            ? { code: null, endedBy: signals[code] }
            : { code, endedBy },
        );
    });
  });
}

async function runPrepared(program: string, prepared: Prepared, options: RunOptions): Promise<Ended> {
  const child = spawn(prepared.command, prepared.args, {
    stdio: stdioOf(prepared),
    env: prepared.env,
    detached: prepared.isolated,
  });
  const [stdin, stdout, stderr] = [child.stdin, child.stdout, child.stderr] as [Writable, Readable, Readable];
  if (child.pid !== undefined) options.onStart?.(child.pid);
  let inner: number | null = null;
  // The one inside first: while it waits to be let go, the end of the other would let it.
  const kill = (): void => {
    if (inner !== null) killQuietly(inner);
    endAll(child, prepared.isolated);
  };
  if (prepared.folders.length > 0)
    letGoWhenHeld(
      child.stdio,
      prepared,
      (pid) => {
        inner = pid;
      },
      kill,
    );
  const said = { stdout: '', stderr: '' };
  const limit = options.maxStdoutBytes ?? 64 * 1024 * 1024;
  const { onData } = options;
  // Once it is to end, nobody takes what is left in the pipe: a paused pipe would never close, and its end never come.
  let dropping = false;
  if (onData) {
    stdout.on('data', (chunk: Buffer) => {
      if (dropping) return;
      const taken = onData(chunk);
      if (!taken || dropping) return;
      stdout.pause();
      void taken.finally(() => stdout.resume());
    });
  } else if (options.onLine) eachLine(stdout, options.onLine);
  else
    stdout.setEncoding('utf8').on('data', (chunk: string) => {
      if (said.stdout.length < limit) said.stdout += chunk;
    });
  stderr.setEncoding('utf8').on('data', (chunk: string) => {
    said.stderr = (said.stderr + chunk).slice(-65_536);
  });
  const third = child.stdio[3] as Readable | undefined;
  if (third) eachLine(third, options.onProgress ?? ((): void => undefined));
  stdin.on('error', () => undefined); // The process may end before it has read everything.

  const timers: NodeJS.Timeout[] = [];
  const stop = (): void => {
    dropping = true;
    stdout.resume();
    // Before it is let go there is nothing to be asked.
    if (inner !== null) kill();
    else if (options.quit) stdin.write(options.quit);
    else if (prepared.isolated) endAll(child, true);
    else child.kill('SIGTERM');
    timers.push(setTimeout(kill, 10_000));
  };
  if (options.timeoutMs) timers.push(setTimeout(kill, options.timeoutMs));
  if (options.signal?.aborted) stop();
  options.signal?.addEventListener('abort', stop, { once: true });
  const ended = whenEnded(child, program, prepared, () => said.stderr);
  try {
    if (options.feed) {
      const fed = options
        .feed(stdin)
        .catch(() => undefined)
        .then(() => stdin.end());
      await Promise.race([ended, fed]);
    } else if (!options.quit) stdin.end();
    return { ...(await ended), stdout: said.stdout, stderr: asShown(inside(said.stderr, prepared)) };
  } finally {
    timers.forEach(clearTimeout);
    options.signal?.removeEventListener('abort', stop);
  }
}

/** What is called by its place inside is called by its descriptor again. */
function inside(text: string, { folders }: Prepared): string {
  return folders.reduce(
    (said, folder) => said.replaceAll(`${folder.inside}/`, `/proc/self/fd/${folder.descriptor}/`),
    text,
  );
}

function killQuietly(pid: number): void {
  try {
    process.kill(pid, 'SIGKILL');
  } catch {
    // It is gone already.
  }
}

/**
 * Waits until bubblewrap has everything in place, looks at the folders in it, and lets the program begin, or ends it.
 */
function letGoWhenHeld(
  stdio: readonly unknown[],
  prepared: Prepared,
  onInner: (pid: number | null) => void,
  end: () => void,
): void {
  const [told, held] = [stdio[info] as Readable, stdio[block] as Duplex];
  held.on('error', () => undefined);
  // Read to its end, or the process's own end would never be told.
  held.resume();
  let text = '';
  let asked = false;
  told.setEncoding('utf8').on('data', (chunk: string) => {
    text += chunk;
    const pid = text.includes('}') ? /"child-pid": (\d+)/.exec(text)?.[1] : undefined;
    if (pid === undefined || asked) return;
    asked = true;
    onInner(Number(pid));
    void whenInPlace(Number(pid), prepared).then((hold) => {
      if (!hold) {
        end();
        return;
      }
      onInner(null);
      held.end('x');
    });
  });
}

/** Bubblewrap tells its child's number before it has laid everything out: for a moment, the folders are not there. */
async function whenInPlace(pid: number, { folders }: Prepared): Promise<boolean> {
  for (let look = 0; look < 200; look += 1) {
    if (foldersHold(pid, folders)) return true;
    await new Promise((resolve) => setTimeout(resolve, 5));
  }
  return false;
}

function missing(program: string): Error {
  return new Error(`${program} is not installed; run ./relay start once to install it`);
}

/** Writes with regard for a full pipe. */
export async function writeAll(stream: NodeJS.WritableStream, bytes: Uint8Array): Promise<void> {
  if (stream.write(bytes)) return;
  await new Promise<void>((resolve, reject) => {
    const done = (): void => {
      stream.removeListener('drain', done);
      stream.removeListener('close', gone);
      resolve();
    };
    const gone = (): void => reject(new Error('the pipe was closed'));
    stream.once('drain', done);
    stream.once('close', gone);
  });
}
