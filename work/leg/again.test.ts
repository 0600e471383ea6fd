import { access, mkdir, mkdtemp, readdir, readFile, rename, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { ClipDescription } from '@relay/core/clip/description';
import { withPlaces } from '@relay/core/recipe/places';
import { planLeg } from '@relay/core/recipe/plan';
import { finishAndCut, type Recipe } from '@relay/core/recipe/recipe';
import { unwrap } from '@relay/core/result';
import { describeFile } from '@relay/media/describe/describe';
import { ffmpeg } from '@relay/media/process/ffmpeg';
import { runOwn as run } from '@relay/media/process/run';
import { hashFile } from '../disk/hash.ts';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { runLeg } from './leg.ts';
import type { LegResult } from './outcome.ts';
import { openSheet } from './sheet.ts';
import { quickH264 } from '../../testing/commands.ts';

let folder: string;
let out: string;
let clip: ClipDescription;
const proxy = 'proxy/clip.mov';

beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'relay-again-'));
  out = join(folder, 'out');
  await run(ffmpeg, [
    '-v',
    'error',
    '-f',
    'lavfi',
    '-i',
    'testsrc2=s=320x180:r=25:d=1',
    '-f',
    'lavfi',
    '-i',
    'sine=d=1:r=48000',
    ...quickH264,
    '-pix_fmt',
    'yuv420p',
    '-c:a',
    'pcm_s16le',
    join(folder, 'clip.mov'),
  ]);
  clip = (await describeFile(join(folder, 'clip.mov'), 'clip.mov')) as ClipDescription;
});
afterAll(() => rm(folder, { recursive: true, force: true }));

const withQuality = (quality: number): Recipe => ({
  ...finishAndCut,
  deliverables: finishAndCut.deliverables.map((one) =>
    one.role === 'proxy' ? { ...one, codec: { id: 'h264' as const, quality } } : one,
  ),
});
async function again(quality: number, record?: () => Promise<void>): Promise<LegResult> {
  await mkdir(out, { recursive: true });
  const sheet = await openSheet(out);
  return runLeg(unwrap(planLeg(clip, withQuality(quality))), {
    sourceRoot: folder,
    outRoot: out,
    owner: 'test',
    whole: 'X',
    recorded: (path) => sheet.recorded(path),
    record: record ?? ((row) => sheet.record(row)),
  });
}
const there = (result: LegResult): [string, string, boolean][] =>
  result.outputs.map(({ deliverable, state, alreadyThere }) => [deliverable, state, alreadyThere]);

it('a run made again remakes only what changed, under the same name, and sets what was there aside', async () => {
  expect(there(await again(21))).toEqual([
    ['Intermediate', 'proved', false],
    ['Proxy', 'proved', false],
  ]);
  const [first, intermediate] = [await hashFile(join(out, proxy)), await hashFile(join(out, 'intermediate/clip.mov'))];
  expect(there(await again(21))).toEqual([
    ['Intermediate', 'proved', true],
    ['Proxy', 'proved', true],
  ]);

  expect(there(await again(30))).toEqual([
    ['Intermediate', 'proved', true],
    ['Proxy', 'proved', false],
  ]);
  expect(await hashFile(join(out, 'superseded/proxy/clip.1.mov'))).toBe(first);
  expect(await hashFile(join(out, 'intermediate/clip.mov'))).toBe(intermediate);
  const second = await hashFile(join(out, proxy));
  expect(second).not.toBe(first);

  expect(there(await again(35))[1]).toEqual(['Proxy', 'proved', false]);
  expect(await hashFile(join(out, 'superseded/proxy/clip.2.mov'))).toBe(second);
  expect(await hashFile(join(out, 'superseded/proxy/clip.1.mov'))).toBe(first);
  // The sheet knows the one that stands.
  expect(JSON.parse(await readFile(join(out, 'relink.json'), 'utf8'))).toMatchObject({
    rows: [{ output: 'intermediate/clip.mov' }, { output: proxy, outputXxh3: await hashFile(join(out, proxy)) }],
  });
});

it('what is set aside for an output that is then not written down goes back under its name; one whose maker was killed in between is made', async () => {
  const before = await hashFile(join(out, proxy));
  const broken = await again(40, async () => {
    throw Object.assign(new Error('no space left'), { code: 'ENOSPC' });
  });
  expect(broken.outputs.find(({ path }) => path === proxy)).toMatchObject({
    state: 'failed',
    problem: { what: expect.stringMatching(/full|space/i) as string },
  });
  expect(await hashFile(join(out, proxy))).toBe(before);
  await expect(access(join(out, 'superseded/proxy/clip.3.mov'))).rejects.toThrow();
  // Killed after the old file was set aside, before the new one had its name.
  await rename(join(out, proxy), join(out, 'superseded/proxy/clip.3.mov'));
  expect(there(await again(35))[1]).toEqual(['Proxy', 'proved', false]);
  expect(await hashFile(join(out, 'superseded/proxy/clip.3.mov'))).toBe(before);
});

it('what somebody changed, or put there, is never moved', async () => {
  await writeFile(join(out, proxy), "somebody's own");
  const result = await again(21);
  expect(result.outputs.find(({ path }) => path === proxy)).toMatchObject({
    state: 'failed',
    problem: { what: expect.stringContaining(proxy) as string },
  });
  expect(await readFile(join(out, proxy), 'utf8')).toBe("somebody's own");
  await expect(access(join(out, 'superseded/proxy/clip.4.mov'))).rejects.toThrow();
});

it('a leg keeps a log: what ran, and what came of it', async () => {
  const { log } = await again(30);
  expect(log.some((line) => /^\d\d:\d\d:\d\d .*proved/.test(line))).toBe(true);
});

it('an output goes to a place of its own, is found there again, and set aside there; a place nobody knows is said', async () => {
  const place = { store: 'shuttle', folder: 'cut' };
  const [own, elsewhere] = [join(folder, 'own'), join(folder, 'shuttle')];
  await mkdir(join(elsewhere, 'cut'), { recursive: true });
  await mkdir(own, { recursive: true });
  const written: [string, unknown][] = [];
  const placed = async (quality: number, known = true): Promise<LegResult> => {
    const sheets = { own: await openSheet(own), there: await openSheet(join(elsewhere, 'cut')) };
    const recipe = withPlaces(withQuality(quality), { store: 'raid', folder: 'own' }, { proxy: place });
    return runLeg(unwrap(planLeg(clip, recipe)), {
      sourceRoot: folder,
      outRoot: own,
      ...(known ? { elsewhere: ({ folder: below }) => ({ root: elsewhere, folder: below }) } : {}),
      owner: 'test',
      whole: 'X',
      recorded: (path, at) => (at ? sheets.there : sheets.own).recorded(path),
      record: (row, at) => {
        written.push([row.output, at]);
        return (at ? sheets.there : sheets.own).record(row);
      },
    });
  };
  expect(there(await placed(21))).toEqual([
    ['Intermediate', 'proved', false],
    ['Proxy', 'proved', false],
  ]);
  expect(written.sort()).toEqual([
    ['intermediate/clip.mov', undefined],
    [proxy, place],
  ]);
  expect(await readdir(own)).toEqual(['intermediate', 'relink.csv', 'relink.json']);
  expect(await readdir(join(elsewhere, 'cut'))).toEqual(['proxy', 'relink.csv', 'relink.json']);
  // The same plan, found again where it lies; another is made there, and what was there set aside beside it.
  expect(there(await placed(21)).map(([, , again]) => again)).toEqual([true, true]);
  expect(there(await placed(30)).map(([, , again]) => again)).toEqual([true, false]);
  expect(await readdir(join(elsewhere, 'cut/superseded/proxy'))).toEqual(['clip.1.mov']);
  const lost = await placed(30, false);
  expect([lost.state, lost.problem?.what]).toEqual(['failed', expect.stringContaining('shuttle is not known here')]);
});
