import type { Command } from 'commander';
import type { WorkerOptions } from '../commands/processes.ts';
import type { StartOptions } from '../commands/start.ts';
import { collected, type Ends } from './values.ts';

/** Commands that start something which goes on: the site, its workers, its tests. */
export function addSite(program: Command, ends: Ends): void {
  program
    .command('start')
    .summary('everything: install, build, database, server and a worker')
    .description(
      'Installs what is missing, builds, starts the database, the server and a worker, and prints the address. Ctrl-C stops all of it.',
    )
    .option('--port <N>', "the address's port (default 4700; the next free one if it is taken)")
    .option('--store <NAME=PATH>', 'adds a folder that Brisk Relay may use; kept for later starts', collected)
    .option(
      '--root <PATH>',
      'the page may add folders below it (default: your home; drives and cards that are mounted always)',
      collected,
    )
    .option('--no-demo', 'without the painted demo: no production, no stores but your own')
    .action(async (options: StartOptions) => ends(await (await import('../commands/start.ts')).startCommand(options)));
  program
    .command('test')
    .summary('installs what tests need, and runs them all')
    .description('Installs what tests need and runs lint, type check, and the unit, server and browser tests.');
  program
    .command('bench')
    .summary('measures, each against the plain way')
    .description('Measures how fast something is, each beside the plain way of doing it: ./relay bench NAME.')
    .argument('[name]');
  program
    .command('worker')
    .summary('one more worker of legs, here or on another machine')
    .description(
      'One more worker of legs, for the database of a running ./relay start here, or for the one that RELAY_DATABASE names. Idle, it helps with long legs of other machines. RELAY_HOST names its machine where several call themselves alike.',
    )
    .option('--name <NAME>', "what people call it (default: this machine's name)")
    .option('--slots <N>', 'legs at a time (default 2)')
    .option(
      '--takes <CODEC,…>',
      'only legs of these: prores, vc3, vc3hd, vc5, h264, hevc, av1, mjpeg, ffv1, v210, pictures, none',
    )
    .option(
      '--store <NAME=PATH>',
      'where a store lies on this machine; with any, only legs on these stores are taken',
      collected,
    )
    .action(async (options: WorkerOptions) =>
      ends(await (await import('../commands/processes.ts')).workerCommand(options)),
    );
  program
    .command('completion')
    .summary('lets a shell complete commands and files')
    .description('Prints what lets a shell complete commands and files: source <(./relay completion bash)')
    .argument('<shell>', 'bash or zsh');
  program.command('version').summary('prints the version; --version does too').description('Prints the version.');
  // What follows is started by the commands above, not by people.
  program
    .command('serve', { hidden: true })
    .action(async () => ends(await (await import('../commands/processes.ts')).serveCommand()));
  program.command('link-order', { hidden: true }).action(async () => {
    const { linkOrder } = await import('@relay/media/process/linkOrder');
    process.stdout.write(`${(await linkOrder(['ffmpeg', 'ffprobe'])).join(':')}\n`);
    ends(0);
  });
  program
    .command('paint-one', { hidden: true })
    .argument('<path>')
    .argument('<folder>')
    .action(async (path: string, folder: string) => {
      await (await import('@relay/demo/paint')).paintOne(path, folder);
      ends(0);
    });
}
