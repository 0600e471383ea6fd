import { Command } from 'commander';
import { Misuse } from '../commands/output.ts';
import { addColour } from './colour.ts';
import { addFiles } from './files.ts';
import { addNumbers } from './numbers.ts';
import { addSite } from './site.ts';
import type { Ends } from './values.ts';

/**
 * All commands, with what each takes and says of itself. Each part is loaded when it is asked for, so that small ones
 * start at once.
 */
export function programOf(ends: Ends): Command {
  const program = new Command('./relay');
  program
    .description('Turns camera originals into intermediates and proxies that relink, each one proved.')
    .helpCommand(false)
    .configureHelp({ sortSubcommands: false, showGlobalOptions: false })
    .addHelpText(
      'after',
      '\nExit code 2: wrong use. Results go to standard output, everything else to standard error.',
    );
  addSite(program, ends);
  addFiles(program, ends);
  addNumbers(program, ends);
  addColour(program, ends);
  program
    .command('help')
    .summary('how a command is used')
    .argument('[command]')
    .action((name?: string) => {
      helpOf(program, name ?? '').outputHelp();
      ends(0);
    });
  strictly(program);
  return program;
}

/** The command of a name, or the program itself without one. */
function helpOf(program: Command, name: string): Command {
  if (name === '') return program;
  const found = program.commands.find((one) => one.name() === name);
  if (!found) throw new Misuse(`there is no command ${JSON.stringify(name)}; ./relay --help lists them`);
  return found;
}

/** What is wrong is one sentence on standard error, and no command ends the process by itself. */
function strictly(command: Command): void {
  command.exitOverride();
  command.helpOption('-h, --help', 'how it is used');
  if (command.parent) command.helpCommand(false);
  command.configureOutput({
    outputError: (text) => {
      throw new Misuse(
        text
          .replace(/^error: /, '')
          .trim()
          .replaceAll('\n', ' '),
      );
    },
  });
  command.commands.forEach(strictly);
}
