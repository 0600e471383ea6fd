import { spawn } from 'node:child_process';
import { join } from 'node:path';

type Triplets = readonly (readonly [number, number, number])[];
export type OcioStep =
  | { kind: 'builtin'; name: string; inverse?: boolean }
  | { kind: 'file'; path: string; interpolation?: 'tetrahedral' | 'linear' | 'default'; inverse?: boolean }
  | {
      kind: 'cdl';
      slope: readonly number[];
      offset: readonly number[];
      power: readonly number[];
      saturation: number;
      inverse?: boolean;
    };

/** Triplets through OpenColorIO, Debian's, as the reference: see `ocio.py`. */
export async function ocio(chain: readonly OcioStep[], values: Triplets): Promise<[number, number, number][]> {
  const child = spawn('/usr/bin/python3', [join(import.meta.dirname, 'ocio.py')], { stdio: ['pipe', 'pipe', 'pipe'] });
  let [out, said] = ['', ''];
  child.stdout.on('data', (chunk: Buffer) => (out += chunk.toString()));
  child.stderr.on('data', (chunk: Buffer) => (said += chunk.toString()));
  child.stdin.on('error', () => undefined);
  child.stdin.end(JSON.stringify({ chain, values }));
  const code = await new Promise<number | null>((resolve, reject) =>
    child.once('close', resolve).once('error', reject),
  );
  if (code !== 0) throw new Error(`OpenColorIO: ${said.trim().split('\n').at(-1) ?? 'no reason'}`);
  return JSON.parse(out) as [number, number, number][];
}

/** The greatest difference, absolute or relative to the reference, whichever is smaller. */
export function farthest(found: Triplets, wanted: Triplets): number {
  return Math.max(
    ...found.flatMap((triplet, i) =>
      triplet.map((value, c) => {
        const reference = wanted[i]?.[c] ?? Number.NaN;
        const difference = Math.abs(value - reference) / Math.max(1, Math.abs(reference));
        return Number.isNaN(difference) ? Infinity : difference;
      }),
    ),
  );
}
