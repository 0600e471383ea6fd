import { describe, expect, it } from 'vitest';
import { rational } from '../time/rational.ts';
import { joinChapters } from './chapters.ts';
import type { ClipDescription } from './description.ts';
import { sampleClip } from './sample.ts';

const rate = rational(25);
function part(
  path: string,
  start: string | null,
  frames = 100,
  sizeBytes = 1_000_000,
  rest: Partial<ClipDescription> = {},
): ClipDescription {
  return sampleClip(
    {
      path,
      stem: path.replace(/.*\/|\.\w+$/g, ''),
      sizeBytes,
      timecode: start ? { start, dropFrame: false } : null,
      ...rest,
    },
    { rate, frames, duration: rational(frames, 25) },
  );
}
const shapes = (clips: ClipDescription[]): [string, number, number][] =>
  clips.map((clip) => [clip.path, clip.chapters.length, clip.video?.frames ?? 0]);

describe('chapters', () => {
  it('that count up, are equally long and follow each other by timecode are one clip with their true total', () => {
    const joined = joinChapters([
      part('V/V0034_01.mp4', '10:00:00:00'),
      part('V/V0034_02.mp4', '10:00:04:00'),
      part('V/V0034_03.mp4', '10:00:08:00', 40, 400_000),
    ]);
    expect(shapes(joined)).toEqual([['V/V0034_01.mp4', 3, 240]]);
    expect(joined[0]).toMatchObject({
      sizeBytes: 2_400_000,
      timecode: { start: '10:00:00:00' },
      video: { duration: { num: 48, den: 5 } },
    });
    expect(joined[0]?.chapters.map((chapter) => chapter.path)).toEqual([
      'V/V0034_01.mp4',
      'V/V0034_02.mp4',
      'V/V0034_03.mp4',
    ]);
  });

  it('past midnight too', () => {
    expect(
      shapes(
        joinChapters([
          part('a_1.mov', '23:59:56:00'),
          part('a_2.mov', '00:00:00:00'),
          part('a_3.mov', '00:00:04:00', 10, 1000),
        ]),
      ),
    ).toEqual([['a_1.mov', 3, 210]]);
  });

  it("two of which fill the recorder's file size are one; two takes on record-run timecode stay two", () => {
    const full = 2 ** 32 - 30_000_000;
    expect(shapes(joinChapters([part('a_1.mov', null, 9000, full), part('a_2.mov', null, 300, 1e8)]))).toEqual([
      ['a_1.mov', 2, 9300],
    ]);
    expect(
      joinChapters([part('A001_01.mov', '10:00:00:00', 100, 900_000), part('A001_02.mov', '10:00:04:00', 80, 700_000)]),
    ).toHaveLength(2);
    expect(
      joinChapters([
        part('A001C001.mov', '10:00:00:00'),
        part('A001C002.mov', '10:00:04:00'),
        part('A001C003.mov', '10:00:08:00'),
      ]),
    ).toHaveLength(3);
  });

  it('with a gap, another format, another folder, a missing number or a cut in between stay apart', () => {
    const three = (second: ClipDescription): ClipDescription[] => [
      part('a_1.mov', '10:00:00:00'),
      second,
      part('a_3.mov', '10:00:08:00', 50, 500_000),
    ];
    expect(joinChapters(three(part('a_2.mov', '10:00:04:01')))).toHaveLength(3);
    expect(joinChapters(three(part('b/a_2.mov', '10:00:04:00')))).toHaveLength(3);
    expect(joinChapters(three(part('a_2.mov', '10:00:04:00', 100, 1_000_000, { audio: [] })))).toHaveLength(3);
    expect(
      joinChapters([
        part('a_1.mov', '10:00:00:00', 100, 1_000_000, { cutShort: 'x' }),
        part('a_2.mov', '10:00:04:00'),
        part('a_3.mov', '10:00:08:00'),
      ]),
    ).toHaveLength(3);
    expect(
      joinChapters([part('a_1.mov', '10:00:00:00'), part('a_3.mov', '10:00:04:00'), part('a_4.mov', '10:00:08:00')])
        .length,
    ).toBeGreaterThan(1);
  });

  it('that a sidecar lists together are one, unless what the files say is against it', () => {
    const two = [part('x.mov', '10:00:00:00', 100, 5), part('y.mov', '10:00:04:00', 70, 3)];
    expect(shapes(joinChapters(two, [['x.mov', 'y.mov']]))).toEqual([['x.mov', 2, 170]]);
    expect(joinChapters([two[0] as ClipDescription, part('y.mov', '11:00:00:00')], [['x.mov', 'y.mov']])).toHaveLength(
      2,
    );
    expect(joinChapters(two, [['x.mov', 'gone.mov']])).toHaveLength(2);
  });
});

describe('files that could be parts of one recording', () => {
  const clips = (change: (clip: ClipDescription) => Partial<ClipDescription>): number => {
    const second = part('a_2.mov', '10:00:04:00');
    const last = part('a_3.mov', '10:00:08:00', 40, 400_000);
    return joinChapters([part('a_1.mov', '10:00:00:00'), { ...second, ...change(second) }, last]).length;
  };
  const video = (change: Partial<NonNullable<ClipDescription['video']>>) => (clip: ClipDescription) => ({
    video: clip.video && { ...clip.video, ...change },
  });

  it.each<[string, (clip: ClipDescription) => Partial<ClipDescription>]>([
    ['wrapper', () => ({ wrapperId: 'mp4' })],
    ['picture at all', () => ({ video: null })],
    ['codec', video({ codecId: 'hevc' })],
    ['width', video({ raster: { width: 1280, height: 1080 } })],
    ['height', video({ raster: { width: 1920, height: 720 } })],
    ['pixel aspect', video({ pixelAspect: rational(4, 3) })],
    ['steadiness', video({ rateConstant: false })],
    ['rate', video({ rate: rational(50) })],
    ['scan', video({ scan: 'top-field-first' })],
    ['depth', video({ bitDepth: 8 })],
    ['curve', video({ colour: { primaries: 'bt709', transfer: 'smpte2084', matrix: 'bt709', range: 'legal' } })],
    ['sound', (clip) => ({ audio: clip.audio.slice(1) })],
    ['sound’s rate', (clip) => ({ audio: clip.audio.map((track) => ({ ...track, sampleRate: 96_000 })) })],
    ['sound’s channels', (clip) => ({ audio: clip.audio.map((track) => ({ ...track, channels: 2 })) })],
    ['sound’s depth', (clip) => ({ audio: clip.audio.map((track) => ({ ...track, bitDepth: 16 })) })],
    ['count of timecode', () => ({ timecode: { start: '10:00:04;00', dropFrame: true } })],
  ])('are not of another %s', (_, change) => {
    expect(clips(change)).toBeGreaterThan(1);
    expect(clips(() => ({}))).toBe(1);
  });
});
