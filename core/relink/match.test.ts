import { describe, expect, it } from 'vitest';
import type { CutEvent } from '../cut/cut.ts';
import { readEdl } from '../cut/edl/read.ts';
import { framesNeeded } from '../cut/needed.ts';
import { unwrap } from '../result.ts';
import { rational, type Rational } from '../time/rational.ts';
import { Matcher, type Match } from './match.ts';
import type { CutOriginal, CutOutput } from './target.ts';

const film = rational(24000, 1001);
const original = (
  path: string,
  start: string | null,
  reel: string | null,
  more: Partial<CutOriginal> = {},
): CutOriginal => ({
  path,
  reels: reel === null ? [] : [reel],
  timecode: start === null ? null : { start, dropFrame: start.includes(';') },
  rate: film,
  frames: 240,
  ...more,
});

const shoot = [
  original('day-1/A001/A001C001.mov', '01:00:00:00', 'A001'),
  original('day-1/A001/A001C002.mov', '01:00:10:00', 'A001'),
  original('day-1/B001/B001C001.mov', '02:00:00:00', 'B001_1123_LONG_NAME'),
  original('day-1/D004/C0001.mp4', null, null),
  original('day-1/D005/C0001.mp4', null, null),
  original('day-2/S009/S009C001.mov', '16:45:10;12', 'S009', { rate: rational(60000, 1001), frames: 120 }),
  original('day-2/sound/T01.wav', null, null, {
    rate: null,
    frames: 0,
    sound: { start: rational(3600), seconds: rational(60) },
  }),
];

interface Said {
  reel?: string;
  in?: string;
  out?: string;
  name?: string;
  file?: string;
  tracks?: string;
}

function event(
  { reel = 'AX', in: from = '01:00:00:00', out = '01:00:02:00', name, file, tracks = 'V' }: Said,
  rate: Rational = film,
): CutEvent {
  const [h, m, s, f] = [from, out]
    .map((one) => one.split(/[:;]/).map(Number))
    .reduce((a, b) => b.map((x, i) => x - (a[i] as number))) as [number, number, number, number];
  const length = ((h * 60 + m) * 60 + s) * Math.round(rate.num / rate.den) + f;
  const nominal = Math.round(rate.num / rate.den);
  const two = (n: number): string => String(n).padStart(2, '0');
  const list = [
    `001 ${reel} ${tracks} C ${from} ${out} 00:00:00:00 00:00:${two(Math.floor(length / nominal))}:${two(length % nominal)}`,
    name && `* FROM CLIP NAME: ${name}`,
    file && `* SOURCE FILE: ${file}`,
  ];
  return unwrap(readEdl(list.filter(Boolean).join('\n'), { given: rate })).cut.events[0] as CutEvent;
}

function match(said: Said, { originals = shoot, outputs = [] as CutOutput[], rate = film } = {}): Match {
  const one = event(said, rate);
  const [needed] = framesNeeded({ rate: { rate, known: 'given', why: '' }, events: [one] } as never);
  return new Matcher(originals, outputs).match(one, needed ?? null) as Match;
}
const short = (found: Match, originals = shoot): string =>
  `${found.grade} ${found.original === null ? '-' : originals[found.original]?.path} ${found.frames ? `${found.frames.from}-${found.frames.to}` : '-'}`;

describe('an event is found', () => {
  it('exactly, by reel and timecode', () => {
    expect(short(match({ reel: 'A001', in: '01:00:11:00', out: '01:00:13:00' }))).toBe(
      'exact day-1/A001/A001C002.mov 24-72',
    );
  });

  it('by name and timecode where the reel says nothing, or something else', () => {
    const said = { in: '02:00:00:12', out: '02:00:01:00', name: 'B001C001.mov' };
    expect(short(match(said))).toBe('name day-1/B001/B001C001.mov 12-24');
    expect(short(match({ ...said, reel: 'X999' }))).toBe('name day-1/B001/B001C001.mov 12-24');
  });

  it('by path, counted from 0 where there is no timecode', () => {
    const found = match({ in: '00:00:01:00', out: '00:00:02:00', file: 'D:\\cards\\D005\\C0001.MP4' });
    expect(short(found)).toBe('path day-1/D005/C0001.mp4 24-48');
  });

  it('by timecode alone only where nothing else is said and one alone has it', () => {
    expect(short(match({ in: '02:00:01:00', out: '02:00:02:00' }))).toBe('timecode day-1/B001/B001C001.mov 24-48');
    expect(match({ reel: 'B007', in: '02:00:01:00', out: '02:00:02:00' }).grade).toBe('none');
    const twice = [...shoot, original('day-2/C001/C001C001.mov', '02:00:00:00', 'C001')];
    expect(match({ in: '02:00:01:00', out: '02:00:02:00' }, { originals: twice }).grade).toBe('several');
  });

  it('as sound, at the moment of the day that a recorder counts from', () => {
    expect(short(match({ name: 'T01', tracks: 'A', in: '01:00:10:00', out: '01:00:11:00' }))).toBe(
      'name day-2/sound/T01.wav 326-350',
    );
    expect(match({ name: 'T01', tracks: 'V', in: '01:00:10:00', out: '01:00:11:00' }).original).not.toBe(6);
  });
});

describe('an event is found only nearly, and it is said why', () => {
  it.each([
    ['a001', 'A001'],
    ['A-001', 'A001'],
    ['A001.mov', 'A001'],
  ])('where its reel is written %s', (reel, own) => {
    const found = match({ reel });
    expect(short(found)).toBe('nearly day-1/A001/A001C001.mov 0-48');
    expect(found.why).toBe(`Its reel is written ${own}, in the list ${reel}`);
  });

  it('where its reel was cut off', () => {
    const found = match({ reel: 'B001_112', in: '02:00:00:00', out: '02:00:01:00' });
    expect(short(found)).toBe('nearly day-1/B001/B001C001.mov 0-24');
    expect(found.why).toBe('Its reel B001_1123_LONG_NAME is cut to B001_112 in the list');
  });

  it('where frames that it needs are beyond the original, or all of them are', () => {
    const part = match({ reel: 'A001', in: '01:00:19:00', out: '01:00:21:00' });
    expect(short(part)).toBe('nearly day-1/A001/A001C002.mov 216-240');
    expect(part.why).toBe('Frames that are needed are not in it: 24 after its end');
    const outside = match({ name: 'A001C001', in: '05:00:00:00', out: '05:00:01:00' });
    expect(short(outside)).toBe('nearly day-1/A001/A001C001.mov -');
    expect(outside.why).toBe('It runs from 01:00:00:00 to 01:00:10:00, and none of what is needed lies in it');
  });

  it('where it counts at another rate: the same seconds are taken', () => {
    const found = match({ reel: 'S009', in: '16:45:11:00', out: '16:45:11:12' });
    expect(short(found)).toBe('nearly day-2/S009/S009C001.mov 48-78');
    expect(found.why).toContain('It counts at 59.94, the list at 23.976');
  });

  it('where the list counts without regard to drop-frame', () => {
    const drops = [original('a.mov', '00:10:00;00', 'R1', { rate: rational(30000, 1001), frames: 300 })];
    const found = match(
      { reel: 'R1', in: '00:10:01:00', out: '00:10:02:00' },
      { originals: drops, rate: rational(30000, 1001) },
    );
    expect(short(found, drops)).toBe('exact a.mov 30-60');
  });
});

describe('an event is not found', () => {
  it('where several answer: they are named', () => {
    const found = match({ in: '00:00:01:00', out: '00:00:02:00', name: 'C0001' });
    expect(found.grade).toBe('several');
    expect(found.why).toBe('2 originals answer: day-1/D004/C0001.mp4, day-1/D005/C0001.mp4');
    expect(found.near.map(({ original: one }) => one)).toEqual([3, 4]);
  });

  it('where nothing has its reel; what has its timecode is named beside', () => {
    const found = match({ reel: 'C007', in: '01:00:01:00', out: '01:00:02:00' });
    expect(short(found)).toBe('none - -');
    expect(found.why).toBe('No original here has the reel C007');
    expect(found.near).toEqual([{ original: 0, differs: 'Its reel is A001, in the list C007' }]);
  });

  it('where its reel is here, and its timecode is not', () => {
    const found = match({ reel: 'A001', in: '05:00:01:00', out: '05:00:02:00' });
    expect(found.grade).toBe('none');
    expect(found.why).toBe('No original of the reel A001 has its timecode, 05:00:01:00');
    expect(found.near.map(({ original: one }) => one)).toEqual([0, 1]);
  });

  it('where its timecode does not exist', () => {
    expect(match({ reel: 'A009', in: '01:00:00:29', out: '01:00:02:00' }).why).toBe(
      'Its source timecode 01:00:00:29 does not exist',
    );
  });
});

describe('through what was made of an original', () => {
  const proxy = (more: Partial<CutOutput>): CutOutput => ({
    original: 5,
    path: 'proxy/S009/S009C001.mp4',
    reel: 'S009',
    timecode: { start: '16:45:10:04', dropFrame: false },
    rate: film,
    frames: 120,
    map: { kind: 'every' },
    ...more,
  });

  it('an event leads through its map to the right frames', () => {
    const said = { reel: 'S009', in: '16:45:11:04', out: '16:45:11:16' };
    // Played slower, every frame once: the 24th frame of the proxy is the 24th of the original.
    expect(short(match(said, { outputs: [proxy({})] }))).toBe('exact day-2/S009/S009C001.mov 24-36');
    // Every second frame or so dropped, at the original's own speed: 2.5 frames of 59.94 are one of 23.976.
    const held = proxy({ frames: 48, map: { kind: 'hold', ratio: rational(2, 5) } });
    expect(short(match(said, { outputs: [held] }))).toBe('exact day-2/S009/S009C001.mov 60-88');
  });

  it('its path is enough where names do not tell', () => {
    const found = match(
      { in: '00:00:01:00', out: '00:00:02:00', file: '/mnt/shuttle/proxy/D004/take one.mov' },
      { outputs: [proxy({ original: 3, path: 'proxy/D004/take one.mov', reel: '', timecode: null })] },
    );
    expect(short(found)).toBe('path day-1/D004/C0001.mp4 24-48');
    expect(found.why).toContain('through proxy/D004/take one.mov');
  });
});
