import { fileSystems } from '@relay/core/handoff/fileSystem';
import { hashNames } from '@relay/core/custody/manifest';
import type { Command } from 'commander';
import type { ArriveOptions } from '../commands/arrive.ts';
import type { CompareOptions } from '../commands/compare.ts';
import type { HandoffOptions } from '../commands/handoff.ts';
import type { SourceOptions } from '../commands/source.ts';
import type { WatchOptions } from '../commands/watch.ts';
import { addCuts } from './cuts.ts';
import { collected, type Ends } from './values.ts';

const recipeOption = ['--recipe <FILE>', 'a recipe; without: ProRes 422 HQ intermediates and H.264 proxies'] as const;
const correctionsOption = ['--corrections <FILE>', 'what is to change on which clips'] as const;
const productionOption = ['--production <NAME>', "its name in paths (default: the folder's)"] as const;
const jsonOption = ['--json', 'the result as JSON'] as const;

/** Commands that work on files and folders. */
export function addFiles(program: Command, ends: Ends): void {
  addReading(program, ends);
  addMaking(program, ends);
  addComparing(program, ends);
  addCuts(program, ends);
}

function addReading(program: Command, ends: Ends): void {
  program
    .command('read')
    .summary('describes files, and what is to know about each clip')
    .description(
      'Describes files, and every file below folders, and says what is to know or to decide about each clip. What cannot be a clip stands in the JSON with a problem instead (kind, what, remedy).',
    )
    .argument('<path...>')
    .option('--quick', 'does not look closely (sampled pictures, all sound, every packet), and finds less')
    .option(...jsonOption)
    .action(async (paths: string[], options: { quick?: boolean; json?: boolean }) =>
      ends(await (await import('../commands/read.ts')).readCommand(paths, options)),
    );
  program
    .command('arrive')
    .summary('copies a card, proves every copy, and says whether it may be cleared')
    .description(
      'Copies a card into a folder NAME below each --to: read once, hashed, flushed, read back from each disk and compared; every copy gets an ASC MHL manifest. Run again after a break it goes on where it was.',
    )
    .requiredOption('--from <DIR>', 'the card')
    .requiredOption('--to <DIR>', 'where a copy goes; several may be given', collected)
    .requiredOption('--roll <NAME>', "the roll's name")
    .option('--hash <NAME>', `one of ${hashNames.join(', ')}`, 'xxh128')
    .option('--md5', 'states MD5 as well')
    .option('--copies <N>', 'how many proved copies let the card be cleared, each on a disk of its own (default 2)')
    .option('--one-disk', 'copies on one disk count as well')
    .option(...jsonOption)
    .addHelpText('after', '\nExit code: 0 every file proved in every copy, 1 not, 2 wrong use.')
    .action(async (options: ArriveOptions) =>
      ends(await (await import('../commands/arrive.ts')).arriveCommand(options)),
    );
  program
    .command('handoff')
    .summary('brings outputs to a drive, proved, with all that relinking needs')
    .description(
      'Copies the outputs of a run into a folder, keeping their folders: read once, held against what was recorded of them, flushed, read back and compared. Beside them it writes the relink sheet of exactly these files, an OpenTimelineIO collection of all clips, READ ME.txt, and an ASC MHL manifest, by which relay verify proves the folder on any machine. Run again after a break it goes on where it was.',
    )
    .option('--run <DIR>', 'a folder of outputs, with its relink.json')
    .option('--sheet <FILE>', 'or a relink.json alone')
    .requiredOption('--to <DIR>', 'where it goes')
    .option('--roles <LIST>', 'these only: proxy, intermediate, review')
    .option('--for <FS>', `the file system that it ends on, where it is another: ${fileSystems.join(', ')}`)
    .option('--name <NAME>', "what it is called (default: the folder's name)")
    .option(...jsonOption)
    .addHelpText('after', '\nExit code: 0 every file proved, 1 not, 2 wrong use.')
    .action(async (options: HandoffOptions) =>
      ends(await (await import('../commands/handoff.ts')).handoffCommand(options)),
    );
  program
    .command('verify')
    .summary('holds a folder against the manifests in it')
    .description(
      'Holds a folder against the manifests in it, names what is missing, changed or extra, and adds a generation that says so.',
    )
    .argument('<folder>')
    .option('--no-record', 'adds no generation')
    .option(...jsonOption)
    .addHelpText('after', '\nExit code: 0 all as stated, 1 something differs, 2 wrong use.')
    .action(async (folder: string, options: { record: boolean; json?: boolean }) =>
      ends(await (await import('../commands/arrive.ts')).verifyCommand(folder, options)),
    );
}

function addMaking(program: Command, ends: Ends): void {
  program
    .command('run')
    .summary('makes and proves every deliverable of a recipe from every clip of a folder')
    .description(
      'Makes every deliverable of a recipe from every clip below a folder, proves each, and writes relink.csv and relink.json beside them.',
    )
    .requiredOption('--source <DIR>', 'the originals')
    .requiredOption('--out <DIR>', 'where outputs go')
    .option('--place <STORE=DIR>', 'where a store lies that the recipe sends a deliverable to', collected)
    .option(...recipeOption)
    .option(...correctionsOption)
    .option(...productionOption)
    .option(...jsonOption)
    .addHelpText('after', '\nExit code: 0 all proved, 1 some need eyes or failed, 2 wrong use.')
    .action(async (options: SourceOptions & { out: string; place?: string[] }) =>
      ends(await (await import('../commands/run.ts')).runCommand(options)),
    );
  program
    .command('watch')
    .summary('makes what arrives in a folder, by itself')
    .description(
      'Takes up what arrives in a folder once it is whole, makes and proves every deliverable of the recipes, and remembers beside the outputs what it took up, so that nothing is made twice.',
    )
    .requiredOption('--source <DIR>', 'the folder that originals arrive in')
    .requiredOption('--out <DIR>', 'where outputs go')
    .option('--place <STORE=DIR>', 'where a store lies that a recipe sends a deliverable to', collected)
    .option('--recipe <FILE>', 'a recipe; several are made from one decode', collected)
    .option(...correctionsOption)
    .option(...productionOption)
    .option('--quiet <SECONDS>', 'for how long nothing of it must change (default 15)')
    .option('--partner <ENDING>', 'a file of this ending beside it says at once that it is whole')
    .option('--done <WHAT>', 'originals that are dealt with: stay (default), or move into done/ and left/')
    .option('--receipt <FORM>', 'what is laid beside them then: none (default), json, text or both')
    .option('--once', 'ends when all that is there is dealt with')
    .option('--json-lines', 'one line of JSON for everything that happens')
    .addHelpText('after', '\nExit code: 0 all proved, 1 something was left or needs eyes, 2 wrong use.')
    .action(async (options: WatchOptions) => ends(await (await import('../commands/watch.ts')).watchCommand(options)));
  program
    .command('forecast')
    .summary('what a run would take, and nothing is made')
    .description(
      'What a run would take, and nothing is made: for each output, each deliverable and all, bytes as a range that is meant to hold nine times in ten, and how it is known (exact, by frame sizes, by sampled pictures, by published rates, roughly); and the time.',
    )
    .requiredOption('--source <DIR>', 'the originals')
    .option(...recipeOption)
    .option(...correctionsOption)
    .option(...productionOption)
    .option(...jsonOption)
    .action(async (options: SourceOptions) =>
      ends(await (await import('../commands/forecast.ts')).forecastCommand(options)),
    );
  program
    .command('paths')
    .summary('every path that a run would make, and what keeps any from being made')
    .description(
      'Every path that a run would make, without making anything, and what keeps any from being made: two on one path (also where case or accents are ignored), names that some system refuses or that are too long; with the smallest remedy.',
    )
    .requiredOption('--source <DIR>', 'the originals')
    .option(...recipeOption)
    .option(...correctionsOption)
    .option(...productionOption)
    .option(
      '--pattern <P>',
      "folders and name from pieces, below each deliverable's folder: '[source]/[stem]' (default)",
    )
    .option(...jsonOption)
    .addHelpText(
      'after',
      `
Pieces: stem, reel, roll, day, camera, scene, take, production, deliverable, raster, rate, codec, source, source 1…9,
date, ending, counter, counter 1…9; cut as in [stem 1-4], [stem part 2], [stem number 1].
Exit code: 0 all can be made, 1 not all, 2 wrong use.`,
    )
    .action(async (options: SourceOptions & { pattern?: string }) =>
      ends(await (await import('../commands/paths.ts')).pathsCommand(options)),
    );
}

function addComparing(program: Command, ends: Ends): void {
  program
    .command('compare')
    .summary('how like its original a copy is, frame by frame')
    .description(
      "Measures a copy against its original: PSNR and SSIM by FFmpeg's own filters, of every frame or every nth, at the copy's raster, chroma and depth; ΔE ITP (ITU-R BT.2124) of up to 48 frames as the copy's display shows them, both without a chain. What a recipe cropped, squeezed or gave a chain is measured by its plan, in Checks.",
    )
    .argument('<original>')
    .argument('<copy>')
    .option(
      '--map <FILE>',
      'which frames the copy shows, as a relink sheet says it: every, hold 4/5, … (default every)',
    )
    .option('--measure <WHAT>', 'some of psnr, ssim, ditp', 'psnr,ssim')
    .option('--every <N>', 'every nth frame (default 1)')
    .option(...jsonOption)
    .addHelpText('after', '\nExit code: 0 measured, 1 frames have no counterpart, 2 wrong use.')
    .action(async (a: string, b: string, options: CompareOptions) =>
      ends(await (await import('../commands/compare.ts')).compareCommand(a, b, options)),
    );
}
