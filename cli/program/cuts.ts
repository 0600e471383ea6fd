import type { Command } from 'commander';
import type { CutOptions } from '../commands/cut.ts';
import type { PullOptions } from '../commands/pull.ts';
import type { RehearseOptions } from '../commands/rehearse.ts';
import type { SwapOptions } from '../commands/swap.ts';
import type { Ends } from './values.ts';

const jsonOption = ['--json', 'the result as JSON'] as const;
const rateOption = [
  '--rate <R>',
  'what its labels count in, where the list does not say it: 23.976, 25, 30000/1001',
] as const;

/** Commands about edit lists that came back. */
export function addCuts(program: Command, ends: Ends): void {
  program
    .command('cut')
    .summary('reads an edit list, says it, or writes it in another form')
    .description(
      'Reads an edit list (CMX 3600 lines or OpenTimelineIO) and says its events, or writes it as another; what the other form cannot say is listed first. With --changes two versions are held against each other.',
    )
    .argument('<list>')
    .argument('[newer]', 'with --changes: the newer version')
    .option('--to <FORM>', 'edl, otio or csv, on standard output')
    .option('--changes', 'what is new, gone, moved, trimmed, extended, and how much of originals is newly needed')
    .option(...rateOption)
    .option(...jsonOption)
    .addHelpText('after', '\nExit code: 0 read, 2 wrong use or no edit list.')
    .action(async (list: string, newer: string | undefined, options: CutOptions) =>
      ends(await (await import('../commands/cut.ts')).cutCommand(list, newer, options)),
    );
  program
    .command('rehearse')
    .summary('tries an edit list against originals, event by event')
    .description(
      'Says of every event of an edit list in which original it is, which frames of it are needed (from 0, the last not among them, with what dissolves and speeds take), how surely that is known, and why: exact, by name and timecode, by path, by timecode alone, only nearly, several, none. Black is looked for nowhere.',
    )
    .requiredOption('--cut <FILE>', 'the edit list')
    .requiredOption('--media <DIR...>', 'where originals lie; several may be given')
    .option('--sheet <FILE>', 'the relink.json of a hand-off: a cut made on its outputs leads to their originals')
    .option(...rateOption)
    .option(...jsonOption)
    .addHelpText('after', '\nExit code: 0 every event is found, 1 some are not, 2 wrong use.')
    .action(async (options: RehearseOptions) =>
      ends(await (await import('../commands/rehearse.ts')).rehearseCommand(options)),
    );
  program
    .command('pull')
    .summary('makes what a cut uses of its originals, or copies them')
    .description(
      'Finds the originals that an edit list uses and makes the stretches that it needs by a recipe, with handles, merged where they touch or lie closer than the gap: each an output of its own, with the timecode of its first frame, proved, and on a relink sheet. With --copy originals are copied whole instead, with what lies beside them, keeping their folders: every copy is proved, and an ASC MHL manifest is written.',
    )
    .requiredOption('--cut <FILE>', 'the edit list')
    .requiredOption('--media <DIR...>', 'where originals lie; several may be given')
    .requiredOption('--out <DIR>', 'where outputs go, or copies, in a folder named as the one that they lie below')
    .option('--recipe <FILE>', 'the recipe; without it the first starter recipe')
    .option('--corrections <FILE>', 'what is corrected on which clips')
    .option('--copy', 'copies the originals whole')
    .option('--handles <N>', 'frames before and after what is needed', '0')
    .option('--gap <N>', 'stretches no farther apart than this become one', '0')
    .option('--sheet <FILE>', 'the relink.json of a hand-off')
    .option(...rateOption)
    .option(...jsonOption)
    .addHelpText('after', '\nExit code: 0 every event is found and all of it proved, 1 not all, 2 wrong use.')
    .action(async (options: PullOptions) => ends(await (await import('../commands/pull.ts')).pullCommand(options)));
  program
    .command('swap')
    .summary('puts a cut on the files of another role')
    .description(
      'Finds each event of an edit list among the outputs of a relink sheet and writes the list on the outputs of another role (a cut made on proxies on the intermediates), or, as .csv, the table of paths. Source timecode stays what it was. The file that is written must not be there yet.',
    )
    .requiredOption('--cut <FILE>', 'the edit list')
    .requiredOption('--sheet <FILE>', 'the relink.json of a hand-off')
    .requiredOption('--role <ROLE>', 'intermediate, proxy or review')
    .requiredOption('--to <FILE>', 'the list to write: .otio, .edl, or .csv')
    .option(...rateOption)
    .option(...jsonOption)
    .addHelpText('after', '\nExit code: 0 every event is on such a file, 1 some are not, 2 wrong use.')
    .action(async (options: SwapOptions) => ends(await (await import('../commands/swap.ts')).swapCommand(options)));
}
