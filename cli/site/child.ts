import { spawn, type ChildProcess } from 'node:child_process';
import { copyFileSync, openSync, statSync, truncateSync } from 'node:fs';
import { under } from '@relay/core/naming/under';
import { asAccount } from './account.ts';
import { patience } from './postgres.ts';

/** A process of ours that is started again when it dies, until it is stopped on purpose. */
export interface Kept {
  /** The process that runs now; for tests, which kill it. */
  pid(): number;
  stop(): Promise<void>;
}

/** A log larger than this is set aside, and the one before it forgotten: two of them are kept. */
const largestLog = 10_000_000;
/** How often logs are looked at. */
const lookAtLogsMs = 600_000;

/** Sets a log aside once it is large. Whoever writes to it goes on: it is opened to append, and so begins anew. */
export function rotateLog(log: string, largest = largestLog): void {
  try {
    if (statSync(log).size <= largest) return;
    copyFileSync(log, `${log}.1`);
    truncateSync(log, 0);
  } catch {
    // It is not there yet, or its disk is full: it is looked at again.
  }
}

/** Runs `relay NAME` as a child, as the site's account, in its own process group, so that Ctrl-C reaches only the one who stops them in order. */
export function keepRunning(
  name: 'serve' | 'worker',
  logFolder: string,
  env: Record<string, string>,
  complain: (line: string) => void,
): Kept {
  let child: ChildProcess;
  let stopping = false;
  let startedAt = 0;
  const logFile = under(logFolder, `${name}.log`);
  const looking = setInterval(() => rotateLog(logFile), lookAtLogsMs);
  looking.unref();
  const start = (): void => {
    rotateLog(logFile);
    const log = openSync(logFile, 'a', 0o600);
    startedAt = Date.now();
    const started = asAccount(name, process.execPath, ['--enable-source-maps', process.argv[1] as string, name]);
    child = spawn(started.command, started.args, {
      stdio: ['ignore', log, log, 'ipc'],
      detached: true,
      env: { ...process.env, ...env, ...started.env, RELAY_LOG: logFile },
    });
    child.once('close', () => {
      if (stopping) return;
      complain(`the ${name} ended and is started again; ${logFile} says why`);
      setTimeout(start, Date.now() - startedAt < 5_000 ? 2_000 : 200);
    });
  };
  start();
  return {
    pid: () => child.pid ?? 0,
    async stop() {
      stopping = true;
      clearInterval(looking);
      if (child.exitCode !== null || child.signalCode !== null) return;
      const ended = new Promise((resolve) => child.once('close', resolve));
      child.kill('SIGTERM');
      await Promise.race([ended, patience(12_000)]);
      child.kill('SIGKILL');
    },
  };
}

/** For such a child: calls back on TERM, or when the process that keeps it is gone. */
export function untilToldToStop(close: () => Promise<void>): Promise<number> {
  return new Promise((resolve) => {
    let closing = false;
    const end = (): void => {
      if (closing) return;
      closing = true;
      void close()
        .catch(() => undefined)
        .then(() => {
          resolve(0);
          process.exit(0);
        });
    };
    process.on('SIGTERM', end);
    process.on('SIGINT', end);
    process.on('disconnect', end);
  });
}
