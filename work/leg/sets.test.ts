import { mkdir, mkdtemp, readdir, readFile, rename, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { ClipDescription } from '@relay/core/clip/description';
import type { Chain } from '@relay/core/colour/chain/chain';
import type { LegPlan } from '@relay/core/recipe/legPlan';
import { planLeg } from '@relay/core/recipe/plan';
import { finishAndCut, type Deliverable } from '@relay/core/recipe/recipe';
import { viewingLayout } from '@relay/core/burn/layout';
import { estimateOutput } from '@relay/core/size/estimate';
import type { RelinkRow } from '@relay/core/relink/sheet';
import { unwrap } from '@relay/core/result';
import { describeFile } from '@relay/media/describe/describe';
import { describeOutput } from '@relay/media/describe/output';
import { materialOf } from '@relay/media/leg/material';
import { ffmpeg, ffprobe } from '@relay/media/process/ffmpeg';
import { runOwn as run } from '@relay/media/process/run';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { discardAbandoned } from '../disk/place.ts';
import { runLeg } from './leg.ts';
import type { LegResult, RecordedOutput } from './outcome.ts';

let folder: string;
let clip: ClipDescription;
const name = 'A001C001 50% odd.mov';

beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'relay-sets-'));
  const ended = await run(ffmpeg, [
    '-v',
    'error',
    '-f',
    'lavfi',
    '-i',
    'testsrc2=s=320x192:r=24000/1001:d=1',
    '-f',
    'lavfi',
    '-i',
    'aevalsrc=0.5*sin(2*PI*300*t)|0.4*sin(2*PI*700*t):c=stereo:s=48000:d=1.1',
    '-f',
    'lavfi',
    '-i',
    'aevalsrc=0.3*sin(2*PI*1100*t):s=48000:d=1.1',
    '-map',
    '0',
    '-map',
    '1',
    '-map',
    '2',
    '-c:v',
    'prores_ks',
    '-pix_fmt',
    'yuv422p10le',
    '-q:v',
    '4',
    '-color_primaries',
    'bt709',
    '-color_trc',
    'bt709',
    '-colorspace',
    'bt709',
    '-c:a',
    'pcm_s24le',
    '-timecode',
    '01:00:00:12',
    '-metadata:s:v:0',
    'reel_name=A001',
    join(folder, name),
  ]);
  if (ended.code !== 0) throw new Error(ended.stderr);
  clip = (await describeFile(join(folder, name), name)) as ClipDescription;
});
afterAll(() => rm(folder, { recursive: true, force: true }));

const base: Deliverable = {
  name: 'Set',
  role: 'intermediate',
  folder: 'set',
  wrapper: 'opatom',
  codec: { id: 'vc3', profile: 'hqx' },
  raster: { kind: 'source' },
  interlaced: 'deinterlace',
  sound: { codec: 'pcm', sampleRate: 48_000 },
};
const images: Partial<Deliverable> = { wrapper: 'pictures', codec: { id: 'pictures', format: 'dpx' } };

function planOf(changes: Partial<Deliverable>, colour?: Chain): LegPlan {
  return unwrap(planLeg(clip, { ...finishAndCut, deliverables: [{ ...base, ...changes }] }, colour ? { colour } : {}));
}

async function made(
  plan: LegPlan,
  into: string,
  more: { recorded?: RecordedOutput | null; lutText?: () => Promise<{ text: string; fileName: string }> } = {},
): Promise<{ result: LegResult; rows: RelinkRow[]; at: string }> {
  const rows: RelinkRow[] = [];
  const result = await runLeg(plan, {
    sourceRoot: folder,
    outRoot: { root: folder, folder: into },
    owner: `test.${into}`,
    whole: 'X',
    recorded: async () => more.recorded ?? null,
    record: async (row) => {
      rows.push(row);
    },
    ...(more.lutText ? { lutText: more.lutText } : {}),
  });
  return { result, rows, at: join(folder, into, plan.outputs[0]?.path ?? '') };
}
const comparison = (result: LegResult, wanted: string): unknown =>
  result.outputs[0]?.proof?.comparisons.find((one) => one.name === wanted);

describe('OP-Atom: a folder with a file for each track', () => {
  it('is made whole, each channel a file, all of one clip with reel and timecode, and found again', async () => {
    const plan = planOf({});
    const { result, rows, at } = await made(plan, 'atom');
    expect(result.outputs.map(({ state, problem, proof }) => [state, problem, proof?.reasons])).toEqual([
      ['proved', null, []],
    ]);
    const stem = 'A001C001 50% odd';
    expect((await readdir(at)).sort()).toEqual([
      `${stem}_A1.mxf`,
      `${stem}_A2.mxf`,
      `${stem}_A3.mxf`,
      `${stem}_V1.mxf`,
    ]);
    expect((await readdir(join(folder, 'atom/set'))).filter((one) => one.startsWith('.'))).toEqual([]);
    const materials = await Promise.all(
      (await readdir(at)).map(async (file) => (await materialOf(join(at, file)))?.toString('hex')),
    );
    expect(new Set(materials).size).toBe(1);
    // Read by FFmpeg's own prober, file by file: what another program would be told.
    for (const file of await readdir(at)) {
      const probed = await run(ffprobe, [
        '-v',
        'error',
        '-show_entries',
        'format_tags=timecode,operational_pattern_ul:stream=codec_name,channels:stream_tags=reel_name',
        '-of',
        'json',
        `file:${join(at, file)}`,
      ]);
      const { format, streams } = JSON.parse(probed.stdout) as {
        format: { tags: Record<string, string> };
        streams: { channels?: number; tags: Record<string, string> }[];
      };
      expect([
        file,
        format.tags.timecode,
        streams.length,
        streams[0]?.tags.reel_name,
        format.tags.operational_pattern_ul?.replaceAll('.', '').slice(24, 26),
      ]).toEqual([file, '01:00:00:12', 1, 'A001', '10']);
    }
    const recorded: RecordedOutput = {
      xxh3: rows[0]?.outputXxh3 ?? '',
      state: 'proved',
      planMark: rows[0]?.planMark ?? null,
    };
    expect((await made(plan, 'atom', { recorded })).result.outputs[0]).toMatchObject({
      state: 'proved',
      alreadyThere: true,
      sizeBytes: rows[0]?.outputBytes,
    });
  });

  it('a file that is cut, gone, of another clip or too many is seen', async () => {
    const plan = planOf({});
    const { at } = await made(plan, 'atom-broken');
    const output = plan.outputs[0] as LegPlan['outputs'][0];
    const whole = await describeOutput(output, at);
    expect(whole).toMatchObject({ audio: { length: 3 }, timecode: { start: '01:00:00:12' }, reel: 'A001' });
    const [a1, v1] = [join(at, 'A001C001 50% odd_A1.mxf'), join(at, 'A001C001 50% odd_V1.mxf')];
    const bytes = await readFile(a1);
    await writeFile(join(at, 'stray.mxf'), bytes);
    expect(await describeOutput(output, at)).toMatchObject({
      problem: { what: expect.stringContaining('stray.mxf does not belong') as string },
    });
    await rm(join(at, 'stray.mxf'));
    const material = (await materialOf(a1)) as Buffer;
    const other = Buffer.from(bytes);
    for (let place = other.indexOf(material); place >= 0; place = other.indexOf(material, place + 1))
      other[place + 20] = (other[place + 20] as number) ^ 255;
    await writeFile(a1, other);
    expect(await describeOutput(output, at)).toMatchObject({
      problem: { what: expect.stringContaining('do not belong to one clip') as string },
    });
    await rm(v1);
    expect(await describeOutput(output, at)).toHaveProperty('problem');
  });
});

describe('images: a folder with a file for each picture', () => {
  it('are numbered by timecode, with a Broadcast Wave beside them that says when it begins', async () => {
    const { result, at } = await made(planOf(images), 'dpx');
    expect(result.outputs.map(({ state, problem, proof }) => [state, problem, proof?.reasons])).toEqual([
      ['proved', null, []],
    ]);
    const names = (await readdir(at)).sort();
    // 01:00:00:12 at 23.976 is frame 3600 × 24 + 12.
    expect(names).toEqual([
      ...Array.from({ length: 24 }, (_, n) => `A001C001 50% odd.${String(86_412 + n).padStart(8, '0')}.dpx`),
      'A001C001 50% odd.wav',
    ]);
    // Samples since midnight: 86412 frames of 1001/24000 s at 48 kHz.
    const probed = await run(ffprobe, [
      '-v',
      'error',
      '-show_entries',
      'format_tags:stream=channels',
      '-of',
      'json',
      `file:${join(at, 'A001C001 50% odd.wav')}`,
    ]);
    expect(JSON.parse(probed.stdout)).toMatchObject({
      format: { tags: { time_reference: String((86_412 * 1001 * 48_000) / 24_000) } },
      streams: [{ channels: 3 }],
    });
    expect(comparison(result, 'start timecode')).toMatchObject({ found: '01:00:00:12', holds: true });
  });

  it.each(['dpx', 'tiff', 'png', 'exr'] as const)(
    '%s holds the chain and the burn-in that it was asked for',
    async (format) => {
      const rows: string[] = [];
      for (let n = 0; n < 8; n += 1)
        rows.push([n & 1, (n >> 1) & 1, n >> 2].map((x) => (0.1 + 0.7 * x).toFixed(3)).join(' '));
      const chain: Chain = {
        input: 'bt709',
        output: 'bt709',
        rendering: null,
        steps: [{ kind: 'lut', id: 'dim', name: 'Dim', lut: 'dim.cube', takes: 'bt709', gives: 'bt709' }],
      } as Chain;
      const lutText = async (): Promise<{ text: string; fileName: string }> => ({
        text: `LUT_3D_SIZE 2\n${rows.join('\n')}\n`,
        fileName: 'dim.cube',
      });
      const plan = planOf(
        { ...images, codec: { id: 'pictures', format }, colour: { kind: 'baked' }, burn: viewingLayout },
        chain,
      );
      const { result } = await made(plan, `chain-${format}`, { lutText });
      expect(result.outputs.map(({ state, problem, proof }) => [state, problem, proof?.reasons])).toEqual([
        ['proved', null, []],
      ]);
      const [output] = plan.outputs as [LegPlan['outputs'][number]];
      if (format === 'dpx' || format === 'tiff')
        expect(estimateOutput(output)).toEqual({
          known: 'exact',
          bytes: {
            least: result.outputs[0]?.sizeBytes,
            likely: result.outputs[0]?.sizeBytes,
            most: result.outputs[0]?.sizeBytes,
          },
        });
      expect(comparison(result, 'colour by the chain')).toMatchObject({
        planned: `mean error under 1 of ${format === 'dpx' ? 1023 : 4095}`,
        holds: true,
      });
    },
  );

  it('a gap, a stray file and an emptied folder are seen', async () => {
    const plan = planOf(images);
    const { at } = await made(plan, 'gaps');
    const output = plan.outputs[0] as LegPlan['outputs'][0];
    await rm(join(at, 'A001C001 50% odd.00086420.dpx'));
    expect(await describeOutput(output, at)).toMatchObject({
      problem: { what: expect.stringContaining('image 86420 is missing') as string },
    });
    await writeFile(join(at, 'notes.txt'), '');
    expect(await describeOutput(output, at)).toMatchObject({
      problem: { what: expect.stringContaining('something lies among its images') as string },
    });
  });

  it("somebody's folder under the same name is left as it is, and what a killed run left is cleared", async () => {
    const plan = planOf(images);
    const at = join(folder, 'taken', plan.outputs[0]?.path ?? '');
    await mkdir(at, { recursive: true });
    await writeFile(join(at, 'mine.txt'), 'mine');
    const { result } = await made(plan, 'taken');
    expect(result.outputs[0]).toMatchObject({
      state: 'failed',
      problem: { what: expect.stringContaining('is there already') as string },
    });
    expect(await readdir(at)).toEqual(['mine.txt']);
    const left = join(folder, 'taken/set/.relay-part-gone.1-abcd');
    await rename(at, left);
    await discardAbandoned(join(folder, 'taken'), (owner) => owner === 'gone.1');
    expect(await readdir(join(folder, 'taken/set'))).toEqual([]);
  });
});

describe('sound alone', () => {
  it("is one file of all channels at the picture's length; a mute clip has none, and makes the rest", async () => {
    const sound: Partial<Deliverable> = { name: 'Sound', folder: 'sound', wrapper: 'wav', codec: { id: 'none' } };
    const { result, at } = await made(planOf(sound), 'wav');
    expect(result.outputs.map(({ state, problem, proof }) => [state, problem, proof?.reasons])).toEqual([
      ['proved', null, []],
    ]);
    expect(at.endsWith('.wav')).toBe(true);
    // A second of 23.976 in 24 frames is 48048 samples of 3 channels of 24 bits.
    expect(result.outputs[0]?.sizeBytes).toBeGreaterThan(48_048 * 9);
    expect(comparison(result, 'first sample since midnight')).toMatchObject({ found: '172996824', holds: true });
    const mute = { ...clip, audio: [] };
    const both = unwrap(planLeg(mute, { ...finishAndCut, deliverables: [base, { ...base, ...sound }] }));
    expect(both.outputs.map(({ deliverable }) => deliverable)).toEqual(['Set']);
    expect(planLeg(mute, { ...finishAndCut, deliverables: [{ ...base, ...sound }] })).toMatchObject({
      ok: false,
      problem: { what: expect.stringContaining('has no sound') as string },
    });
  });
});
