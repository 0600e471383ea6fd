import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { ClipDescription } from '@relay/core/clip/description';
import { planLeg } from '@relay/core/recipe/plan';
import { finishAndCut, type Deliverable } from '@relay/core/recipe/recipe';
import { unwrap } from '@relay/core/result';
import { proResCeiling, proResTargetFrameBytes } from '@relay/core/size/prores';
import { describeFile } from '@relay/media/describe/describe';
import { ffmpeg } from '@relay/media/process/ffmpeg';
import { runOwn } from '@relay/media/process/run';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { forecastLeg } from './forecast.ts';
import { runLeg } from './leg.ts';

let folder: string;
beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'relay-sizes-'));
});
afterAll(() => rm(folder, { recursive: true, force: true }));

const [intermediate, proxy] = finishAndCut.deliverables as [Deliverable, Deliverable];
const as = (
  name: string,
  codec: Deliverable['codec'],
  wrapper: Deliverable['wrapper'],
  more: Partial<Deliverable> = {},
): Deliverable => ({ ...intermediate, name, folder: name, codec, wrapper, ...more });
const deliverables = [
  intermediate,
  proxy,
  as('hevc', { id: 'hevc', quality: 24 }, 'mov'),
  as('mjpeg', { id: 'mjpeg', quality: 4 }, 'mov'),
  as('ffv1', { id: 'ffv1', sampling: '4:2:0 8' }, 'mkv'),
  {
    ...proxy,
    name: 'review',
    folder: 'review',
    wrapper: 'mp4' as const,
    sound: { codec: 'aac' as const, sampleRate: 48_000 as const, bitsPerSecond: 96_000 },
  },
];

describe('what short clips will take', () => {
  // Flat pictures weigh so little that wrapper and sound decide; of pictures that change, places say little.
  it.each([
    ['flat', 'color=c=gray:s=480x270:r=25'],
    ['busy', 'testsrc2=s=480x270:r=25'],
    ['changing', "testsrc2=s=480x270:r=25,noise=alls=25:allf=t:enable='gt(t\\,0.9)'"],
  ])('lies in the range that was said, if they are %s', async (name, picture) => {
    const made = await runOwn(ffmpeg, [
      ...['-v', 'error', '-y', '-f', 'lavfi', '-i', picture, '-f', 'lavfi', '-i', 'sine=r=48000', '-t', '1.4'],
      ...['-c:v', 'libx264', '-preset', 'ultrafast', '-crf', '12', '-pix_fmt', 'yuv420p', '-c:a', 'pcm_s16le'],
      join(folder, `${name}.mov`),
    ]);
    expect(made.stderr).toBe('');
    const clip = (await describeFile(join(folder, `${name}.mov`), `${name}.mov`)) as ClipDescription;
    const plan = unwrap(planLeg(clip, { ...finishAndCut, deliverables }));
    const said = await forecastLeg(plan, { clip, paths: [join(folder, `${name}.mov`)] }, async () => null);
    const result = await runLeg(plan, {
      sourceRoot: folder,
      outRoot: { root: folder, folder: `out-${name}` },
      owner: 'test.sizes',
      whole: 'X',
      recorded: async () => null,
      record: async () => undefined,
    });
    expect(result.state).toBe('proved');
    const off = result.outputs.flatMap(({ path, sizeBytes }, index) => {
      const { least, most } = said.outputs[index]?.bytes ?? { least: 0, most: 0 };
      return sizeBytes !== null && least <= sizeBytes && sizeBytes <= most && most < sizeBytes * 2.2
        ? []
        : [[path, least, sizeBytes, most]];
    });
    expect(off).toEqual([]);
  });
});

it("ProRes of white noise keeps to its profile's rate: under its ceiling, and not far under (SMPTE RDD 36)", async () => {
  const made = await runOwn(ffmpeg, [
    ...['-v', 'error', '-y', '-f', 'lavfi', '-i', 'color=c=gray:s=640x360:r=25:d=0.6,noise=alls=60:allf=t'],
    ...['-c:v', 'ffv1', '-pix_fmt', 'yuv422p10le', join(folder, 'noise.mkv')],
  ]);
  expect(made.stderr).toBe('');
  const clip = (await describeFile(join(folder, 'noise.mkv'), 'noise.mkv')) as ClipDescription;
  const profiles = ['proxy', '422', 'hq', '4444'] as const;
  const wanted = profiles.map((profile) => ({
    ...as(profile, { id: 'prores', profile }, 'mov'),
    raster: { kind: 'source' as const },
  }));
  const result = await runLeg(unwrap(planLeg(clip, { ...finishAndCut, deliverables: wanted })), {
    sourceRoot: folder,
    outRoot: { root: folder, folder: 'noise' },
    owner: 'test.sizes',
    whole: 'X',
    recorded: async () => null,
    record: async () => undefined,
  });
  expect(result.state).toBe('proved');
  profiles.forEach((profile, index) => {
    const target = proResTargetFrameBytes(profile, { width: 640, height: 360 }) * 15;
    const share = (result.outputs[index]?.sizeBytes ?? 0) / (target * proResCeiling);
    expect([profile, share > 0.8 && share < 1.02]).toEqual([profile, true]);
  });
});
