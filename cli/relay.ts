import { helpFor } from './help.ts';
import { interruptedCode, wasInterrupted } from './commands/interrupt.ts';
import { complain, Misuse } from './commands/output.ts';

/** The one command. Each part is loaded when it is asked for, so that small ones start at once. */
const commands: Readonly<Record<string, (args: string[]) => Promise<number>>> = {
  start: async (args) => (await import('./commands/start.ts')).startCommand(args),
  worker: async (args) => (await import('./commands/processes.ts')).workerCommand(args),
  read: async (args) => (await import('./commands/read.ts')).readCommand(args),
  arrive: async (args) => (await import('./commands/arrive.ts')).arriveCommand(args),
  verify: async (args) => (await import('./commands/arrive.ts')).verifyCommand(args),
  run: async (args) => (await import('./commands/run.ts')).runCommand(args),
  forecast: async (args) => (await import('./commands/forecast.ts')).forecastCommand(args),
  paths: async (args) => (await import('./commands/paths.ts')).pathsCommand(args),
  timecode: async (args) => (await import('./commands/timecode.ts')).timecodeCommand(args),
  shape: async (args) => (await import('./commands/shape.ts')).shapeCommand(args),
  colour: async (args) => (await import('./commands/colour/command.ts')).colourCommand(args),
  // What follows is started by the commands above, not by people.
  serve: async () => (await import('./commands/processes.ts')).serveCommand(),
  'paint-one': async ([path, folder]) => {
    await (await import('@relay/demo/paint')).paintOne(path ?? '', folder ?? '');
    return 0;
  },
};

async function main(): Promise<number> {
  const [name, ...args] = process.argv.slice(2);
  if (name === undefined || name === 'help' || name === '--help' || name === '-h') {
    const text = helpFor(args[0]);
    if (text === null) throw new Misuse(`there is no command ${JSON.stringify(args[0])}; ./relay --help lists them`);
    process.stdout.write(text);
    return name === undefined ? 2 : 0;
  }
  const command = commands[name];
  if (!command) throw new Misuse(`there is no command ${JSON.stringify(name)}; ./relay --help lists them`);
  if (args.includes('--help') || args.includes('-h')) {
    process.stdout.write(helpFor(name) ?? '');
    return 0;
  }
  return command(args);
}

try {
  const code = await main();
  process.exitCode = wasInterrupted() ? interruptedCode : code;
} catch (error) {
  const misuse = error instanceof Misuse || (error as { code?: string }).code?.startsWith('ERR_PARSE_ARGS');
  complain(error instanceof Error ? error.message : String(error));
  // At once: a process that failed half-way through its start may hold connections that would keep it alive.
  process.exit(misuse ? 2 : 1);
}
