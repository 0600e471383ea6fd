import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { joinChapters } from '@relay/core/clip/chapters';
import type { ClipDescription } from '@relay/core/clip/description';
import { planLeg } from '@relay/core/recipe/plan';
import { finishAndCut } from '@relay/core/recipe/recipe';
import { planJoinedCopy } from '@relay/core/recipe/joinedCopy';
import { unwrap } from '@relay/core/result';
import { describeFile } from '@relay/media/describe/describe';
import { ffmpeg, inputArguments } from '@relay/media/process/ffmpeg';
import { runOwn } from '@relay/media/process/run';
import { unlikeSound } from '@relay/media/joinedCopy/heard';
import { joinCopies } from '@relay/media/joinedCopy/join';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { runLeg } from './leg.ts';

/**
 * Sound over the joints of files: a click every half second, told from the samples themselves. What a codec adds at
 * each file's ends (AAC: 1024 samples before, the last packet filled up) must not move the clicks of the next.
 */
let folder: string;
beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'relay-chapters-'));
});
afterAll(() => rm(folder, { recursive: true, force: true }));

async function paint(name: string, frames: number, coding: readonly string[]): Promise<void> {
  const seconds = frames / 25;
  const ended = await runOwn(ffmpeg, [
    '-v',
    'error',
    '-y',
    '-f',
    'lavfi',
    '-i',
    `testsrc2=s=320x180:r=25:d=${seconds}`,
    '-f',
    'lavfi',
    '-i',
    `aevalsrc=0.8*lt(mod(t\\,0.5)\\,0.004)*sin(2*PI*1000*mod(t\\,0.5)):s=48000:d=${seconds}`,
    ...coding,
    join(folder, name),
  ]);
  if (ended.code !== 0) throw new Error(ended.stderr);
}

/** First samples of each click, as far as they are from a whole half second; at most 0.1 s apart is one click. */
async function clicksOf(path: string): Promise<number[]> {
  const chunks: Buffer[] = [];
  await runOwn(
    ffmpeg,
    [
      '-v',
      'error',
      ...inputArguments(path),
      '-map',
      '0:a:0',
      '-af',
      'aresample=48000:async=1:first_pts=0',
      '-f',
      's16le',
      '-ac',
      '1',
      'pipe:1',
    ],
    {
      onData: (chunk) => {
        chunks.push(chunk);
      },
    },
  );
  const bytes = Buffer.concat(chunks);
  const off: number[] = [];
  for (let i = 0; i < bytes.length >> 1; i += 1) {
    if (Math.abs(bytes.readInt16LE(i * 2)) <= 3000) continue;
    off.push(i - 24_000 * Math.round(i / 24_000));
    i += 4_800;
  }
  return off;
}

const codings: Readonly<Record<string, readonly string[]>> = {
  'AAC in mp4': ['-c:v', 'libx264', '-preset', 'veryfast', '-pix_fmt', 'yuv420p', '-c:a', 'aac', '-b:a', '192k'],
  'AC-3 in ts': ['-c:v', 'mpeg2video', '-q:v', '3', '-c:a', 'ac3', '-b:a', '192k'],
  'PCM in mov': ['-c:v', 'libx264', '-preset', 'veryfast', '-pix_fmt', 'yuv420p', '-c:a', 'pcm_s16le'],
};

describe('chapters', () => {
  it.each(Object.keys(codings))('of %s keep their sound in step over every joint', async (kind) => {
    const ending = kind.split(' ').at(-1) ?? '';
    const names = [1, 2, 3, 4].map((n) => `${ending}_0${n}.${ending}`);
    // 50 frames are 96 000 samples, no whole number of packets of 1024 or 1536.
    for (const [index, name] of names.entries()) await paint(name, index < 3 ? 50 : 25, codings[kind] as string[]);
    const files = await Promise.all(
      names.map(async (name) => (await describeFile(join(folder, name), name)) as ClipDescription),
    );
    const [clip, ...rest] = joinChapters(files);
    expect(rest).toEqual([]);
    const plan = unwrap(planLeg(clip as ClipDescription, finishAndCut));
    const result = await runLeg(plan, {
      sourceRoot: folder,
      outRoot: { root: folder, folder: `out-${ending}` },
      owner: 'test.chapters',
      whole: 'X',
      recorded: async () => null,
      record: async () => undefined,
    });
    expect(result.outputs.flatMap(({ proof }) => proof?.reasons ?? ['no proof'])).toEqual([]);
    // What the first file alone has: AC-3 has no way to say in a transport stream how many samples it puts before.
    const [alone = 0] = await clicksOf(join(folder, names[0] as string));
    const pictureStart = Math.round(
      (48_000 * ((clip as ClipDescription).video?.start.num ?? 0)) / ((clip as ClipDescription).video?.start.den ?? 1),
    );
    for (const { path } of plan.outputs) {
      const clicks = await clicksOf(join(folder, `out-${ending}`, path));
      expect(clicks).toHaveLength(14);
      for (const click of clicks) expect(Math.abs(click - (alone - pictureStart))).toBeLessThanOrEqual(2);
    }
  });
});

describe('a joined copy', () => {
  it('keeps coded sound in step over every joint, begins at nothing, and is told from one that does not', async () => {
    const names = ['p1.mov', 'p2.mov', 'p3.mov'];
    for (const name of names) await paint(name, 49, codings['PCM in mov'] as string[]);
    const proxies = {
      ...finishAndCut,
      deliverables: finishAndCut.deliverables
        .filter(({ role }) => role === 'proxy')
        .map((one) => ({
          ...one,
          wrapper: 'mp4' as const,
          sound: { codec: 'aac' as const, sampleRate: 48_000 as const },
        })),
    };
    const parts = await Promise.all(
      names.map(async (name) => {
        const plan = unwrap(planLeg((await describeFile(join(folder, name), name)) as ClipDescription, proxies));
        const result = await runLeg(plan, {
          sourceRoot: folder,
          outRoot: { root: folder, folder: 'parts' },
          owner: `test.${name}`,
          whole: 'X',
          recorded: async () => null,
          record: async () => undefined,
        });
        expect([result.state, result.outputs[0]?.proof?.reasons ?? result.problem]).toEqual(['proved', []]);
        const output = plan.outputs[0];
        if (!output) throw new Error('no output');
        expect(output.sound.coding?.codec).toBe('aac');
        return { path: output.path, title: name, output };
      }),
    );
    const plan = unwrap(planJoinedCopy(parts, 'reel.mp4'));
    const paths = parts.map(({ path }) => join(folder, 'parts', path));
    const target = join(folder, 'reel.mp4');
    await joinCopies(plan, paths, target);
    // Parts of 49 frames: the clicks of the second begin 1.96 s in, those of the third 3.92 s.
    const wanted = [0, 1, 2]
      .flatMap((part) => [0, 1, 2, 3].map((click) => part * 94_080 + click * 24_000))
      .map((at) => at - 24_000 * Math.round(at / 24_000));
    const found = await clicksOf(target);
    expect(found).toHaveLength(wanted.length);
    found.forEach((click, index) => expect(Math.abs(click - (wanted[index] as number))).toBeLessThanOrEqual(2));
    const made = (await describeFile(target, 'reel.mp4')) as ClipDescription;
    expect(made.video).toMatchObject({ frames: 147, rateConstant: true, start: { num: 0, den: 1 } });
    expect(await unlikeSound(plan, paths, target)).toBeNull();
    // Joined as it is coded, with what AAC puts before and after each part.
    const naive = join(folder, 'naive.mp4');
    const mono = parts[0]?.output.sound.tracks[0]?.channels === 1;
    const ended = await runOwn(ffmpeg, [
      '-v',
      'error',
      '-y',
      ...inputArguments(target),
      '-map',
      '0:v',
      '-map',
      '0:a',
      '-c:v',
      'copy',
      '-af',
      'adelay=15:all=1',
      '-c:a',
      'aac',
      '-b:a',
      mono ? '128k' : '256k',
      naive,
    ]);
    expect(ended.code).toBe(0);
    expect(await unlikeSound(plan, paths, naive)).toMatch(/^the sound of p1\.mov in it: sound in sync/);
  });
});
