import { readFile, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { beforeAll, describe, expect, it } from 'vitest';
import { call, quickH264, relay, scratchFolder } from '../testing/commands.ts';

/** `relay compare` held against FFmpeg's own psnr and ssim of the same files. */

let folder: string;
let [original, copy, slower] = ['', '', ''];

async function ffmpeg(...args: string[]): Promise<string> {
  const made = await call('ffmpeg', ['-v', 'info', '-nostats', '-y', ...args]);
  if (made.code !== 0) throw new Error(made.stderr);
  return made.stderr;
}

beforeAll(async () => {
  folder = await scratchFolder();
  [original, copy, slower] = ['original.mov', 'copy.mov', 'slower.mov'].map((name) => join(folder, name)) as [
    string,
    string,
    string,
  ];
  const noise = 'testsrc2=s=640x360:r=30:d=2,noise=alls=8:allf=t';
  await ffmpeg('-f', 'lavfi', '-i', noise, ...quickH264, '-qp', '0', '-pix_fmt', 'yuv420p', original);
  await ffmpeg('-i', original, ...quickH264, '-crf', '30', '-bf', '2', copy);
  // Every fifth frame left out, as a conform from 30 to 24 that holds does it.
  await ffmpeg('-i', original, '-vf', 'fps=24:round=up', ...quickH264, '-crf', '20', slower);
});

interface Answer {
  psnr: { mean: number; worst: { frame: number; psnr: number } };
  ssim: { mean: number };
  ditp: { mean: number };
  measured: number;
  missing: number;
  each: { frame: number; psnr: number; ssim: number }[];
  seen: { frame: number; mean: number; p99: number }[];
}

const compare = async (...args: string[]): Promise<{ code: number | null; answer: Answer }> => {
  const { code, stdout, stderr } = await relay('compare', ...args, '--json');
  if (stdout === '') throw new Error(stderr);
  return { code, answer: JSON.parse(stdout) as Answer };
};

describe('relay compare', () => {
  it("gives FFmpeg's own figures, frame by frame and together", async () => {
    const stats = join(folder, 'stats');
    const said = await ffmpeg(
      ...['-i', copy, '-i', original, '-filter_complex'],
      `[0:v]split[a][b];[1:v]split[c][d];[a][c]psnr=stats_file=${stats}[x];[b][d]ssim[y]`,
      ...['-map', '[x]', '-map', '[y]', '-f', 'null', '-'],
    );
    const { code, answer } = await compare(original, copy);
    expect([code, answer.measured, answer.missing]).toEqual([0, 60, 0]);
    const psnr = Number(/PSNR.*average:(\S+)/.exec(said)?.[1]);
    const ssim = Number(/SSIM.*All:(\S+)/.exec(said)?.[1]);
    expect(Math.abs(answer.psnr.mean - psnr)).toBeLessThan(0.01);
    expect(Math.abs(answer.ssim.mean - ssim)).toBeLessThan(0.0001);
    const each = (await readFile(stats, 'utf8')).trim().split('\n');
    expect(each).toHaveLength(60);
    for (const [index, line] of each.entries())
      expect(Math.abs((answer.each[index]?.psnr ?? 0) - Number(/psnr_avg:(\S+)/.exec(line)?.[1]))).toBeLessThan(0.01);
  });

  it('measures every nth frame, and what is equal is equal', async () => {
    const { answer } = await compare(original, copy, '--every', '7');
    expect(answer.each.map(({ frame }) => frame)).toEqual([0, 7, 14, 21, 28, 35, 42, 49, 56]);
    const same = await compare(original, original, '--measure', 'psnr,ditp', '--every', '20');
    expect([same.answer.psnr.mean, same.answer.ditp.mean]).toEqual([null, 0]);
    const { stdout } = await relay('compare', original, original);
    expect(stdout).toContain('PSNR equal');
  });

  it('follows a frame map, and without it sees other pictures', async () => {
    const map = join(folder, 'map');
    await writeFile(map, 'hold 4/5\n');
    const mapped = await compare(original, slower, '--map', map);
    const plain = await compare(original, slower);
    expect(mapped.answer.psnr.mean).toBeGreaterThan(plain.answer.psnr.mean + 3);
  });

  it('sees a colour that is off where PSNR is high, by ΔE ITP', async () => {
    const tinted = join(folder, 'tinted.mov');
    await ffmpeg('-i', original, '-vf', 'lutyuv=v=val+6', ...quickH264, '-qp', '0', tinted);
    const off = await compare(original, tinted, '--measure', 'ditp', '--every', '20');
    expect(off.answer.seen.map(({ frame }) => frame)).toEqual([0, 20, 40]);
    expect(off.answer.ditp.mean).toBeGreaterThan(2);
  });

  it('refuses what has another shape, and says how many frames of a copy have no counterpart', async () => {
    const narrow = join(folder, 'narrow.mov');
    await ffmpeg('-i', original, '-vf', 'crop=480:360', ...quickH264, narrow);
    const refused = await relay('compare', original, narrow);
    expect([refused.code, refused.stderr]).toEqual([2, expect.stringContaining('have not one shape') as string]);
    const cut = join(folder, 'cut.mov');
    await ffmpeg('-i', original, '-frames:v', '40', ...quickH264, cut);
    const { code, answer } = await compare(cut, copy);
    expect([code, answer.measured, answer.missing]).toEqual([1, 40, 20]);
  });

  it.each([
    [['nothing.mov', 'copy.mov'], 'cannot be read'],
    [['copy.mov', 'copy.mov', '--measure', 'vmaf'], 'psnr, ssim, ditp'],
    [['copy.mov', 'copy.mov', '--every', '0'], '--every'],
    [['copy.mov', 'copy.mov', '--map', 'copy.mov'], 'frame map'],
  ])('says what is wrong with %j', async (args, words) => {
    const { code, stderr } = await relay(
      'compare',
      ...args.map((one) => (one.endsWith('.mov') ? join(folder, one) : one)),
    );
    expect(code).toBe(2);
    expect(stderr).toMatch(/^relay: .+\n$/);
    expect(stderr).toContain(words);
  });
});
