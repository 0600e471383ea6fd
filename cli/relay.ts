import { CommanderError } from 'commander';
import { interruptedCode, wasInterrupted } from './commands/interrupt.ts';
import { complain, Misuse } from './commands/output.ts';
import { programOf } from './program/program.ts';

/** The one command: its exit code is that of the part that was asked for. */
async function main(): Promise<number> {
  let code = 0;
  const program = programOf((ended) => {
    code = ended;
  });
  try {
    await program.parseAsync();
  } catch (error) {
    // Help was shown: of a wish, or since nothing was asked for.
    if (error instanceof CommanderError) return error.exitCode === 0 ? 0 : 2;
    throw error;
  }
  return code;
}

try {
  const code = await main();
  process.exitCode = wasInterrupted() ? interruptedCode : code;
} catch (error) {
  complain(error instanceof Error ? error.message : String(error));
  // At once: a process that failed half-way through its start may hold connections that would keep it alive.
  process.exit(error instanceof Misuse ? 2 : 1);
}
