/** What a shell is told of a command that Ctrl-C ended: 128 and the number of SIGINT (POSIX, exit status; bash(1)). */
export const interruptedCode = 130;

let interrupted = false;

/** Whether Ctrl-C ended what a command did. */
export function wasInterrupted(): boolean {
  return interrupted;
}

/** Told when the command is to stop in order: what is half made is taken away. */
export function stopSignal(): AbortSignal {
  const stop = new AbortController();
  process.once('SIGINT', () => {
    interrupted = true;
    stop.abort();
  });
  process.once('SIGTERM', () => stop.abort());
  return stop.signal;
}
