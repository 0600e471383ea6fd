import type { Transform } from '@relay/core/colour/ops/op';
import { Misuse } from '../output.ts';

/** `0.1,0.2,0.3` or `0.1 0.2 0.3` as three numbers. */
function tripletOf(text: string, where: string): [number, number, number] {
  const words = text
    .trim()
    .split(',')
    .flatMap((part) => part.trim().split(/\s+/));
  const numbers = words.map((word) =>
    /^[+-]?(?:\d+(?:\.\d*)?|\.\d+)(?:[eE][+-]?\d+)?$/.test(word) ? Number(word) : Number.NaN,
  );
  const [r, g, b, ...more] = numbers;
  if (r === undefined || g === undefined || b === undefined || more.length > 0 || !numbers.every(Number.isFinite)) {
    throw new Misuse(`${where}${JSON.stringify(text.slice(0, 80))} is not three numbers, such as 0.41,0.41,0.41`);
  }
  return [r, g, b];
}

function printed(rgb: Float64Array): string {
  return Array.from(rgb, (value) => {
    const text = Number.isFinite(value) ? value.toFixed(7) : String(value);
    return text === '-0.0000000' ? '0.0000000' : text;
  }).join(' ');
}

/** Puts one triplet, or each line of standard input, through a transform, and prints one a line. */
export async function evaluateTriplets(transform: Transform, given: string | undefined): Promise<void> {
  const work = new Float64Array(3);
  const through = (text: string, where: string): string => {
    work.set(tripletOf(text, where));
    transform(work);
    return printed(work);
  };
  if (given !== undefined) {
    process.stdout.write(`${through(given, '--rgb ')}\n`);
    return;
  }
  let rest = '';
  let line = 0;
  const take = (lines: string[]): void => {
    const out: string[] = [];
    try {
      for (const text of lines) {
        line += 1;
        if (text.trim() !== '' && !text.trim().startsWith('#'))
          out.push(through(text, `line ${line} of standard input: `));
      }
    } finally {
      if (out.length > 0) process.stdout.write(`${out.join('\n')}\n`);
    }
  };
  for await (const chunk of process.stdin.setEncoding('utf8')) {
    const lines = (rest + String(chunk)).split(/\r\n|\n|\r(?!$)/);
    rest = lines.pop() ?? '';
    take(lines);
  }
  take([rest]);
}
