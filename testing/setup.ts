import { mkdir } from 'node:fs/promises';
import { paintDemo } from '@relay/demo/paint';
import { built, saltLantern } from './demo.ts';

/** Paints the demo originals once; they are deterministic and only read. */
export async function setup(): Promise<void> {
  await mkdir(saltLantern, { recursive: true });
  await paintDemo(saltLantern, [process.execPath, built, 'paint-one'], (line) => process.stderr.write(`${line}\n`));
}
