/** What every command shares in how it speaks: results on standard output, everything else on standard error. */
export function printJson(value: unknown): void {
  process.stdout.write(`${JSON.stringify(value, null, 2)}\n`);
}

export function complain(line: string): void {
  process.stderr.write(`relay: ${line}\n`);
}

/** Wrong use of a command: exit code 2, and where to read how it goes. */
export class Misuse extends Error {}

/** Progress on one line that is written over, on a terminal only. */
export function progressLine(line: string): void {
  if (process.stderr.isTTY) process.stderr.write(`\r\u001b[K${line}`);
}

/** One line for something that happened, where no terminal shows progress: for logs of machines. */
export function eventLine(line: string): void {
  if (!process.stderr.isTTY) process.stderr.write(`${line}\n`);
}

export function endProgress(): void {
  if (process.stderr.isTTY) process.stderr.write('\r\u001b[K');
}
