import { mkdtemp, readdir, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { ClipDescription } from '@relay/core/clip/description';
import type { ClipCorrections } from '@relay/core/corrections/corrections';
import type { LegPlan } from '@relay/core/recipe/legPlan';
import { planLeg } from '@relay/core/recipe/plan';
import { finishAndCut, type Recipe } from '@relay/core/recipe/recipe';
import type { RelinkRow } from '@relay/core/relink/sheet';
import { unwrap } from '@relay/core/result';
import { shownBy } from '@relay/core/time/frameMap';
import { rational } from '@relay/core/time/rational';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { paintedClip } from '../../testing/paintedClip.ts';
import { slates } from '../../testing/slates.ts';
import { runLeg } from './leg.ts';
import type { LegResult } from './outcome.ts';

let folder: string;
let clip: ClipDescription;
const name = 'S009C001.mov';
/** Light outputs: what is proved here are frames, not codecs. */
const proxies: Recipe = {
  ...finishAndCut,
  deliverables: finishAndCut.deliverables.filter(({ role }) => role === 'proxy'),
};

beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'relay-conform-'));
  clip = await paintedClip(name, folder, { frames: 60 });
});
afterAll(() => rm(folder, { recursive: true, force: true }));

async function made(
  corrections: ClipCorrections,
  into: string,
): Promise<{ plan: LegPlan; result: LegResult; rows: RelinkRow[] }> {
  const plan = unwrap(planLeg(clip, proxies, corrections));
  const rows: RelinkRow[] = [];
  const result = await runLeg(plan, {
    sourceRoot: folder,
    outRoot: { root: folder, folder: into },
    owner: `test.${into}`,
    whole: 'S009',
    recorded: async () => null,
    record: async (row) => {
      rows.push(row);
    },
  });
  return { plan, result, rows };
}

const timecode = 'as labelled' as const;

describe('conforms, run and read back from the slates', () => {
  it.each<[string, ClipCorrections]>([
    ['relabelled', { time: { kind: 'relabel', rate: rational(24000, 1001), timecode, sound: 'stretched' } }],
    ['its pitch kept', { time: { kind: 'relabel', rate: rational(30), timecode, sound: 'pitch kept' } }],
    ['down', { time: { kind: 'resample', rate: rational(25), how: 'hold', timecode } }],
    ['up', { time: { kind: 'resample', rate: rational(96), how: 'hold', timecode } }],
  ])('%s: every output frame shows the frame that core says', async (into, corrections) => {
    const { plan, result, rows } = await made(corrections, into);
    expect(result.outputs[0]?.proof?.reasons).toEqual([]);
    expect(result.state).toBe('proved');
    const output = plan.outputs[0] as LegPlan['outputs'][number];
    const { width, height } = output.video.raster;
    const read = await slates(join(folder, into, output.path), width, height, width / height);
    expect(read).toEqual(Array.from({ length: output.video.frames }, (_, n) => shownBy(output.video.map, n, 60).frame));
    expect(rows[0]).toMatchObject({
      originalTimecode: '16:45:10;12',
      frameMap: expect.stringMatching(/^(every|hold \d+\/\d+)$/) as string,
    });
  });

  it("a picture at the wrong place, another channel's sound, and a level 0.26 dB off do not pass", async () => {
    const { plan, result } = await made(
      { shape: { crop: { left: 160, top: 0, right: 0, bottom: 0 } }, sound: { kind: 'pick', channels: [1] } },
      'honest',
    );
    expect(result.state).toBe('proved');
    // The same file held against plans that say otherwise.
    const [output] = plan.outputs as [LegPlan['outputs'][number]];
    const geometry = output.video.geometry as NonNullable<typeof output.video.geometry>;
    const lies: [string, LegPlan['outputs'][number]][] = [
      [
        'picture in its place',
        {
          ...output,
          video: {
            ...output.video,
            geometry: {
              ...geometry,
              window: { ...geometry.window, x: 100 },
              uprightWindow: { ...geometry.uprightWindow, x: 100 },
            },
          },
        },
      ],
      [
        'sound in sync',
        {
          ...output,
          sound: {
            ...output.sound,
            tracks: output.sound.tracks.map((track) => ({ ...track, mix: [[{ channel: 0, gain: 1 }]] })),
          },
        },
      ],
      [
        'sound level',
        {
          ...output,
          sound: {
            ...output.sound,
            tracks: output.sound.tracks.map((track) => ({ ...track, mix: [[{ channel: 1, gain: 0.97 }]] })),
          },
        },
      ],
    ];
    for (const [wrong, lie] of lies) {
      const again = await runLeg(
        { ...plan, outputs: [lie] },
        {
          sourceRoot: folder,
          outRoot: { root: folder, folder: 'honest' },
          owner: 'test.lie',
          whole: 'S009',
          recorded: async () => ({ xxh3: result.outputs[0]?.xxh3 ?? '', state: 'proved' }),
          record: async () => undefined,
        },
      );
      expect(again.state, wrong).toBe('failed');
      expect(again.outputs[0]?.proof?.reasons.join(), wrong).toContain(wrong);
    }
  });

  it('what does not pass gets no name, and nothing of it is left or written down', async () => {
    const plan = unwrap(planLeg(clip, proxies, { shape: { turn: { quarters: 1, across: false, down: false } } }));
    const [output] = plan.outputs as [LegPlan['outputs'][number]];
    const geometry = output.video.geometry as NonNullable<typeof output.video.geometry>;
    // Proved as if it had been turned the other way, or not mirrored.
    const lies = [
      { ...geometry, turn: { ...geometry.turn, quarters: 3 } },
      { ...geometry, turn: { ...geometry.turn, across: true } },
    ];
    for (const [index, lie] of lies.entries()) {
      const written: RelinkRow[] = [];
      const into = `unnamed-${index}`;
      const result = await runLeg(
        { ...plan, outputs: [{ ...output, video: { ...output.video, geometry: lie } }] },
        {
          sourceRoot: folder,
          outRoot: { root: folder, folder: into },
          owner: 'test.unnamed',
          whole: 'S009',
          recorded: async () => null,
          record: async (row) => {
            written.push(row);
          },
        },
      );
      expect([result.state, result.outputs[0]?.state]).toEqual(['failed', 'failed']);
      expect(result.outputs[0]?.proof?.reasons.join()).toContain('picture in its place');
      const left = await readdir(join(folder, into), { recursive: true, withFileTypes: true }).catch(() => []);
      expect([left.filter((entry) => entry.isFile()), written]).toEqual([[], []]);
    }
  });
});
