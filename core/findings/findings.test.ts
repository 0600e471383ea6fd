import { describe, expect, it } from 'vitest';
import type { ClipDescription, VideoDescription } from '../clip/description.ts';
import { sampleClip } from '../clip/sample.ts';
import type { Measured, PictureMeasure } from '../measure/measured.ts';
import { rational } from '../time/rational.ts';
import { neighboursOf, type Neighbour } from './around.ts';
import { findingsOf, rules, standingOf, type Decision } from './findings.ts';
import type { FindingFacts } from './finding.ts';
import { decideTitles } from './titles.ts';

const picture: PictureMeasure = {
  pictures: 9,
  low: 70,
  high: 900,
  belowLegal: 0,
  aboveLegal: 0,
  saturation: 60,
  bars: null,
  scans: ['progressive'],
};
function measured(rest: Partial<Measured> = {}, pictureRest: Partial<PictureMeasure> = {}): Measured {
  return {
    version: 1,
    picture: { ...picture, ...pictureRest },
    sound: [],
    flow: null,
    errors: [],
    timecodeBreaks: [],
    ...rest,
  };
}
function facts(rest: Partial<FindingFacts> = {}): FindingFacts {
  return {
    clip: sampleClip(),
    reel: 'A001',
    measured: null,
    recorded: null,
    unsaidLut: null,
    scanSaid: null,
    conformSaid: false,
    productionRate: null,
    sameName: [],
    overlapping: [],
    custody: 'none',
    ...rest,
  };
}
const of = (clip: Partial<ClipDescription>, video: Partial<VideoDescription> = {}): Partial<FindingFacts> => ({
  clip: sampleClip(clip, video),
});
const tagged = (colour: Partial<VideoDescription['colour']>): Partial<FindingFacts> =>
  of({}, { colour: { primaries: 'bt709', transfer: 'bt709', matrix: 'bt709', range: 'legal', ...colour } });
const silentSix = Array.from({ length: 6 }, (_, index) => ({
  track: index,
  channel: 0,
  peak: index === 1 || index === 4 ? 0.5 : 0,
  rms: 0,
}));

describe('findings', () => {
  it('are none for a clip as it should be', () => {
    expect(
      findingsOf(facts({ measured: measured({ sound: silentSix.map((one) => ({ ...one, peak: 0.3 })) }) })),
    ).toEqual([]);
  });

  /** Each rule: facts that it must speak up on, and what it must say. */
  const cases: readonly (readonly [string, Partial<FindingFacts>, string, string])[] = [
    ['undecodable', { measured: measured({ picture: null, errors: ['bad header'] }) }, 'stop', 'Cannot be decoded'],
    ['copyNotProved', { custody: 'unproved' }, 'stop', 'Copy not proved'],
    ['cutShort', of({ cutShort: '0.4 MB are missing at the end of the file' }), 'decide', 'Cut short: 0.4 MB'],
    [
      'decodeErrors',
      { measured: measured({ errors: ['error while decoding MB 3 4'] }) },
      'decide',
      'Decodes with errors',
    ],
    [
      'varyingRate',
      of({}, { rateConstant: false, rateVaries: { slowest: rational(24), fastest: rational(30) } }),
      'decide',
      'Rate varies 24.000–30.000',
    ],
    ['noTimecode', of({ timecode: null }), 'decide', 'No timecode'],
    [
      'timecodeBreaks',
      { measured: measured({ timecodeBreaks: [{ frame: 40, found: '11:00:00:00', expected: '10:02:13:00' }] }) },
      'decide',
      'Timecode breaks at 11:00:00:00',
    ],
    [
      'logAsVideo',
      { measured: measured({}, { low: 150, high: 580, saturation: 15 }) },
      'decide',
      'Looks like log, tagged as video',
    ],
    [
      'scanContradicts',
      { measured: measured({}, { fields: { seen: 'top-field-first', confidence: 0.95, judged: 20, phase: null } }) },
      'decide',
      'Fields in a file of whole pictures',
    ],
    [
      'pulldown',
      {
        measured: measured(
          {},
          { fields: { seen: 'pulldown', confidence: 1, judged: 30, phase: 2, topFieldFirst: true } },
        ),
      },
      'decide',
      '2:3 pulldown',
    ],
    [
      'mixedScan',
      { measured: measured({}, { scans: ['progressive', 'top-field-first'] }) },
      'decide',
      'Scan flags mixed',
    ],
    [
      'pixelAspectContradicts',
      of({}, { raster: { width: 720, height: 576 } }),
      'decide',
      '720×576 with square pixels?',
    ],
    ['pixelAspectContradicts', of({}, { pixelAspect: rational(5) }), 'decide', 'Pixels 5:1 cannot be'],
    ['colourContradicts', tagged({ transfer: 'smpte2084' }), 'decide', 'Colour tags contradict'],
    ['colourContradicts', tagged({ matrix: 'bt2020nc' }), 'decide', 'Colour tags contradict'],
    [
      'rangeNeverFull',
      { ...tagged({ range: 'full' }), measured: measured({}, { low: 66 }) },
      'decide',
      'Full range never used',
    ],
    ['sharedTimecode', { overlapping: ['x/A001C009.mov'] }, 'decide', 'Timecode shared'],
    ['sameName', { sameName: ['x/A001C003.mov', 'b', 'c', 'd'] }, 'decide', 'Name not its own'],
    ['soundOnly', of({ video: null, timecode: null }), 'note', 'Sound only'],
    [
      'pixelAspect',
      of({}, { pixelAspect: rational(4, 3), raster: { width: 1440, height: 1080 } }),
      'note',
      'Pixels 4:3',
    ],
    ['interlaced', of({}, { scan: 'bottom-field-first' }), 'note', 'Interlaced, bottom field first'],
    ['rotation', of({}, { quarterTurns: 3 }), 'note', 'To be turned 270°'],
    ['oddRaster', of({}, { raster: { width: 1919, height: 1080 } }), 'note', 'Odd raster 1919×1080'],
    ['alpha', of({}, { alpha: true }), 'note', 'Carries alpha'],
    [
      'bars',
      {
        measured: measured(
          {},
          {
            bars: {
              left: 202,
              right: 204,
              top: 0,
              bottom: 0,
              crop: { x: 202, y: 0, width: 1514, height: 1080 },
              confidence: 1,
            },
          },
        ),
      },
      'note',
      'Bars burnt in, 1514×1080 inside',
    ],
    ['rangeOutside', { measured: measured({}, { aboveLegal: 0.03 }) }, 'note', 'Levels outside legal range'],
    ['colourUntagged', tagged({ transfer: null }), 'note', 'Colour untagged (curve)'],
    [
      'implausibleTimecode',
      of({ timecode: { start: '10:00:00:29', dropFrame: false } }),
      'note',
      'Timecode 10:00:00:29 cannot be',
    ],
    [
      'implausibleTimecode',
      of({ timecode: { start: '00:00:00:00', dropFrame: false } }),
      'note',
      'Timecode starts at zero',
    ],
    [
      'timecodeOtherwise',
      of({
        timecode: {
          start: '10:00:00:12',
          dropFrame: false,
          written: { start: '10:00:00:12', rate: rational(25), dropClaimed: true },
        },
      }),
      'note',
      'Timecode claims drop-frame at 25.000',
    ],
    [
      'timecodeOtherwise',
      of({
        timecode: {
          start: '10:00:00:00',
          dropFrame: false,
          written: { start: '10:00:00:00', rate: rational(25), dropClaimed: false },
        },
      }),
      'note',
      'Timecode counts 25.000, pictures 23.976',
    ],
    ['unsaidLut', { unsaidLut: 'Quay' }, 'decide', 'What Quay gives is not said'],
    ['noReel', { reel: null }, 'note', 'No reel'],
    ['otherRate', { productionRate: rational(25) }, 'note', '23.976, not 25.000'],
    ['noSound', of({ audio: [] }), 'note', 'No sound'],
    ['silentChannels', { measured: measured({ sound: silentSix }) }, 'note', 'Silent: channels 1, 3, 4, 6 of 6'],
    [
      'not48k',
      of({
        audio: [
          {
            codec: 'AAC',
            codecId: 'aac',
            channels: 2,
            layout: 'stereo',
            sampleRate: 44_100,
            bitDepth: null,
            duration: null,
          },
        ],
      }),
      'note',
      'Sound not at 48 kHz',
    ],
    [
      'heavyToEdit',
      { measured: measured({ flow: { peakBitsPerSecond: 1e6, groupTypical: 12, groupLongest: 48 } }) },
      'note',
      'Heavy to edit: 48 pictures a group',
    ],
    ['otherStreams', of({ otherStreams: ['mov_text'] }), 'note', 'Also carries mov_text'],
  ];
  it.each(cases)('%s', (rule, rest, level, text) => {
    const found = findingsOf(facts(rest));
    expect(found.map((finding) => finding.rule)).toEqual([rule]);
    expect(found[0]).toMatchObject({ level, text: expect.stringContaining(text) });
    // A reason and a remedy, in sentences without their full stops.
    expect(found[0]?.why).toMatch(/^\S.{8,}[^.]$/s);
    expect(found[0]?.remedy).toMatch(/^\S.{8,}[^.]$/s);
  });
  it('every rule has a case here', () => {
    expect([...new Set(cases.map(([rule]) => rule))].sort()).toEqual(Object.keys(rules).sort());
  });
  it('come gravest first', () => {
    const levels = findingsOf(facts({ ...of({ cutShort: 'x', audio: [] }), custody: 'unproved', reel: null })).map(
      (finding) => finding.level,
    );
    expect(levels).toEqual(['stop', 'decide', 'note', 'note']);
  });
});

describe('what findings and decisions let happen', () => {
  const found = findingsOf(facts({ ...of({ timecode: null }), custody: 'unproved' }));
  const answer = (rule: string, given: Decision['answer']): Decision => ({
    rule,
    answer: given,
    note: '',
    by: 'assistant',
    at: '',
  });
  it('a stop keeps out until somebody decides; what is to decide asks, and lets go on', () => {
    expect(standingOf(found, [])).toMatchObject({ runs: false, why: expect.stringContaining('Copy not proved') });
    expect(standingOf(found, [answer('copyNotProved', 'as it is')])).toMatchObject({
      runs: true,
      toDecide: [{ rule: 'noTimecode' }],
    });
    expect(standingOf(found, [answer('copyNotProved', 'as it is'), answer('noTimecode', 'as it is')])).toEqual({
      runs: true,
      why: null,
      toDecide: [],
    });
    expect(standingOf(found, [answer('copyNotProved', 'as it is'), answer('noTimecode', 'leave out')])).toMatchObject({
      runs: false,
      why: 'left out: No timecode',
    });
  });
});

describe('neighbours', () => {
  const clip = (
    path: string,
    reel: string | null,
    start: string | null,
    frames = 240,
    rest: Partial<Neighbour> = {},
  ): Neighbour => ({
    path,
    stem: path.replace(/.*\/|\.\w+$/g, ''),
    reel,
    start: start ? { start, dropFrame: false } : null,
    frames,
    rate: rational(24),
    ...rest,
  });
  it('share a name without regard to case or Unicode form, or timecode on one reel', () => {
    const found = neighboursOf([
      clip('a/C1.mov', 'R1', '10:00:00:00'),
      clip('b/c1.MXF', 'r1', '10:00:09:23'),
      clip('b/C2.mov', 'R1', '10:00:30:00'),
      clip('b/C3.mov', 'R2', '10:00:00:00'),
      clip('b/C4.mov', null, '10:00:00:00'),
    ]);
    expect(found.map((one) => [one.sameName, one.overlapping])).toEqual([
      [['b/c1.MXF'], ['b/c1.MXF']],
      [['a/C1.mov'], ['a/C1.mov']],
      [[], []],
      [[], []],
      [[], []],
    ]);
  });
  it('that touch do not overlap, and rates are compared by the clock', () => {
    expect(
      neighboursOf([clip('a.mov', 'R', '10:00:00:00', 240), clip('b.mov', 'R', '10:00:10:00', 240)])[0]?.overlapping,
    ).toEqual([]);
    expect(
      neighboursOf([
        clip('a.mov', 'R', '10:00:00:00', 240),
        clip('b.mov', 'R', '10:00:09:20', 50, { rate: rational(25) }),
      ])[0]?.overlapping,
    ).toEqual(['b.mov']);
  });
  it('ten thousand of one name and timecode are worked out at once, and name a few', () => {
    const many = Array.from({ length: 10_000 }, (_, index) =>
      clip(`${index}/C0001.mov`, 'R', '10:00:00:00', 240, { stem: 'C0001' }),
    );
    const from = performance.now();
    const found = neighboursOf(many);
    expect(performance.now() - from).toBeLessThan(5_000);
    expect(found[5_000]?.sameName.length).toBe(20);
  });
});

it('does not ask whether it is log where somebody said what the camera recorded', () => {
  const foggy = { measured: measured({}, { low: 150, high: 580, saturation: 15 }) };
  const rules = (rest: Partial<FindingFacts>): string[] =>
    findingsOf(facts({ ...foggy, ...rest })).map((finding) => finding.rule);
  expect(rules({})).toContain('logAsVideo');
  expect(rules({ recorded: 'slog3-sgamut3cine' })).not.toContain('logAsVideo');
});

it('holds what moves against what the file says, until somebody says which is right', () => {
  const seen = (
    as: 'progressive' | 'top-field-first' | 'bottom-field-first' | 'still',
    rest: Partial<FindingFacts> = {},
    scan: VideoDescription['scan'] = 'top-field-first',
    judged = 20,
  ): string[] =>
    findingsOf(
      facts({
        ...of({}, { scan }),
        measured: measured({}, { scans: [scan], fields: { seen: as, confidence: 0.9, judged, phase: null } }),
        ...rest,
      }),
    ).map((finding) => finding.text);
  expect(seen('progressive')).toContain('Whole pictures in an interlaced file');
  expect(seen('bottom-field-first')).toContain('Fields the other way round');
  for (const quiet of [
    seen('top-field-first'),
    seen('still'),
    seen('progressive', {}, 'top-field-first', 4),
    seen('progressive', { scanSaid: 'progressive' }),
  ])
    expect(quiet).toEqual(['Interlaced, top field first']);
});

it('has a name for every finding that needs a decision', () => {
  const deciding = Object.keys(rules).filter((name) => rules[name]?.level === 'decide');
  expect(Object.keys(decideTitles).sort()).toEqual(deciding.sort());
});
