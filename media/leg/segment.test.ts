import { join } from 'node:path';
import { isRefusal, type ClipDescription } from '@relay/core/clip/description';
import type { LegPlan } from '@relay/core/recipe/legPlan';
import { planLeg } from '@relay/core/recipe/plan';
import { finishAndCut, type Deliverable, type VideoCodec } from '@relay/core/recipe/recipe';
import { canBeCut, cutInto } from '@relay/core/recipe/segments';
import { unwrap } from '@relay/core/result';
import { expect, it } from 'vitest';
import { call, scratchFolder } from '../../testing/commands.ts';
import { saltLantern } from '../../testing/demo.ts';
import { describeFile } from '../describe/describe.ts';
import { inputArguments } from '../process/ffmpeg.ts';
import { performLeg } from './perform.ts';
import { frameSums, joinSegments, makeSegment, readFrameSums } from './segment.ts';

const finish = finishAndCut.deliverables[0] as Deliverable;

/** An output of a few samples in each codec that may be cut. */
const each: readonly VideoCodec[] = [
  { id: 'prores', profile: 'hq' },
  { id: 'vc3', profile: 'sq' },
  { id: 'vc3hd', grade: 'high' },
  { id: 'vc5', quality: 'medium' },
  { id: 'mjpeg', quality: 4 },
  { id: 'v210' },
];

/** Within a square; VC-3's rates are for rasters of its own, the others are as well at smaller ones. */
function within(edge: number): Deliverable['raster'] {
  return { kind: 'fit', width: edge, height: edge, enlarge: true };
}

function planOf(clip: ClipDescription, codecs: readonly VideoCodec[], width: number): LegPlan {
  const plan = unwrap(
    planLeg(clip, {
      ...finishAndCut,
      deliverables: codecs.map((codec) => ({
        ...finish,
        name: codec.id,
        folder: codec.id,
        codec,
        raster: within(codec.id === 'vc3hd' ? 1_280 : width),
      })),
    }),
  );
  expect(canBeCut(plan)).toBe(true);
  return plan;
}

/** A digest of each decoded frame and each packet of sound, and what the file says of itself. */
async function contentOf(path: string): Promise<string[]> {
  const frames = (
    await call('ffmpeg', ['-v', 'error', '-i', path, '-map', '0:v', '-map', '0:a?', '-f', 'framemd5', '-'])
  ).stdout
    .split('\n')
    .filter((line) => !line.startsWith('#'));
  const says = (
    await call('ffprobe', [
      '-v',
      'error',
      '-show_entries',
      'stream_tags=timecode,reel_name:stream=codec_name,profile,codec_tag_string,r_frame_rate,nb_frames,pix_fmt,color_range,color_space,color_transfer,color_primaries,field_order,sample_aspect_ratio',
      '-of',
      'csv',
      path,
    ])
  ).stdout;
  return [...frames, says];
}

/**
 * Makes a clip's outputs whole and in four segments; every frame taken once and in order, and the same content in the
 * end.
 */
async function holdBoth(
  source: string,
  name: string,
  codecs: readonly VideoCodec[],
  width: number,
): Promise<ClipDescription> {
  const folder = await scratchFolder();
  const clip = await describeFile(source, name);
  if (isRefusal(clip)) throw new Error(clip.problem.what);
  const plan = planOf(clip, codecs, width);
  const files = { clip, paths: [source] };
  const tunings = codecs.map(({ id }) => (id === 'prores' ? { quantiser: 6 } : {}));
  const places = (mark: string): string[] => codecs.map(({ id }) => join(folder, `${mark}-${id}.mov`));
  expect(await performLeg({ plan, source: files, tunings }, places('whole'))).toMatchObject({
    outcome: 'done',
    errors: [],
  });

  const segments = cutInto(clip.video?.frames ?? 0, 4);
  const taken: string[] = [];
  for (const [index, segment] of segments.entries()) {
    let told = 0;
    expect(
      await makeSegment(
        { plan, source: files, tunings },
        segment,
        places(`part${index}`),
        join(folder, `sums${index}`),
        {
          onFrames: (done) => {
            told = done;
          },
        },
      ),
    ).toMatchObject({ outcome: 'done', errors: [] });
    expect(told).toBe(segment.frames);
    taken.push(...(await readFrameSums(join(folder, `sums${index}`))));
  }
  await call('ffmpeg', ['-v', 'error', ...inputArguments(source), ...frameSums(join(folder, 'all'))]);
  expect(taken).toHaveLength(clip.video?.frames ?? 0);
  expect(taken).toEqual(await readFrameSums(join(folder, 'all')));
  expect(
    await joinSegments(
      { plan, source: files },
      segments,
      segments.map((_, index) => places(`part${index}`)),
      places('joined'),
    ),
  ).toMatchObject({ outcome: 'done', errors: [] });
  for (const [index, path] of places('joined').entries())
    expect(await contentOf(path), codecs[index]?.id).toEqual(await contentOf(places('whole')[index] as string));
  return clip;
}

it('segments, joined, are what one command makes, in every codec that may be cut', async () => {
  await holdBoth(join(saltLantern, 'day-1/A001/A001C003.mov'), 'A001C003.mov', each, 640);
});

it('they are of HEVC at UHD too', async () => {
  await holdBoth(join(saltLantern, 'day-1/B001/B001C001.mp4'), 'B001C001.mp4', each.slice(0, 1), 640);
});

it('and where the pictures begin after the sound', async () => {
  const folder = await scratchFolder();
  const late = join(folder, 'late.mov');
  await call('ffmpeg', [
    '-v',
    'error',
    '-itsoffset',
    '0.46',
    '-i',
    join(saltLantern, 'day-1/A001/A001C003.mov'),
    '-i',
    join(saltLantern, 'day-1/A001/A001C003.mov'),
    '-map',
    '0:v',
    '-map',
    '1:a:0',
    '-c',
    'copy',
    late,
  ]);
  const clip = await holdBoth(late, 'late.mov', each.slice(0, 1), 640);
  expect(clip.video?.start.num).toBeGreaterThan(0);
});
