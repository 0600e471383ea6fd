import { mkdir, readdir, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { isRefusal } from '@relay/core/clip/description';
import { emptyChain, type Chain } from '@relay/core/colour/chain/chain';
import type { LegPlan } from '@relay/core/recipe/legPlan';
import { planLeg } from '@relay/core/recipe/plan';
import { finishAndCut, type Deliverable } from '@relay/core/recipe/recipe';
import type { RelinkRow } from '@relay/core/relink/sheet';
import { unwrap } from '@relay/core/result';
import { describeFile } from '@relay/media/describe/describe';
import { beforeAll, describe, expect, it, vi } from 'vitest';
import { ffmpegMakes, quickH264, scratchFolder } from '../../testing/commands.ts';
import { runLeg } from './leg.ts';
import type { LegResult } from './outcome.ts';

const chain: Chain = { ...emptyChain, input: 'slog3-sgamut3cine', output: 'bt709', rendering: 'estuary' };
let folder: string;
let source: string;
beforeAll(async () => {
  folder = await scratchFolder();
  // A temporary folder of this file's own: other tests bake chains at the same time.
  const temporary = join(folder, 'temporary');
  await mkdir(temporary);
  vi.stubEnv('TMPDIR', temporary);
  source = join(folder, 'small.mov');
  await ffmpegMakes('-f', 'lavfi', '-i', 'testsrc2=s=320x180:r=25:d=0.2', ...quickH264, '-pix_fmt', 'yuv420p', source);
});

async function planOf(colour: Chain): Promise<LegPlan> {
  const entry = await describeFile(source, 'small.mov');
  if (isRefusal(entry)) throw new Error(entry.problem.what);
  return unwrap(planLeg(entry, finishAndCut, { colour }));
}
const rows = new Map<string, RelinkRow>();
const leg = (plan: LegPlan, out: string): Promise<LegResult> =>
  runLeg(plan, {
    sourceRoot: dirname(source),
    outRoot: { root: folder, folder: out },
    owner: 'test',
    whole: 'card',
    record: async (row) => void rows.set(row.output, row),
    recorded: async (path) => {
      const row = rows.get(path);
      return row ? { xxh3: row.outputXxh3, state: row.state } : null;
    },
  });

describe('a leg with a chain', () => {
  it('lays the LUT beside, and lays it there again when it was taken away', async () => {
    const plan = await planOf(chain);
    expect((await leg(plan, 'a')).state).toBe('proved');
    const [name = ''] = await readdir(join(folder, 'a/luts'));
    const text = await readFile(join(folder, 'a/luts', name), 'utf8');
    expect(text).toContain('LUT_3D_SIZE 33');
    await rm(join(folder, 'a/luts', name));
    const again = await leg(plan, 'a');
    expect([again.state, again.outputs.map((output) => output.alreadyThere)]).toEqual(['proved', [true, true]]);
    expect(await readFile(join(folder, 'a/luts', name), 'utf8')).toBe(text);
  });

  it("leaves a stranger's file of the LUT's name as it is, names it, and makes the rest", async () => {
    const plan = await planOf(chain);
    const { colour } = plan.outputs[0] ?? {};
    const path = colour?.kind === 'beside' ? colour.path : '';
    await mkdir(join(folder, 'b/luts'), { recursive: true });
    await writeFile(join(folder, 'b', path), "a stranger's");
    rows.clear();
    const result = await leg(plan, 'b');
    expect(result.outputs.map((output) => output.state)).toEqual(['failed', 'proved']);
    expect(result.outputs[0]?.problem?.what).toBe(`${path} is there already and was left as it is`);
    expect(await readFile(join(folder, 'b', path), 'utf8')).toBe("a stranger's");
    expect(
      (await readdir(join(folder, 'b'), { recursive: true })).filter(
        (name) => name.includes('.relay-part') || name === 'intermediate/small.mov',
      ),
    ).toEqual([]);
  });

  it('fails in words when a LUT is gone, and makes nothing', async () => {
    const result = await leg(
      await planOf({
        ...chain,
        steps: [
          {
            kind: 'lut',
            id: 'l',
            name: 'Quay',
            muted: false,
            lut: 'gone',
            takes: null,
            gives: null,
            rangeIn: 'full',
            rangeOut: 'full',
          },
        ],
      }),
      'c',
    );
    expect([result.state, result.problem?.what]).toEqual([
      'failed',
      'small.mov: The LUT Quay is not in the cabinet. Bring its file in again, or take the step out',
    ]);
    expect(await readdir(join(folder, 'c')).catch(() => [])).toEqual([]);
  });

  it('ends at white in images and JPEG, and the proof knows that it does', async () => {
    // Light of twice white and more, in codes that have room for it; the chain holds nothing back.
    const bright: Chain = { ...emptyChain, input: 'slog3-sgamut3cine', output: 'bt709', rendering: null };
    const [intermediate] = finishAndCut.deliverables;
    if (!intermediate) throw new Error('no deliverable');
    const as = (codec: Deliverable['codec'], wrapper: Deliverable['wrapper']): Deliverable => ({
      ...intermediate,
      name: codec.id === 'pictures' ? codec.format : codec.id,
      folder: codec.id === 'pictures' ? codec.format : codec.id,
      codec,
      wrapper,
      colour: { kind: 'baked' },
    });
    const deliverables = [
      as({ id: 'pictures', format: 'tiff' }, 'pictures'),
      as({ id: 'pictures', format: 'png' }, 'pictures'),
      as({ id: 'pictures', format: 'dpx' }, 'pictures'),
      as({ id: 'mjpeg', quality: 2 }, 'mov'),
      as({ id: 'prores', profile: '4444' }, 'mov'),
    ];
    const bars = join(folder, 'bars.mov');
    await ffmpegMakes(
      '-f',
      'lavfi',
      '-i',
      'smptehdbars=s=640x360:r=25:d=0.2',
      ...quickH264,
      '-qp',
      '0',
      '-pix_fmt',
      'yuv444p',
      bars,
    );
    const entry = await describeFile(bars, 'bars.mov');
    if (isRefusal(entry)) throw new Error(entry.problem.what);
    const result = await leg(unwrap(planLeg(entry, { ...finishAndCut, deliverables }, { colour: bright })), 'white');
    expect(result.outputs.map(({ path, state, proof }) => [path, state, proof?.reasons])).toEqual(
      result.outputs.map(({ path }) => [path, 'proved', []]),
    );
    expect(result.outputs[0]?.proof?.comparisons.some(({ name }) => name === 'colour by the chain')).toBe(true);
  });

  it("leaves none of its baked chains behind, and touches nobody else's folder under a shared temporary one", async () => {
    const planted = join(tmpdir(), 'relay-scratch-4194305-aaaaaa');
    await mkdir(planted, { recursive: true });
    await writeFile(join(planted, 'precious'), 'kept');
    try {
      await leg(await planOf(chain), 'd');
      expect(await readFile(join(planted, 'precious'), 'utf8')).toBe('kept');
      const own = (await readdir(tmpdir())).filter((name) => /^relay-\w{6}$/.test(name));
      expect(own.length).toBeGreaterThan(0);
      for (const name of own)
        expect(
          (await readdir(join(tmpdir(), name), { recursive: true })).filter((file) => file.endsWith('.cube')),
          name,
        ).toEqual([]);
    } finally {
      await rm(planted, { recursive: true });
    }
  });
});
