import { writeClf } from '../lut/clfWrite.ts';
import { writeCube } from '../lut/cubeWrite.ts';
import type { Baked } from './bake.ts';

/** A baked chain as a file's text. */
export function bakedText(baked: Baked, format: 'cube' | 'clf', title: string, notes: readonly string[] = []): string {
  if (format === 'clf') return writeClf(baked.ops, { id: title, name: title, notes });
  const table = baked.ops.find((op) => op.op === 'lut1d');
  return writeCube({ cube: baked.cube, ...(table?.op === 'lut1d' ? { table: table.lut } : {}), title, notes });
}
