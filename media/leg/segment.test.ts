import { join } from 'node:path';
import { isRefusal } from '@relay/core/clip/description';
import { planLeg } from '@relay/core/recipe/plan';
import { finishAndCut, type Deliverable, type Recipe } from '@relay/core/recipe/recipe';
import { cutInto } from '@relay/core/recipe/segments';
import { unwrap } from '@relay/core/result';
import { expect, it } from 'vitest';
import { call, scratchFolder } from '../../testing/commands.ts';
import { saltLantern } from '../../testing/demo.ts';
import { describeFile } from '../describe/describe.ts';
import { performLeg } from './perform.ts';
import { frameSums, joinSegments, makeSegment, readFrameSums } from './segment.ts';
import { inputArguments } from '../process/ffmpeg.ts';

const finish = finishAndCut.deliverables[0] as Deliverable;
const recipe: Recipe = { ...finishAndCut, deliverables: [finish, { ...finish, name: 'Small', folder: 'small', codec: { id: 'vc3', profile: 'sq' }, raster: { kind: 'fit', width: 640, height: 360 } }] };

/** A digest of each decoded frame and each packet of sound, and the start timecode. */
async function contentOf(path: string): Promise<string[]> {
  const frames = (await call('ffmpeg', ['-v', 'error', '-i', path, '-map', '0:v', '-map', '0:a', '-f', 'framemd5', '-'])).stdout.split('\n').filter((line) => !line.startsWith('#'));
  const timecode = (await call('ffprobe', ['-v', 'error', '-show_entries', 'stream_tags=timecode,reel_name:stream=codec_tag_string,r_frame_rate,nb_frames,color_space,field_order,sample_aspect_ratio', '-of', 'csv', path])).stdout;
  return [...frames, timecode];
}

// Long groups of pictures from H.264, and one with an offset between picture and sound.
it.each(['day-1/A001/A001C003.mov', 'day-1/B001/B001C001.mp4'])('segments of %s, joined, are what one command makes', async (path) => {
  const folder = await scratchFolder();
  const source = join(saltLantern, path);
  const clip = await describeFile(source, path);
  if (isRefusal(clip)) throw new Error(clip.problem.what);
  const plan = unwrap(planLeg(clip, recipe));
  const files = { clip, paths: [source] };
  const tunings = [{ quantiser: 6 }, {}];
  const whole = ['a.mov', 'b.mov'].map((name) => join(folder, name));
  expect(await performLeg(plan, files, whole, tunings, () => undefined)).toMatchObject({ outcome: 'done', errors: [] });

  const segments = cutInto(clip.video?.frames ?? 0, 4);
  const parts: string[][] = [];
  const taken: string[] = [];
  for (const [index, segment] of segments.entries()) {
    const targets = [`${index}a.mov`, `${index}b.mov`].map((name) => join(folder, name));
    let told = 0;
    expect(await makeSegment(plan, files, segment, targets, join(folder, `sums${index}`), tunings, (done) => { told = done; })).toMatchObject({ outcome: 'done', errors: [] });
    expect(told).toBe(segment.frames);
    parts.push(targets);
    taken.push(...(await readFrameSums(join(folder, `sums${index}`))));
  }
  await call('ffmpeg', ['-v', 'error', ...inputArguments(source), ...frameSums(join(folder, 'all'))]);
  expect(taken).toEqual(await readFrameSums(join(folder, 'all')));
  const joined = ['joined-a.mov', 'joined-b.mov'].map((name) => join(folder, name));
  expect(await joinSegments(plan, files, segments, parts, joined)).toMatchObject({ outcome: 'done', errors: [] });
  for (const [index, path] of joined.entries()) expect(await contentOf(path)).toEqual(await contentOf(whole[index] as string));
}, 180_000);
