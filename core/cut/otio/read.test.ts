import { describe, expect, it } from 'vitest';
import { unwrap } from '../../result.ts';
import { rational } from '../../time/rational.ts';
import type { ReadCut } from '../cut.ts';
import { reelIn } from './media.ts';
import { readOtio } from './read.ts';

// Shapes are those of OpenTimelineIO's published schema (Timeline.1, Stack.1, Track.1, Clip.1 and .2, Gap.1, Transition.1,
// LinearTimeWarp.1, FreezeFrame.1), from memory: neither the schema nor a library for it lies in the registries here.
const time = (value: number, rate = 24) => ({ OTIO_SCHEMA: 'RationalTime.1', value, rate });
const range = (start: number, length: number, rate = 24) => ({
  OTIO_SCHEMA: 'TimeRange.1',
  start_time: time(start, rate),
  duration: time(length, rate),
});
const clip = (name: string, start: number, length: number, more: object = {}) => ({
  OTIO_SCHEMA: 'Clip.2',
  name,
  source_range: range(start, length),
  ...more,
});
const gap = (length: number) => ({ OTIO_SCHEMA: 'Gap.1', source_range: range(0, length) });
const track = (children: object[], kind = 'Video', more: object = {}) => ({
  OTIO_SCHEMA: 'Track.1',
  kind,
  children,
  ...more,
});
const stack = (children: object[], more: object = {}) => ({ OTIO_SCHEMA: 'Stack.1', children, ...more });
const timeline = (tracks: object[], more: object = {}) => ({
  OTIO_SCHEMA: 'Timeline.1',
  name: 'Salt Lantern',
  tracks: stack(tracks),
  ...more,
});
const read = (root: object): ReadCut => unwrap(readOtio(JSON.stringify(root), { given: null }));
const places = ({ cut }: ReadCut): string[] =>
  cut.events.map(
    ({ source, record, tracks }) =>
      `${tracks.join()} ${source.clip ?? source.kind} ${record.from}-${record.to} of ${source.frames?.from}-${source.frames?.to}`,
  );

describe("OpenTimelineIO's JSON", () => {
  it('lays clips one after the other from where the timeline starts, gaps between them', () => {
    const found = read(
      timeline([track([clip('a', 100, 10), gap(5), clip('b', 0, 20)]), track([clip('c', 7, 3)], 'Audio')], {
        global_start_time: time(86_400),
      }),
    );
    expect(places(found)).toEqual([
      'V1 a 86400-86410 of 100-110',
      'V1 b 86415-86435 of 0-20',
      'A1 c 86400-86403 of 7-10',
    ]);
    expect(found.cut.rate).toMatchObject({ rate: rational(24), known: 'stated' });
    expect(found.remarks).toEqual([]);
  });

  it('takes media by every kind of reference, the active one of several, and its whole where no range is said', () => {
    const found = read(
      timeline([
        track([
          {
            OTIO_SCHEMA: 'Clip.1',
            name: 'old',
            source_range: null,
            media_reference: {
              OTIO_SCHEMA: 'ExternalReference.1',
              target_url: 'file:///shuttle/day%201/a.mov',
              available_range: range(50, 30),
            },
          },
          clip('many', 0, 5, {
            active_media_reference_key: 'high',
            media_references: {
              DEFAULT_MEDIA: { OTIO_SCHEMA: 'MissingReference.1' },
              high: {
                OTIO_SCHEMA: 'ExternalReference.1',
                target_url: 'proxy/b.mov',
                metadata: { edit: { 'Reel Name': 'B001' } },
              },
            },
          }),
          clip('pictures', 0, 5, {
            media_reference: {
              OTIO_SCHEMA: 'ImageSequenceReference.1',
              target_url_base: 'file:///scans/roll',
              name_prefix: 'scan_',
              name_suffix: '.dpx',
              start_frame: 86,
              frame_zero_padding: 5,
            },
          }),
          clip('bars', 0, 5, { media_reference: { OTIO_SCHEMA: 'GeneratorReference.1', generator_kind: 'SMPTEBars' } }),
        ]),
      ]),
    );
    expect(found.cut.events.map(({ source }) => [source.kind, source.file, source.reel])).toEqual([
      ['media', '/shuttle/day 1/a.mov', null],
      ['media', 'proxy/b.mov', 'B001'],
      ['media', '/scans/roll/scan_00086.dpx', null],
      ['generated', null, null],
    ]);
    expect(found.cut.events[0]?.source.available).toEqual({ from: 50, to: 80 });
    expect(places(found)[0]).toBe('V1 old 0-30 of 50-80');
  });

  it('plays faster, slower, backwards or not at all, and says of effects it does not know that it passes them over', () => {
    const warp = (time_scalar: number) => ({ effects: [{ OTIO_SCHEMA: 'LinearTimeWarp.1', time_scalar }] });
    const found = read(
      timeline([
        track([
          clip('half', 0, 48, warp(0.5)),
          clip('third', 0, 10, warp(1 / 3)),
          clip('back', 100, 10, warp(-2)),
          clip('still', 7, 24, { effects: [{ OTIO_SCHEMA: 'FreezeFrame.1', time_scalar: 0 }] }),
          clip('curve', 0, 10, { effects: [{ OTIO_SCHEMA: 'TimeEffect.1' }, { OTIO_SCHEMA: 'Glow.3' }] }),
        ]),
      ]),
    );
    expect(places(found)).toEqual([
      'V1 half 0-48 of 0-24',
      'V1 third 48-58 of 0-4',
      'V1 back 58-68 of 100-120',
      'V1 still 68-92 of 7-8',
      'V1 curve 92-102 of 0-10',
    ]);
    expect(found.cut.events[1]?.retime).toEqual({ kind: 'speed', speed: rational(1, 3) });
    expect(found.remarks.map(({ what }) => what)).toEqual([
      'The effect "TimeEffect.1" is not known: passed over, first on "curve" on V1',
      'The effect "Glow.3" is not known: passed over, first on "curve" on V1',
    ]);
  });

  it('counts sources in their own rate', () => {
    const found = read(
      timeline([
        track([{ ...clip('fast', 0, 1), source_range: range(100, 50, 50) }, clip('b', 0, 24), clip('c', 0, 24)]),
      ]),
    );
    expect(places(found)[0]).toBe('V1 fast 0-24 of 100-150');
    expect(found.cut.events[0]?.source.rate).toEqual(rational(50));
  });

  it('lays transitions around their cut, also out of a picture into nothing', () => {
    const dissolve = (before: number, after: number) => ({
      OTIO_SCHEMA: 'Transition.1',
      transition_type: 'SMPTE_Dissolve',
      in_offset: time(before),
      out_offset: time(after),
    });
    const found = read(
      timeline([
        track([clip('a', 0, 24), dissolve(4, 8), clip('b', 100, 24), dissolve(0, 6), gap(24), clip('c', 0, 5)]),
      ]),
    );
    expect(
      found.cut.events.map(({ transition, source }) => [
        source.clip ?? source.kind,
        transition?.frames,
        transition?.before,
      ]),
    ).toEqual([
      ['a', undefined, undefined],
      ['b', 12, 4],
      ['black', 6, 0],
      ['c', undefined, undefined],
    ]);
  });

  it('follows stacks and tracks that lie in tracks, and what of them is taken', () => {
    const inner = stack([track([clip('x', 10, 20), clip('y', 200, 20)]), track([clip('over', 0, 40)])], {
      source_range: range(15, 10),
    });
    expect(places(read(timeline([track([clip('a', 0, 5), inner, clip('b', 0, 5)])])))).toEqual([
      'V1 a 0-5 of 0-5',
      'V1 x 5-10 of 25-30',
      'V1 y 10-15 of 200-205',
      'V1.V2 over 5-15 of 15-25',
      'V1 b 15-20 of 0-5',
    ]);
    const taken = track([clip('x', 0, 20), clip('y', 50, 20)], 'Video', { source_range: range(15, 10) });
    expect(places(read(timeline([taken])))).toEqual(['V1 x 0-5 of 15-20', 'V1 y 5-10 of 50-55']);
  });

  it('lays markers of clips and of the whole into the cut', () => {
    const marker = (at: number, name: string) => ({
      OTIO_SCHEMA: 'Marker.2',
      name,
      color: 'RED',
      comment: 'look',
      marked_range: range(at, 2),
    });
    const root = timeline([track([clip('a', 0, 5), clip('b', 100, 50, { markers: [marker(110, 'gull')] })])], {
      global_start_time: time(1_000),
    });
    root.tracks = stack([...root.tracks.children], { markers: [marker(3, 'start')] });
    expect(read(root).cut.markers).toEqual([
      { at: 1_015, frames: 2, text: 'gull: look', colour: 'red', track: 'V1' },
      { at: 1_003, frames: 2, text: 'start: look', colour: 'red', track: null },
    ]);
  });

  it('knows the NTSC rates by whatever decimals they are written', () => {
    for (const written of [23.976, 23.98, 23.976023976, 24000 / 1001])
      expect(
        read(timeline([track([{ ...clip('a', 0, 1), source_range: range(0, 24, written) }])])).cut.rate.rate,
      ).toEqual(rational(24000, 1001));
  });

  it('passes over what it does not know, says so, and refuses what is no timeline', () => {
    const found = read(
      timeline([
        track([{ OTIO_SCHEMA: 'Hologram.4' }, clip('a', 0, 5), clip('off', 0, 5, { enabled: false })]),
        track([], 'Smell'),
      ]),
    );
    expect(places(found)).toEqual(['V1 a 0-5 of 0-5']);
    expect(found.remarks.map(({ what }) => what)).toEqual([
      '"Hologram.4" is not known here: passed over, with what lies in it',
      '"off" on V1 is switched off: left out',
      'The track "" is neither pictures nor sound: left out',
    ]);
    for (const text of ['', '{', '[]', '{"OTIO_SCHEMA":"Clip.1"}', 'null', '"x"'])
      expect(readOtio(text, { given: null }).ok).toBe(false);
  });
});

describe('a reel in metadata', () => {
  it('is whatever program keeps one under reel or reel_name, three deep, and not where it is empty', () => {
    expect(reelIn({ some: { note: 'B001', reel: '' }, other: { Reel_Name: 'A001' } })).toBe('A001');
    expect(reelIn({ note: 'B001', surreal: 'B002', some: { deeper: { reel: 'A002' } } })).toBe('A002');
    expect(reelIn({ a: { b: { c: { reel: 'A003' } } } })).toBeNull();
    expect(reelIn(null)).toBeNull();
  });
});
