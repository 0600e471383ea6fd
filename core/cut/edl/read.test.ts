import { describe, expect, it } from 'vitest';
import { unwrap } from '../../result.ts';
import { rational } from '../../time/rational.ts';
import { parseRate } from '../../time/rate.ts';
import type { ReadCut } from '../cut.ts';
import { readEdl } from './read.ts';
import { writeEdl } from './write.ts';

// CMX 3600 lists have no standard that is published: the examples are worked by hand from common practice, from memory.
const read = (text: string, rate: string | null = '24'): ReadCut =>
  unwrap(readEdl(text, { given: rate === null ? null : unwrap(parseRate(rate)) }));
const hour = 24 * 3600;

describe('an edit list of lines', () => {
  it('is read event by event, with its title, reels, tracks and comments', () => {
    const { cut, remarks } = read(
      [
        'TITLE: SALT LANTERN CUT 1',
        'FCM: NON-DROP FRAME',
        '',
        '001  A001     V     C        01:00:00:00 01:00:02:00 10:00:00:00 10:00:02:00',
        '* FROM CLIP NAME: A001C003',
        '* SOURCE FILE: /shuttle/A001/A001C003.mov',
        '* A GULL IN THE PICTURE',
        '002  A001     AA/V  C        01:00:04:00 01:00:05:12 10:00:02:00 10:00:03:12',
        '003  BL       V     C        00:00:00:00 00:00:01:00 10:00:03:12 10:00:04:12',
        '004  S009     B     C        16:45:10:12 16:45:11:12 10:00:04:12 10:00:05:12',
        '005  AX       NONE  C        00:00:00:00 00:00:01:00 10:00:05:12 10:00:06:12',
      ].join('\r\n'),
    );
    expect(cut.title).toBe('SALT LANTERN CUT 1');
    expect(cut.start).toBe(10 * hour);
    expect(cut.tracks.map(({ id, kind }) => `${id} ${kind}`)).toEqual(['V1 picture', 'A1 sound', 'A2 sound']);
    expect(cut.events.map(({ tracks }) => tracks.join(' '))).toEqual(['V1', 'V1 A1 A2', 'V1', 'V1 A1', '']);
    expect(cut.events[0]).toMatchObject({
      number: '001',
      line: 4,
      record: { from: 10 * hour, to: 10 * hour + 48 },
      source: {
        reel: 'A001',
        clip: 'A001C003',
        file: '/shuttle/A001/A001C003.mov',
        frames: { from: hour, to: hour + 48 },
      },
      comments: ['A GULL IN THE PICTURE'],
    });
    expect(cut.events[2]?.source).toMatchObject({ kind: 'black', reel: null, frames: null });
    expect(cut.events[4]?.source.reel).toBeNull();
    expect(remarks).toEqual([{ line: 11, what: 'The event is on no track' }]);
  });

  it('is read with tabs, byte order marks, lone carriage returns, and reels that are long or have blanks', () => {
    const long = 'A001_C003_1123_SALT_LANTERN_NIGHT_FERRY_00001';
    const list = `\uFEFFTITLE: T\r001\t${long}\tV\tC\t\t01:00:00:00\t01:00:01:00\t00:00:00:00\t00:00:01:00\r002 CARD A ONE V C 01:00:00:00 01:00:01:00 00:00:01:00 00:00:02:00\r`;
    expect(read(list).cut.events.map(({ source }) => source.reel)).toEqual([long, 'CARD A ONE']);
  });

  it('takes a dissolve of two lines for one event that comes out of the one before', () => {
    const { cut } = read(
      [
        '001  A001 V C     01:00:00:00 01:00:02:00 10:00:00:00 10:00:02:00',
        '002  A001 V C     01:00:02:00 01:00:02:00 10:00:02:00 10:00:02:00',
        '002  B001 V D 012 02:00:00:00 02:00:03:00 10:00:02:00 10:00:05:00',
        '* FROM CLIP NAME: A001C003',
        '* TO CLIP NAME: B001C001',
      ].join('\n'),
    );
    expect(cut.events).toHaveLength(2);
    expect(cut.events[0]?.source.clip).toBe('A001C003');
    expect(cut.events[1]).toMatchObject({
      transition: { kind: 'dissolve', frames: 12, before: 0 },
      source: { clip: 'B001C001', reel: 'B001' },
    });
  });

  it('keeps what a dissolve comes from where no event before shows it; out of black it comes from nothing', () => {
    const { cut } = read(
      [
        '001  BL   V C     00:00:00:00 00:00:00:00 10:00:00:00 10:00:00:00',
        '001  A001 V D 024 01:00:00:00 01:00:02:00 10:00:00:00 10:00:02:00',
        '002  C001 V C     03:00:00:00 03:00:00:00 10:00:02:00 10:00:02:00',
        '002  B001 V W001 024 02:00:00:00 02:00:03:00 10:00:02:00 10:00:05:00',
      ].join('\n'),
    );
    expect(cut.events.map(({ source, transition }) => `${source.reel} ${transition?.kind ?? 'cut'}`)).toEqual([
      'A001 dissolve',
      'C001 cut',
      'B001 wipe',
    ]);
    expect(cut.events[2]?.transition?.code).toBe('W001');
    expect(cut.events[1]?.record).toEqual({ from: 10 * hour + 48, to: 10 * hour + 48 });
  });

  it.each([
    // Half speed at 24: 48 frames of the cut are 24 of the source.
    [
      '012.0',
      '01:00:00:00',
      '01:00:01:00',
      48,
      { kind: 'speed', speed: rational(1, 2) },
      { from: hour, to: hour + 24 },
    ],
    ['048.0', '01:00:00:00', '01:00:04:00', 48, { kind: 'speed', speed: rational(2) }, { from: hour, to: hour + 96 }],
    ['-24.0', '01:00:00:00', '01:00:02:00', 48, { kind: 'speed', speed: rational(-1) }, { from: hour, to: hour + 48 }],
    ['000.0', '01:00:00:00', '01:00:02:00', 48, { kind: 'freeze' }, { from: hour, to: hour + 1 }],
    // A third of 10 frames: 4 of the source are begun.
    ['008.0', '01:00:00:00', '01:00:00:04', 10, { kind: 'speed', speed: rational(1, 3) }, { from: hour, to: hour + 4 }],
    // One decimal cannot say 7/17 of 24 (9.88): the labels do.
    [
      '009.9',
      '01:00:00:00',
      '01:01:10:00',
      4080,
      { kind: 'speed', speed: rational(7, 17) },
      { from: hour, to: hour + 1680 },
    ],
    ['024.0', '01:00:00:00', '01:00:02:00', 48, null, { from: hour, to: hour + 48 }],
  ] as const)('plays at the speed of its motion line: %s', (speed, sourceIn, sourceOut, length, retime, frames) => {
    const out = `${String(Math.floor(length / 24 / 60)).padStart(2, '0')}:${String(Math.floor(length / 24) % 60).padStart(2, '0')}:${String(length % 24).padStart(2, '0')}`;
    const { cut, remarks } = read(
      `001  A001 V C ${sourceIn} ${sourceOut} 00:00:00:00 00:${out}\nM2   A001  ${speed}  ${sourceIn}`,
    );
    expect(cut.events[0]?.retime).toEqual(retime);
    expect(cut.events[0]?.source.frames).toEqual(frames);
    expect(remarks).toEqual([]);
  });

  it('gives the motion of what a dissolve comes from to that', () => {
    const { cut } = read(
      [
        '001  A001 V C     01:00:00:00 01:00:01:00 10:00:00:00 10:00:02:00',
        '002  A001 V C     01:00:01:00 01:00:01:00 10:00:02:00 10:00:02:00',
        '002  B001 V D 012 02:00:00:00 02:00:03:00 10:00:02:00 10:00:05:00',
        'M2   A001  012.0  01:00:01:00',
      ].join('\n'),
    );
    expect(cut.events.map(({ retime }) => retime)).toEqual([{ kind: 'speed', speed: rational(1, 2) }, null]);
  });

  it('knows what a dissolve comes from, however many events of other tracks lie between', () => {
    const second = (n: number): string => `00:0${Math.floor(n / 60)}:${String(n % 60).padStart(2, '0')}:00`;
    const sounds = Array.from(
      { length: 90 },
      (_, n) => `${n + 2}  S009 A2 C ${second(n)} ${second(n + 1)} ${second(n)} ${second(n + 1)}`,
    );
    const { cut } = read(
      [
        '001  A001 V C     00:00:00:00 00:01:30:00 00:00:00:00 00:01:30:00',
        '* FROM CLIP NAME: FERRY',
        ...sounds,
        '092  A001 V C     00:01:30:00 00:01:30:00 00:01:30:00 00:01:30:00',
        '092  B001 V D 012 00:00:00:00 00:00:03:00 00:01:30:00 00:01:33:00',
        '* FROM CLIP NAME: FERRY',
        '* TO CLIP NAME: BELL',
      ].join('\n'),
    );
    expect(cut.events).toHaveLength(92);
    // Written again, it says so again.
    const again = writeEdl(cut).split('\r\n');
    expect(
      again.slice(
        again.findIndex((line) => line.startsWith('092')),
        again.length - 1,
      ),
    ).toEqual([
      '092 A001     V     C        00:01:30:00 00:01:30:00 00:01:30:00 00:01:30:00',
      '092 B001     V     D    012 00:00:00:00 00:00:03:00 00:01:30:00 00:01:33:00',
      '* FROM CLIP NAME: FERRY',
      '* TO CLIP NAME: BELL',
    ]);
  });

  it('tells the motion of two from one reel that meet at one label', () => {
    const dissolve = (...motion: string[]) =>
      read(
        [
          '001  A001 V C     01:00:00:00 01:00:02:00 10:00:00:00 10:00:02:00',
          'M2   A001 -024.0  01:00:00:00',
          '002  A001 V C     01:00:00:00 01:00:00:00 10:00:02:00 10:00:02:00',
          '002  A001 V D 012 01:00:00:00 01:00:03:00 10:00:02:00 10:00:05:00',
          ...motion,
        ].join('\n'),
      ).cut.events.map(({ retime }) => (retime?.kind === 'speed' ? retime.speed.num / retime.speed.den : retime));
    expect(dissolve('M2   A001 -024.0  01:00:00:00')).toEqual([-1, null]);
    expect(dissolve('M2   A001 -024.0  01:00:00:00', 'M2   A001 -024.0  01:00:00:00')).toEqual([-1, -1]);
    expect(dissolve('M2   A001  024.0  01:00:00:00')).toEqual([-1, null]);
    expect(dissolve()).toEqual([-1, null]);
  });

  it('goes by lines of mode where labels say nothing, and by labels where they do', () => {
    // SMPTE ST 12-1: ten minutes of drop-frame are 17,982 frames, of non-drop 18,000.
    const mode = read(
      [
        'FCM: DROP FRAME',
        '001  A001 V C 00:10:00:00 00:10:01:00 00:10:00:00 00:10:01:00',
        'FCM: NON-DROP FRAME',
        '002  A002 V C 00:10:00:00 00:10:01:00 00:10:01:00 00:10:02:00',
      ].join('\n'),
      null,
    ).cut;
    expect(mode.rate).toMatchObject({ rate: rational(30000, 1001), known: 'by its labels' });
    expect(mode.events.map(({ source, record }) => [source.frames?.from, record.from])).toEqual([
      [17_982, 17_982],
      [18_000, 17_982 + 30],
    ]);
    const marked = read('001  A001 V C 00:10:00:00 00:10:01:00 00:10:00;00 00:10:01;00', '29.97').cut;
    expect(marked.dropFrame).toBe(true);
    expect(marked.events[0]).toMatchObject({ source: { frames: { from: 18_000 } }, record: { from: 17_982 } });
  });

  it('says of which rate it is, and how that is known', () => {
    const list = (last: string): string => `001  A001 V C 01:00:00:00 01:00:00:${last} 00:00:00:00 00:00:00:${last}`;
    expect(read(list('23'), null).cut.rate.rate).toEqual(rational(24000, 1001));
    expect(read(list('24'), null).cut.rate.rate).toEqual(rational(25));
    expect(read(list('29'), null).cut.rate.rate).toEqual(rational(30000, 1001));
    expect(unwrap(readEdl(list('20'), { given: null, media: [rational(25)] })).cut.rate.rate).toEqual(rational(25));
    expect(read(list('20'), '25').cut.rate.known).toBe('given');
    const wrong = readEdl(Array(40).fill(list('29')).join('\n'), { given: rational(24) });
    expect(wrong.ok ? '' : wrong.problem.what).toContain('labels count to 29, which 24.000 does not');
  });

  it('lets pictures or sound begin later where a line says so', () => {
    const { cut } = read(
      '001  A001 B C 01:00:00:00 01:00:02:00 00:00:00:00 00:00:02:00\nSPLIT:    AUDIO DELAY=  00:00:00:10',
    );
    expect(cut.events.map(({ tracks, record, source }) => [tracks.join(), record.from, source.frames?.from])).toEqual([
      ['V1', 0, hour],
      ['A1', 10, hour + 10],
    ]);
    expect(cut.tracks).toHaveLength(2);
  });

  it('takes more tracks of sound, and markers, from lines after an event', () => {
    const { cut } = read(
      [
        '001  A001 AA C 01:00:00:00 01:00:02:00 10:00:00:00 10:00:02:00',
        'AUD  3    4',
        '* LOC: 10:00:01:00 RED     THE LANTERN GOES OUT',
      ].join('\n'),
    );
    expect(cut.events[0]?.tracks).toEqual(['A1', 'A2', 'A3', 'A4']);
    expect(cut.markers).toEqual([
      { at: 10 * hour + 24, frames: 0, text: 'THE LANTERN GOES OUT', colour: 'red', track: 'A1' },
    ]);
  });

  it('remarks on what cannot be, by its line, and reads on', () => {
    const { cut, remarks } = read(
      [
        '001  A001 V C 01:00:00:30 01:00:02:00 10:00:00:00 10:00:02:00',
        '002  A001 V C 01:00:05:00 01:00:03:00 10:00:02:00 10:00:04:00',
        '003  A001 V C 01:00:00:00 01:00:02:00 10:00:03:00 10:00:05:00',
        '004  A001 V C 01:00:00:00 01:00:02:00 10:00:07:00 10:00:05:00',
        '005  A001 V C 01:00:00:00 01:00:03:00 10:00:09:00 10:00:10:00',
        '006  A001 V C 01:00:00:00 no label 10:00:10:00',
        'WHAT IS THIS',
        '007  A001 V C 01:00:00:00 01:00:01:00 10:00:10:00 10:00:11:00',
      ].join('\n'),
    );
    expect(cut.events.map(({ number }) => number)).toEqual(['001', '002', '003', '004', '005', '007']);
    expect(cut.events[0]?.source.frames).toBeNull();
    expect(cut.events[3]?.record).toEqual({ from: 10 * hour + 7 * 24, to: 10 * hour + 9 * 24 });
    expect(remarks.map(({ line, what }) => `${line}: ${what}`)).toEqual([
      '1: 01:00:00:30 does not exist at 24.000',
      '4: The record out 10:00:05:00 comes before the record in 10:00:07:00',
      '6: "006  A001 V C 01:00:00:00 no label 10:00:10:00" is no whole event: left out',
      '7: "WHAT IS THIS" is not known: kept as a comment',
      '2: The source out 01:00:03:00 comes before the source in 01:00:05:00',
      '5: The source is 72 frames long, the record 24, and no line says the speed',
      '3: The event begins on V1 before the one there ends',
    ]);
  });

  it('is refused where nothing of it is an event', () => {
    expect(readEdl('Dear editor,\n001 is the best take', { given: null }).ok).toBe(false);
    expect(readEdl('', { given: null }).ok).toBe(false);
  });
});
