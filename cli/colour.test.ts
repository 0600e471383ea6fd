import { spawn } from 'node:child_process';
import { readFile, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import { ffmpegMakes, relay, scratchFolder } from '../testing/commands.ts';
import { built } from '../testing/demo.ts';
import { farthest, ocio } from '../testing/ocio.ts';

const grid = Array.from(
  { length: 60 },
  (_, i) => [((i * 37) % 61) / 60, ((i * 17) % 53) / 52, ((i * 29) % 47) / 46] as const,
);

/** Triplets through the command, by standard input. */
async function through(...args: string[]): Promise<[number, number, number][]> {
  const child = spawn(process.execPath, [built, 'colour', 'eval', ...args], { stdio: ['pipe', 'pipe', 'inherit'] });
  let out = '';
  child.stdout.on('data', (chunk: Buffer) => (out += chunk.toString()));
  child.stdin.end(grid.map((rgb) => rgb.join(' ')).join('\r\n'));
  await new Promise((resolve) => child.once('close', resolve));
  return out
    .trim()
    .split('\n')
    .map((line) => line.split(' ').map(Number) as [number, number, number]);
}

describe('relay colour', () => {
  it('evaluates states, one triplet or many', async () => {
    expect(
      await relay('colour', 'eval', '--from', 'linear-bt709', '--to', 'slog3-sgamut3cine', '--rgb', '0.18,0.18,0.18'),
    ).toMatchObject({ code: 0, stdout: '0.4105572 0.4105572 0.4105572\n' });
    expect(
      (await relay('colour', 'eval', '--from', 'linear-bt709', '--to', 'linear-bt2020', '--rgb', '-0.1, 0, 0')).stdout,
    ).toMatch(/^-0\.0627404 /);
    expect(
      farthest(
        await through('--from', 'vlog-vgamut', '--to', 'aces2065-1'),
        await ocio([{ kind: 'builtin', name: 'PANASONIC_VLOG-VGAMUT_to_ACES2065-1' }], grid),
      ),
    ).toBeLessThan(1e-5);
  });

  it("bakes what FFmpeg's own lut3d then makes of a picture", async () => {
    const folder = await scratchFolder();
    const [cube, given, raw] = [join(folder, 'look.cube'), join(folder, 'in.raw'), join(folder, 'out.raw')];
    const baked = await relay(
      'colour',
      'bake',
      '--from',
      'slog3-sgamut3cine',
      '--to',
      'bt709',
      '--rendering',
      'estuary',
      '--size',
      '33',
      '--out',
      cube,
      '--json',
    );
    expect(baked.code).toBe(0);
    const { error } = JSON.parse(baked.stdout) as { error: { codes: { mean: number } } };
    expect(error.codes.mean).toBeLessThan(4);
    // Planar floats in and out, so that nothing but the filter touches them. FFmpeg's order of planes is G, B, R.
    await writeFile(
      given,
      Buffer.from(Float32Array.from([1, 2, 0].flatMap((c) => grid.map((rgb) => rgb[c] as number))).buffer),
    );
    const frame = ['-f', 'rawvideo', '-pix_fmt', 'gbrpf32le', '-s', `${grid.length}x1`];
    await ffmpegMakes(
      ...frame,
      '-i',
      given,
      '-vf',
      `lut3d=file=${cube}:interp=tetrahedral`,
      '-f',
      'rawvideo',
      '-pix_fmt',
      'gbrpf32le',
      raw,
    );
    const planes = new Float32Array((await readFile(raw)).buffer);
    const n = grid.length;
    const made = grid.map((_, i) => [planes[2 * n + i], planes[i], planes[n + i]] as [number, number, number]);
    expect(farthest(await through('--lut', cube), made)).toBeLessThan(1e-4);
  });

  it('writes a cube alone where it can, a table before it for light or when asked', async () => {
    const folder = await scratchFolder();
    const bakeTo = async (name: string, ...args: string[]): Promise<string> => {
      const out = join(folder, name);
      expect((await relay('colour', 'bake', '--size', '17', '--out', out, ...args)).code).toBe(0);
      return readFile(out, 'utf8');
    };
    expect(await bakeTo('a.cube', '--from', 'bt709', '--to', 'srgb')).not.toContain('LUT_1D_SIZE');
    expect(await bakeTo('b.cube', '--from', 'bt709', '--to', 'srgb', '--shaper')).toContain('LUT_1D_SIZE');
    expect(await bakeTo('c.cube', '--from', 'acescg', '--to', 'bt709', '--rendering', 'estuary')).toContain(
      'LUT_1D_SIZE',
    );
    expect(await bakeTo('d.clf', '--from', 'bt709', '--to', 'srgb')).toContain('<LUT1D');
  });

  it('examines a file, and says where a broken one is broken', async () => {
    const folder = await scratchFolder();
    const path = join(folder, 'half.cube');
    await writeFile(path, 'LUT_1D_SIZE 2\n0 0 0\n0.5 0.5 0.5\n');
    const { stdout, code } = await relay('colour', 'examine', path, '--json');
    expect(code).toBe(0);
    expect(JSON.parse(stdout)).toMatchObject({
      sound: true,
      white: [0.5, 0.5, 0.5],
      findings: expect.any(Array) as unknown,
    });
    await writeFile(path, 'LUT_1D_SIZE 2\n0 0 0\n0.5 nan 0.5\n');
    for (const args of [
      ['examine', path],
      ['eval', '--lut', path, '--rgb', '0,0,0'],
      ['bake', '--lut', path, '--size', '17', '--out', join(folder, 'o.cube')],
    ]) {
      expect(await relay('colour', ...args)).toEqual({
        code: 2,
        stdout: '',
        stderr: `relay: ${path}: line 3: nan is not a number that a picture can have. Export the LUT again from where it was made\n`,
      });
    }
  });

  it.each([
    [['eval', '--from', 'slog3-sgamut3cine']],
    [['eval', '--from', 'slog9', '--to', 'bt709', '--rgb', '0,0,0']],
    [['eval', '--from', 'bt709', '--to', 'srgb', '--rgb', '0,0']],
    [['eval']],
    [['eval', '--lut', '/nowhere.cube']],
    [['eval', '--from', 'bt709', '--to', 'srgb', '--rgb', '0,nan,0']],
    [['bake', '--from', 'bt709', '--to', 'srgb', '--size', '17']],
    [['bake', '--from', 'bt709', '--to', 'srgb', '--size', '900', '--out', '/tmp/x.cube']],
    [['bake', '--from', 'bt709', '--to', 'srgb', '--size', '17', '--out', '/tmp/x.mov']],
    [['examine']],
    [['paint']],
    [[]],
  ])('ends with 2 and one sentence for %j', async (args) => {
    const spoken = await relay('colour', ...args);
    expect([spoken.code, spoken.stdout]).toEqual([2, '']);
    expect(spoken.stderr).toMatch(/^relay: .+\n$/);
  });
});
