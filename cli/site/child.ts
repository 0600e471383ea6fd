import { spawn, type ChildProcess } from 'node:child_process';
import { openSync } from 'node:fs';
import { under } from '@relay/core/naming/under';
import { asAccount } from './account.ts';
import { patience } from './postgres.ts';

/** A process of ours that is started again when it dies, until it is stopped on purpose. */
export interface Kept {
  /** The process that runs now; for tests, which kill it. */
  pid(): number;
  stop(): Promise<void>;
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
  const start = (): void => {
    const log = openSync(under(logFolder, `${name}.log`), 'a', 0o600);
    startedAt = Date.now();
    const started = asAccount(name, process.execPath, ['--enable-source-maps', process.argv[1] as string, name]);
    child = spawn(started.command, started.args, {
      stdio: ['ignore', log, log, 'ipc'],
      detached: true,
      env: { ...process.env, ...env, ...started.env },
    });
    child.once('close', () => {
      if (stopping) return;
      complain(`the ${name} ended and is started again; ${under(logFolder, `${name}.log`)} says why`);
      setTimeout(start, Date.now() - startedAt < 5_000 ? 2_000 : 200);
    });
  };
  start();
  return {
    pid: () => child.pid ?? 0,
    async stop() {
      stopping = true;
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
