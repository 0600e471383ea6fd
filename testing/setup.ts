import { mkdir } from 'node:fs/promises';
import { paintDemo } from '@relay/demo/paint';
import { built, demoFolder } from './demo.ts';

/** Paints the demo originals once; they are deterministic and only read. */
export async function setup(): Promise<void> {
  await mkdir(demoFolder, { recursive: true });
  await paintDemo(demoFolder, [process.execPath, built, 'paint-one'], (line) => process.stderr.write(`${line}\n`));
}
