import { symlink } from 'node:fs/promises';
import { join } from 'node:path';
import { isRefusal, type ClipDescription } from '@relay/core/clip/description';
import type { ScanMeasure } from '@relay/core/measure/fields';
import { toNumber } from '@relay/core/time/rational';
import { beforeAll, describe, expect, it } from 'vitest';
import { call, ffmpegMakes, scratchFolder } from '../../testing/commands.ts';
import { saltLantern } from '../../testing/demo.ts';
import { describeFile } from '../describe/describe.ts';
import { fieldRuns, lookAtFields } from './fields.ts';
import { lookAtPictures } from './pictures.ts';
import { fewPictures, placesIn } from './places.ts';

let folder: string;
beforeAll(async () => {
  folder = await scratchFolder();
});

async function seenIn(path: string): Promise<ScanMeasure | null> {
  const clip = (await describeFile(path, 'clip')) as ClipDescription;
  if (isRefusal(clip) || !clip.video) throw new Error('not described');
  const places = placesIn([path], [toNumber(clip.video.duration)], toNumber(clip.video.rate));
  return (await lookAtPictures(places, clip.video, clip.wrapperId, join(folder, 'strip.jpg'))).fields;
}

/** What FFmpeg's idet says of most pictures, of its own decision over several. */
async function idet(path: string): Promise<string> {
  const { stderr } = await call('ffmpeg', [
    '-hide_banner',
    '-i',
    path,
    '-vf',
    'idet',
    '-map',
    '0:v',
    '-f',
    'null',
    '-',
  ]);
  const counts = /Multi frame detection: TFF:\s*(\d+) BFF:\s*(\d+) Progressive:\s*(\d+)/
    .exec(stderr)
    ?.slice(1)
    .map(Number) as [number, number, number];
  return ['top-field-first', 'bottom-field-first', 'progressive'][counts.indexOf(Math.max(...counts))] as string;
}

const grain = 'noise=alls=14:allf=t:all_seed=5';

describe('scan seen from fields', () => {
  // Long enough that stretches are sought for, not counted to.
  it.each<[string, string, string, string]>([
    ['fields, top first', 'r=50:d=14', `${grain},tinterlace=4`, 'top-field-first'],
    ['fields, bottom first', 'r=50:d=3', `${grain},tinterlace=5`, 'bottom-field-first'],
    ['whole pictures flagged as fields', 'r=25:d=3', `${grain},setfield=tff`, 'progressive'],
  ])("%s, under grain and MPEG-2, as FFmpeg's idet sees it", async (name, source, filter, seen) => {
    const path = join(folder, `${name.replaceAll(/\W/g, '-')}.mov`);
    await ffmpegMakes(
      '-f',
      'lavfi',
      '-i',
      `testsrc2=s=720x576:${source}`,
      '-vf',
      `${filter},format=yuv422p`,
      '-flags',
      '+ilme+ildct',
      '-c:v',
      'mpeg2video',
      '-b:v',
      '20M',
      path,
    );
    expect(await idet(path)).toBe(seen);
    const found = await seenIn(path);
    expect(found?.seen).toBe(seen);
    expect(found?.confidence).toBeGreaterThan(0.8);
  });

  it.each([
    ['top', 0],
    ['top', 3],
    ['bottom', 2],
    ['bottom', 4],
  ] as const)('2:3 pulldown with the %s field first, from its place %i, through H.264', async (field, phase) => {
    const path = join(folder, `pull-${field}-${phase}.mov`);
    await ffmpegMakes(
      '-f',
      'lavfi',
      '-i',
      'testsrc2=s=720x480:r=24000/1001:d=4',
      '-vf',
      `${grain},telecine=pattern=23:first_field=${field},trim=start_frame=${phase},setpts=PTS-STARTPTS`,
      '-c:v',
      'libx264',
      '-preset',
      'veryfast',
      '-crf',
      '15',
      '-pix_fmt',
      'yuv420p',
      path,
    );
    expect(await seenIn(path)).toMatchObject({ seen: 'pulldown', phase, topFieldFirst: field === 'top' });
  });

  it('of a file swapped for a link: nothing is seen, and FFmpeg says so', async () => {
    const path = join(saltLantern, 'day-1/A001/A001C003.mov');
    const { video } = (await describeFile(path, 'clip')) as ClipDescription;
    if (!video) throw new Error('no picture');
    const swapped = join(folder, 'swapped.mov');
    await symlink(path, swapped);
    const places = placesIn([swapped], [3], toNumber(video.rate));
    // Decoded from end to end, and, as a long one, stretch by stretch beside the pictures.
    for (const frames of [video.frames, fewPictures + 1]) {
      const seen = await lookAtPictures(places, { ...video, frames }, 'mov', join(folder, 'strip.jpg'));
      expect(seen).toMatchObject({ measure: null, fields: null });
      expect(seen.errors).not.toEqual([]);
    }
  });

  it('seen in one decode with the pictures is what is seen stretch by stretch', async () => {
    for (const clip of ['day-1/A001/A001C003.mov', 'day-2/D004/ESSENCE/UNIT01/C0001.MXF']) {
      const path = join(saltLantern, clip);
      const { video } = (await describeFile(path, clip)) as ClipDescription;
      if (!video) throw new Error('no picture');
      expect(video.frames).toBeLessThanOrEqual(fewPictures);
      const runs = fieldRuns(placesIn([path], [toNumber(video.duration)], toNumber(video.rate)), video);
      if (!runs) throw new Error('no stretches');
      const apart = await lookAtFields(path, runs, video);
      expect(apart).not.toBeNull();
      expect(await seenIn(path)).toEqual(apart);
    }
  });

  it("grain over a still is nothing to judge by; the demo's pictures are never called what they are not", async () => {
    const path = join(folder, 'grain.mov');
    await ffmpegMakes(
      '-f',
      'lavfi',
      '-i',
      'color=gray:s=640x360:r=25:d=2',
      '-vf',
      'noise=alls=30:allf=t',
      '-c:v',
      'libx264',
      '-preset',
      'veryfast',
      '-crf',
      '10',
      '-pix_fmt',
      'yuv420p',
      path,
    );
    expect(await seenIn(path)).toMatchObject({ seen: 'still', judged: 0 });
    for (const [clip, truth] of [
      ['day-1/A001/A001C003.mov', 'progressive'],
      ['day-1/C001/C001C012.mov', 'progressive'],
      ['day-2/D004/ESSENCE/UNIT01/C0001.MXF', 'top-field-first'],
      ['day-2/T001/T001C001.ts', 'top-field-first'],
    ] as const) {
      expect(['still', truth], clip).toContain((await seenIn(join(saltLantern, clip)))?.seen);
    }
  });
});
