import { spawn } from 'node:child_process';
import { existsSync } from 'node:fs';
import type { Readable } from 'node:stream';

/** How a process ended. `code` is null when a signal ended it. */
export interface Ended {
  code: number | null;
  /** The signal that ended it, if one did. */
  endedBy: NodeJS.Signals | null;
  stdout: string;
  /** The last part of what it said; never more than 64 KiB. */
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
  /** Called for every piece of standard output as it comes; then nothing is kept in `stdout`. The process waits while a promise it returns is open. */
  onData?: (chunk: Buffer) => Promise<void> | void;
  /** Called for every line on descriptor 3. */
  onProgress?: (line: string) => void;
  /** Told the process's number as soon as it has one. */
  onStart?: (pid: number) => void;
  /** Writes to standard input; resolve when done. */
  feed?: (stdin: NodeJS.WritableStream) => Promise<void>;
  maxStdoutBytes?: number;
  /** False for what ends by itself in a moment: it may outlive us, and starts sooner. */
  endWithParent?: boolean;
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

/** Ends the program with its parent, so that a worker that is killed leaves no FFmpeg behind (prctl(2), PR_SET_PDEATHSIG). */
const setpriv = existsSync('/usr/bin/setpriv') ? '/usr/bin/setpriv' : null;

/**
 * Runs a program with an argument array (never through a shell) and waits for its end.
 * @throws Error when the program cannot be started at all
 */
export async function run(program: string, args: readonly string[], options: RunOptions = {}): Promise<Ended> {
  const [first, all] = setpriv && options.endWithParent !== false ? [setpriv, ['--pdeathsig', 'KILL', '--', program, ...args]] : [program, args];
  const child = spawn(first, all, { stdio: ['pipe', 'pipe', 'pipe', 'pipe'], env: { ...process.env, AV_LOG_FORCE_NOCOLOR: '1', SVT_LOG: '1' } });
  if (child.pid !== undefined) options.onStart?.(child.pid);
  let stdout = '';
  let stderr = '';
  const limit = options.maxStdoutBytes ?? 64 * 1024 * 1024;
  const { onData } = options;
  // Once it is to end, nobody takes what is left in the pipe: a paused pipe would never close, and its end never come.
  let dropping = false;
  if (onData) {
    child.stdout.on('data', (chunk: Buffer) => {
      if (dropping) return;
      const taken = onData(chunk);
      if (!taken || dropping) return;
      child.stdout.pause();
      void taken.finally(() => child.stdout.resume());
    });
  }
  else if (options.onLine) eachLine(child.stdout, options.onLine);
  else
    child.stdout.setEncoding('utf8').on('data', (chunk: string) => {
      if (stdout.length < limit) stdout += chunk;
    });
  child.stderr.setEncoding('utf8').on('data', (chunk: string) => {
    stderr = (stderr + chunk).slice(-65_536);
  });
  const third = child.stdio[3] as Readable | undefined;
  if (third) eachLine(third, options.onProgress ?? ((): void => undefined));
  child.stdin.on('error', () => undefined); // The process may end before it has read everything.

  const timers: NodeJS.Timeout[] = [];
  const kill = (): void => void child.kill('SIGKILL');
  const stop = (): void => {
    dropping = true;
    child.stdout.resume();
    if (options.quit) child.stdin.write(options.quit);
    else child.kill('SIGTERM');
    timers.push(setTimeout(kill, 10_000));
  };
  if (options.timeoutMs) timers.push(setTimeout(kill, options.timeoutMs));
  if (options.signal?.aborted) stop();
  options.signal?.addEventListener('abort', stop, { once: true });

  const ended = new Promise<{ code: number | null; endedBy: NodeJS.Signals | null }>((resolve, reject) => {
    child.once('error', (error: NodeJS.ErrnoException) =>
      reject(error.code === 'ENOENT' ? missing(program) : error));
    child.once('close', (code, endedBy) => (code === 127 && stderr.includes('failed to execute') ? reject(missing(program)) : resolve({ code, endedBy })));
  });
  try {
    if (options.feed) {
      const fed = options.feed(child.stdin).catch(() => undefined).then(() => child.stdin.end());
      await Promise.race([ended, fed]);
    } else if (!options.quit) child.stdin.end();
    return { ...(await ended), stdout, stderr };
  } finally {
    timers.forEach(clearTimeout);
    options.signal?.removeEventListener('abort', stop);
  }
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
