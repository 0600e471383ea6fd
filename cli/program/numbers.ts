import type { Command } from 'commander';
import type { Ends } from './values.ts';
import type { ShapeOptions } from '../commands/shape.ts';
import type { TimecodeOptions } from '../commands/timecode.ts';

/** Commands that only reckon: timecode and shape. */
export function addNumbers(program: Command, ends: Ends): void {
  program
    .command('shape')
    .summary("the way of a picture from its raster into an output's")
    .description(
      "The way of a picture: source window, true shape, where it lies in the output's raster, and the error of shape that whole samples leave.",
    )
    .requiredOption('--raster <WxH>', "the original's raster")
    .option('--par <N:D>', 'its pixel aspect (default 1:1)')
    .option('--squeeze <X>', "a lens's squeeze; 1.33 is four thirds")
    .option('--crop <L,T,R,B>', 'what is cut off, in samples')
    .option('--turn <DEG>', 'how the picture is turned')
    .option('--square <SIDE>', 'how pixels become square: columns, rows, keep')
    .option('--to <WxH>', "the output's raster")
    .option('--fit <KIND>', 'fit (inside, nothing added), pad (filled up), fill (the rest cut), cut (not scaled)')
    .option('--anchor <A>', 'top-left … centre … bottom-right')
    .option('--colour <C>', 'black, grey or white around it')
    .option('--enlarge', 'small ones are enlarged')
    .option('--fields', 'keeps fields apart: rows go in pairs')
    .option(
      '--codec <NAME>',
      'prores-proxy … prores-4444xq, h264, or a sampling: 4:2:0, 4:2:2, 4:4:4 (default: any whole size)',
    )
    .option('--json', 'the result as JSON')
    .action(async (options: ShapeOptions) => ends((await import('../commands/shape.ts')).shapeCommand(options)));
  program
    .command('timecode')
    .summary('frames since midnight of a timecode, and back')
    .description('Frames since midnight of a timecode (; before the frames is drop-frame), and back.')
    .argument('[timecode]')
    .requiredOption('--rate <R>', 'such as 23.976, 25, 30000/1001')
    .option('--frames', 'the count of a timecode')
    .option('--from-frames <N>', 'the timecode of a count')
    .option('--drop', 'as drop-frame')
    .option('--json', 'the result as JSON')
    .action(async (text: string | undefined, options: TimecodeOptions) =>
      ends((await import('../commands/timecode.ts')).timecodeCommand(text, options)),
    );
}
