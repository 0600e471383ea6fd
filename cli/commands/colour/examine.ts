import { examine } from '@relay/core/colour/examine/examine';
import { printJson } from '../output.ts';
import { lutOf } from './files.ts';

/** `relay colour examine FILE [--json]`: what it does, and what is to know before it is used. */
export async function examineCommand(path: string, values: { json?: boolean }): Promise<number> {
  const examined = examine(await lutOf(path));
  if (values.json) printJson({ file: path, ...examined });
  else {
    const codes = (rgb: readonly number[]): string => rgb.map((value) => (value * 1023).toFixed(1)).join(' ');
    process.stdout.write(
      [
        `${path}: ${examined.sound ? 'sound' : 'something to decide'}`,
        `black ${codes(examined.black)}, white ${codes(examined.white)} of 1023; range ${examined.range.in} in, ${examined.range.out} out`,
        ...examined.findings.map((finding) => `${finding.level}: ${finding.text}. ${finding.remedy}`),
        ...examined.warnings.map((warning) => `passed over: ${warning}`),
        '',
      ].join('\n'),
    );
  }
  return 0;
}
