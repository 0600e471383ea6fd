import type { Command } from 'commander';
import type { BakeOptions } from '../commands/colour/bake.ts';
import type { ChainValues } from '../commands/colour/chainOf.ts';
import { Misuse } from '../commands/output.ts';
import { collected, type Ends } from './values.ts';

/** What names a chain, for each command that takes one. */
function withChain(command: Command): Command {
  return command
    .option('--from <STATE>', 'what the numbers are, such as slog3-sgamut3cine')
    .option('--to <STATE>', 'what they become')
    .option('--lut <FILE>', 'a LUT, .cube or .clf; several in their order', collected)
    .option('--cdl <FILE>', 'a CDL: .cc, .ccc or .cdl')
    .option('--interp <KIND>', 'tetrahedral or trilinear (default: tetrahedral for .cube, what the file says for .clf)')
    .option('--rendering <NAME>', 'how scene light is shown: estuary')
    .option('--cdl-in <STATE>', 'the state that a CDL works in (default: the one before it)')
    .option('--lut-takes <STATE>', 'what a LUT takes (default: as it comes)')
    .option('--lut-gives <STATE>', 'what a LUT gives (default: as it comes)')
    .option('--range-in <RANGE>', 'full or legal, before a LUT (default full)')
    .option('--range-out <RANGE>', 'full or legal, behind it (default full)');
}

/** Commands about colour. */
export function addColour(program: Command, ends: Ends): void {
  const colour = program
    .command('colour')
    .summary('numbers through states, LUTs and CDLs; baking and examining LUTs')
    .description('Numbers through colour states, LUTs and CDLs; chains baked to one LUT; what a LUT does.')
    .argument('[part]')
    .action((part?: string) => {
      const parts = colour.commands.map((one) => one.name()).join(', ');
      throw new Misuse(`colour takes ${parts}${part === undefined ? '' : `, not ${JSON.stringify(part)}`}`);
    });
  withChain(
    colour
      .command('eval')
      .summary('triplets of numbers through a chain')
      .description(
        'Puts triplets of numbers through colour states, LUTs and CDLs, or all of them in the order state, CDL, LUT, state. Without --rgb it reads one triplet a line and prints one a line, 7 decimals.',
      ),
  )
    .option('--rgb <R,G,B>', 'one triplet')
    .option('--inverse', 'the other way')
    .action(async (options: ChainValues & { rgb?: string; inverse?: boolean }) =>
      ends(await (await import('../commands/colour/eval.ts')).evalCommand(options)),
    );
  withChain(
    colour
      .command('bake')
      .summary('a chain baked to one LUT, with its error measured')
      .description(
        'Bakes the chain to one .cube or .clf and says how far that lies from the chain. Without --size the smallest that stays under one 10-bit code value in 99.9 % of colours is taken. A .cube holds a cube alone, but for linear light, which needs a table before it; --shaper puts one wherever it halves the error, as a .clf always does.',
      ),
  )
    .requiredOption('--out <FILE>', 'a .cube or a .clf')
    .option('--size <N>', 'points along an edge')
    .option('--shaper', 'a table before the cube where that halves the error')
    .option('--json', 'the result as JSON')
    .action(async (options: BakeOptions) =>
      ends(await (await import('../commands/colour/bake.ts')).bakeCommand(options)),
    );
  colour
    .command('examine')
    .summary('what a LUT does, and what is to know before it is used')
    .description(
      'What a LUT does and what is to know before it is used: range, clipping, breaks, casts, folds, likely log.',
    )
    .argument('<file>')
    .option('--json', 'the result as JSON')
    .action(async (file: string, options: { json?: boolean }) =>
      ends(await (await import('../commands/colour/examine.ts')).examineCommand(file, options)),
    );
  colour
    .command('states')
    .summary('curves and gamuts, each with its source')
    .description('The curves and gamuts that states are named by, each with its source.')
    .option('--json', 'the result as JSON')
    .action(async (options: { json?: boolean }) =>
      ends(await (await import('../commands/colour/states.ts')).statesCommand(options)),
    );
}
