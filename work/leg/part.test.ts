import { existsSync } from 'node:fs';
import { rm, truncate } from 'node:fs/promises';
import { join } from 'node:path';
import type { ClipDescription } from '@relay/core/clip/description';
import type { ClipCorrections } from '@relay/core/corrections/corrections';
import type { Span } from '@relay/core/cut/cut';
import type { OutputPlan } from '@relay/core/recipe/legPlan';
import { planLeg } from '@relay/core/recipe/plan';
import { finishAndCut, type Recipe } from '@relay/core/recipe/recipe';
import type { RelinkRow } from '@relay/core/relink/sheet';
import { unwrap } from '@relay/core/result';
import { shownBy } from '@relay/core/time/frameMap';
import { rational, toNumber } from '@relay/core/time/rational';
import { describeFile } from '@relay/media/describe/describe';
import { beforeAll, describe, expect, it } from 'vitest';
import { ffmpegMakes, scratchFolder } from '../../testing/commands.ts';
import { saltLantern } from '../../testing/demo.ts';
import { paintedClip } from '../../testing/paintedClip.ts';
import { slates } from '../../testing/slates.ts';
import { partOfFiles } from '../cut/part.ts';
import { runLeg } from './leg.ts';
import type { LegResult } from './outcome.ts';

/** Light outputs: what is proved here are frames and sound, not codecs. */
const proxies: Recipe = {
  ...finishAndCut,
  deliverables: finishAndCut.deliverables.filter(({ role }) => role === 'proxy'),
};

interface Made {
  part: ClipDescription;
  output: OutputPlan;
  result: LegResult;
  row: RelinkRow;
  /** Frames of the whole original that the output's pictures show, read off their slates. */
  shown: number[];
}

async function made(path: string, span: Span, corrections: ClipCorrections = {}, source = saltLantern): Promise<Made> {
  const clip = (await describeFile(join(source, path), path)) as ClipDescription;
  const part = unwrap(await partOfFiles(source, clip, span));
  const plan = unwrap(planLeg(part, proxies, corrections));
  const [output] = plan.outputs as [OutputPlan];
  const folder = await scratchFolder();
  const rows: RelinkRow[] = [];
  const result = await runLeg(plan, {
    sourceRoot: source,
    outRoot: { root: folder, folder: 'out' },
    owner: 'test.part',
    whole: 'salt-lantern',
    recorded: async () => null,
    record: async (row) => {
      rows.push(row);
    },
  });
  const [row] = rows as [RelinkRow];
  const { width, height } = output.video.raster;
  const file = join(folder, 'out', output.path);
  const shown = existsSync(file) ? await slates(file, width, height, 16 / 9) : [];
  return { part, output, result, row, shown };
}

const counted = ({ from, to }: Span): number[] => Array.from({ length: to - from }, (_, index) => from + index);

it.each([
  ['day-1/A001/A001C003.mov', { from: 17, to: 49 }],
  ['day-1/B001/B001C001.mp4', { from: 5, to: 33 }],
  ['day-2/T001/T001C001.ts', { from: 21, to: 22 }],
  ['day-2/D004/ESSENCE/UNIT01/C0001.MXF', { from: 12, to: 30 }],
] as const)('a part of %s shows just its frames, is proved, and says where it is from', async (path, span) => {
  const { part, output, result, row, shown } = await made(path, span);
  expect(result.outputs.flatMap(({ proof }) => proof?.reasons ?? ['no proof'])).toEqual([]);
  expect(result.state).toBe('proved');
  expect(shown).toEqual(counted(span));
  expect(row).toMatchObject({ originalFrom: span.from, frames: span.to - span.from, frameMap: 'every' });
  expect(row.startTimecode).toBe(part.timecode?.start ?? '');
  expect(output.sound.samples).toBe(
    Math.round(((span.to - span.from) * 48_000) / toNumber(part.video?.rate ?? rational(25))),
  );
});

it('a part that is conformed shows what its map says, counted from its first frame', async () => {
  const span = { from: 11, to: 41 };
  const time = { kind: 'resample', rate: rational(30), how: 'hold', timecode: 'recounted' } as const;
  const { part, output, result, shown } = await made('day-1/A001/A001C003.mov', span, { time });
  expect(result.state).toBe('proved');
  const { map, frames } = output.video;
  expect(shown).toEqual(
    counted({ from: 0, to: frames }).map((n) => span.from + shownBy(map, n, part.video?.frames ?? 0).frame),
  );
});

it('a part of a clip whose rate varies begins and ends with its frames', async () => {
  const span = { from: 20, to: 47 };
  const { result, shown } = await made('day-2/P000/P000_0007.mp4', span);
  expect(result.outputs.flatMap(({ proof }) => proof?.reasons ?? ['no proof'])).toEqual([]);
  expect(result.state).toBe('proved');
  expect([shown[0], shown.at(-1)]).toEqual([span.from, span.to - 1]);
  expect(shown.every((frame, index) => index === 0 || frame >= (shown[index - 1] ?? 0))).toBe(true);
});

describe('a part of an original that is cut short', () => {
  const name = 'S009C001.mov';
  let folder: string;
  let frames: number;
  beforeAll(async () => {
    folder = await scratchFolder();
    const clip = await paintedClip(name, folder, { frames: 60 });
    // Its index first, so that it says of pictures that they are there which are not.
    await ffmpegMakes('-i', join(folder, name), '-c', 'copy', '-movflags', '+faststart', join(folder, 'short.mov'));
    await truncate(join(folder, 'short.mov'), Math.floor(clip.sizeBytes * 0.6));
    const short = (await describeFile(join(folder, 'short.mov'), 'short.mov')) as ClipDescription;
    expect(short.cutShort).not.toBeNull();
    frames = short.video?.frames ?? 0;
  });

  it('is whole before that, and proved', async () => {
    const { result, shown } = await made('short.mov', { from: 4, to: 20 }, {}, folder);
    expect(result.outputs.flatMap(({ proof }) => proof?.reasons ?? ['no proof'])).toEqual([]);
    expect(result.state).toBe('proved');
    expect(shown).toEqual(counted({ from: 4, to: 20 }));
  });

  it('wants eyes where it ends within, and shows what there is', async () => {
    const { result, shown, row } = await made('short.mov', { from: 10, to: frames }, {}, folder);
    expect(result.state).toBe('needs eyes');
    expect(result.problem?.what).toContain('short.mov');
    // What belongs before the very last of coded pictures may be missing.
    const surely = shown.slice(0, -4);
    expect(surely).toEqual(counted({ from: 10, to: 10 + surely.length }));
    expect(shown.length).toBeGreaterThan(10);
    expect(row.originalFrom).toBe(10);
  });
});

it('a part of an original that is gone, or another by now, is not made', async () => {
  const folder = await scratchFolder();
  const name = 'S009C001.mov';
  const clip = await paintedClip(name, folder, { frames: 30 });
  const plan = unwrap(planLeg(unwrap(await partOfFiles(folder, clip, { from: 4, to: 20 })), proxies));
  const run = () =>
    runLeg(plan, {
      sourceRoot: folder,
      outRoot: { root: folder, folder: 'out' },
      owner: 'test.gone',
      whole: 'S009',
      recorded: async () => null,
      record: async () => undefined,
    });
  await truncate(join(folder, name), 1_000);
  expect(await run()).toMatchObject({ state: 'failed', problem: { kind: 'original changed' } });
  await rm(join(folder, name));
  expect(await run()).toMatchObject({ state: 'failed', problem: { kind: 'original gone' } });
});
