import { bakeCube } from '@relay/core/colour/bake/bake';
import { shapersFor } from '@relay/core/colour/bake/shaper';
import { conversion } from '@relay/core/colour/convert';
import { writeCdlFile } from '@relay/core/colour/lut/clfWrite';
import { writeCube } from '@relay/core/colour/lut/cubeWrite';
import { compile } from '@relay/core/colour/ops/compile';
import { noCdl } from '@relay/core/colour/ops/cdl';
import type { ColourOp } from '@relay/core/colour/ops/op';
import { rangeChange } from '@relay/core/colour/range';
import { colourState } from '@relay/core/colour/states';
import { unwrap } from '@relay/core/result';
import { mkdir, stat, writeFile } from 'node:fs/promises';
import { join } from 'node:path';

/** One LUT or CDL of the demo, and what its makers say that it takes and gives. */
export interface DemoLook {
  file: string;
  takes?: string;
  gives?: string;
  tags: string[];
  content: () => string;
}

const [plain] = shapersFor(false);
const cube = (title: string, ops: readonly ColourOp[], size = 33): string =>
  writeCube({
    title,
    notes: ['Made for the demo of Salt Lantern'],
    cube: bakeCube(compile(ops), size, plain as NonNullable<typeof plain>),
  });
const way = (from: string, to: string): ColourOp[] =>
  unwrap(conversion(unwrap(colourState(from)), unwrap(colourState(to)), 'estuary'));
const grade = (change: Partial<typeof noCdl>): ColourOp => ({
  op: 'cdl',
  cdl: { ...noCdl, ...change },
  reverse: false,
  clamp: true,
});

/** Looks as they might come with the production: two to work with, one made for legal range, one with a fault. */
export const demoLooks: readonly DemoLook[] = [
  {
    file: 'ferry-technical.cube',
    takes: 'slog3-sgamut3cine',
    gives: 'bt709',
    tags: ['technical', 'A camera'],
    content: () => cube('Ferry technical', way('slog3-sgamut3cine', 'bt709')),
  },
  {
    file: 'estuary-night.cube',
    takes: 'bt709',
    gives: 'bt709',
    tags: ['look'],
    content: () =>
      cube('Estuary night', [grade({ slope: [0.9, 0.98, 1.08], power: [1.12, 1.06, 0.98], saturation: 0.86 })]),
  },
  {
    file: 'monitor-legal.cube',
    takes: 'slog3-sgamut3cine',
    gives: 'bt709',
    tags: ['on set'],
    content: () =>
      cube('Monitor, legal range', [
        ...rangeChange('legal', 'full'),
        { op: 'range', scale: 1, offset: 0, min: 0, max: 1 },
        ...way('slog3-sgamut3cine', 'bt709'),
        ...rangeChange('full', 'legal'),
      ]),
  },
  {
    file: 'wharf-test.cube',
    tags: ['test'],
    // A table that turns back above middle grey, as a slip of the hand in a curve makes it.
    content: () => {
      const values = Float32Array.from({ length: 64 * 3 }, (_, i) => {
        const x = Math.floor(i / 3) / 63;
        return Math.min(1, x * 1.05 + (x > 0.55 && x < 0.7 ? 0.09 * Math.sin(((x - 0.55) / 0.15) * Math.PI * 2) : 0));
      });
      return writeCube({
        title: 'Wharf test',
        notes: ['Made for the demo of Salt Lantern'],
        table: { size: 64, values, domainMin: [0, 0, 0], domainMax: [1, 1, 1], halfDomain: false },
      });
    },
  },
  {
    file: 'evening-balance.cc',
    tags: ['grade'],
    content: () =>
      writeCdlFile('cc', [
        {
          id: 'Evening balance',
          cdl: { slope: [1.06, 1, 0.95], offset: [0.004, 0, -0.006], power: [0.98, 1, 1.03], saturation: 1.08 },
        },
      ]),
  },
];

/** Writes the demo's looks to `folder`, those that are not there. */
export async function writeDemoLooks(folder: string): Promise<void> {
  await mkdir(folder, { recursive: true });
  for (const { file, content } of demoLooks) {
    const path = join(folder, file);
    if (!(await stat(path).catch(() => null))) await writeFile(path, content());
  }
}
