import { describe, expect, it } from 'vitest';
import { relinkRow } from '../../testing/relinkRow.ts';
import { readRelinkRows } from '../relink/readRows.ts';
import { relinkJson } from '../relink/sheet.ts';
import { collectionOtio } from './collection.ts';
import { markedAlso, readMark, writeMark } from './mark.ts';
import { pairsOf } from './pairs.ts';
import { textsOf } from './texts.ts';

const rows = [
  relinkRow(),
  relinkRow({ role: 'intermediate' }),
  relinkRow({ stem: 'B 1', original: 'B 1.mov', output: 'proxy/B 1.mp4', startTimecode: '' }),
];
const items = rows.map(({ output }) => ({ path: output, kind: 'output', sizeBytes: 100 }));
const usual = {
  name: 'For the edit',
  production: 'Salt Lantern',
  receiver: 'The edit',
  day: '2026-11-20',
  rows,
  before: [relinkRow({ output: 'proxy/old.mp4' }), relinkRow({ output: 'proxy/gone.mp4' })],
  items,
  replaced: [],
  toDelete: [{ path: 'proxy/gone.mp4', sizeBytes: 1, xxh3: null, key: '' }],
  roots: { windows: 'E:\\', mac: '/Volumes/EDIT' },
};
const textOf = (texts: { path: string; text: string }[], path: string): string =>
  texts.find((one) => one.path === path)?.text ?? '';

describe('what is written beside a hand-off', () => {
  const came = new Set(rows.slice(0, 2).map(({ output }) => output));
  const texts = textsOf(usual, came);

  it('is a sheet of exactly what is there, with what is left from before', () => {
    const read = readRelinkRows(textOf(texts, 'relink.json'));
    expect(read.ok && read.value.map(({ output }) => output)).toEqual([
      'intermediate/day-1/A001/A001C001.mov',
      'proxy/day-1/A001/A001C001.mp4',
      'proxy/old.mp4',
    ]);
    expect(textOf(texts, 'TO DELETE.txt')).toBe('proxy/gone.mp4\r\n');
  });

  it('reads to a person: what, how, the two folders for each system', () => {
    const text = textOf(texts, 'READ ME.txt');
    expect(text).toContain('Salt Lantern, for The edit, 2026-11-20');
    expect(text).toContain('2 files, 200 B: 2 outputs.');
    expect(text).toContain('Windows:\r\n  E:\\proxy\r\n  E:\\intermediate\r\n');
    expect(text).toContain('macOS:\r\n  /Volumes/EDIT/proxy\r\n  /Volumes/EDIT/intermediate\r\n');
    expect(text.replaceAll('\r\n', '')).not.toContain('\n');
  });

  it('counts what is in it, most of a kind first, and breaks its lines before the 79th letter', () => {
    const others = Array.from({ length: 4 }, (_, n) => relinkRow({ output: `proxy/${n}.mov`, rate: '25' }));
    const all = [...rows, ...others];
    const text = textOf(textsOf({ ...usual, rows: all }, new Set(all.map(({ output }) => output))), 'READ ME.txt');
    expect(text).toContain('RATES\r\n  4 × 25\r\n  3 × 24\r\n');
    const longest = Math.max(...text.split('\r\n').map((line) => line.length));
    expect([longest > 70, longest <= 78]).toEqual([true, true]);
  });

  it('has every clip once in OpenTimelineIO, its files relative to the drive and by role', () => {
    const all = JSON.parse(textOf(textsOf(usual, new Set(rows.map(({ output }) => output))), 'clips.otio')) as {
      OTIO_SCHEMA: string;
      children: {
        name: string;
        media_references: Record<string, { target_url: string; available_range: { start_time: { value: number } } }>;
        active_media_reference_key: string;
      }[];
    };
    expect(all.OTIO_SCHEMA).toBe('SerializableCollection.1');
    const first = all.children.find(({ name, media_references: media }) => name === 'A001C001' && media.intermediate);
    expect(Object.keys(first?.media_references ?? {})).toContain('proxy');
    expect(first?.active_media_reference_key).toBe('proxy');
    // 01:00:00:00 at 24.
    expect(first?.media_references.intermediate?.available_range.start_time.value).toBe(86_400);
    const blank = all.children.find(({ name }) => name === 'B 1');
    expect(blank?.media_references.proxy?.target_url).toBe('proxy/B%201.mp4');
  });
});

describe('pairs that swap', () => {
  it('are those of one name, folder, timecode, length, rate and channels; the rest says why not', () => {
    const found = pairsOf(
      [
        ...['1', '2', '3', '4', '5'].flatMap((n) =>
          ['proxy', 'intermediate'].map((role) =>
            relinkRow({ role, stem: n, original: `${n}.mov`, output: `${role}/day-1/${n}.mov` }),
          ),
        ),
        relinkRow({ original: '6.mov', output: 'proxy/day-1/6.mov' }),
      ].map((row) =>
        row.role === 'proxy' || row.stem === '1'
          ? row
          : row.stem === '2'
            ? { ...row, startTimecode: '01:00:00:01', frames: 47 }
            : row.stem === '3'
              ? { ...row, channelsByTrack: '2' }
              : row.stem === '4'
                ? { ...row, output: 'intermediate/4.mov' }
                : { ...row, output: 'intermediate/day-1/five.mov', channelsByTrack: '1' },
      ),
      'proxy',
      'intermediate',
    );
    expect(found.roots).toEqual({ low: 'proxy', high: 'intermediate' });
    expect(found.pairs.map(({ stem, differs }) => [stem, ...differs])).toEqual([
      ['1'],
      ['2', 'starts at 01:00:00:01, not 01:00:00:00', 'has 47 frames, not 48'],
      // Two channels in one track are as many as in two.
      ['3'],
      ['4', 'lies in another folder than the others'],
      ['5', 'has another name', 'has 1 channel, not 2'],
    ]);
    expect(found.alone).toEqual([{ path: 'proxy/day-1/6.mov', role: 'proxy' }]);
  });
});

it('two cards with the same path on them stay apart, in pairs and in the collection', () => {
  const both = ['A001', 'B001'].flatMap((roll) =>
    ['proxy', 'intermediate'].map((role) =>
      relinkRow({ role, roll, original: 'C0001.MOV', originalXxh3: roll, output: `${role}/${roll}/C0001.mov` }),
    ),
  );
  const { pairs, alone } = pairsOf(both, 'proxy', 'intermediate');
  expect(pairs.map(({ low, high, differs }) => [low, high, ...differs])).toEqual([
    ['proxy/A001/C0001.mov', 'intermediate/A001/C0001.mov'],
    ['proxy/B001/C0001.mov', 'intermediate/B001/C0001.mov'],
  ]);
  expect(alone).toEqual([]);
  const { children } = JSON.parse(collectionOtio('Both', both)) as { children: { media_references: object }[] };
  expect(children.map((clip) => Object.keys(clip.media_references))).toEqual([
    ['proxy', 'intermediate'],
    ['proxy', 'intermediate'],
  ]);
});

describe("a drive's mark", () => {
  it('grows with each hand-off of one receiver, and begins anew with another', () => {
    const one = { receiver: 'r', called: 'The edit', handoffs: [{ id: '1', name: 'First', at: '2026-11-20' }] };
    const two = { ...one, handoffs: [{ id: '2', name: 'Second', at: '2026-11-21' }] };
    const both = markedAlso(one, two);
    expect(both.handoffs.map(({ id }) => id)).toEqual(['1', '2']);
    expect(markedAlso(both, two).handoffs).toHaveLength(2);
    expect(markedAlso(both, { ...two, receiver: 'other' }).handoffs).toHaveLength(1);
    const read = readMark(writeMark(both));
    expect(read.ok && read.value).toEqual({ ...both });
  });

  it('is read to 200,000 letters, of each word the first 200', () => {
    const mark = (called: string, length: number): string => {
      const text = JSON.stringify({ version: 1, receiver: 'x', called, handoffs: [] });
      return text + ' '.repeat(length - text.length);
    };
    expect([readMark(mark('', 200_000)).ok, readMark(mark('', 200_001)).ok]).toEqual([true, false]);
    const read = readMark(mark('y'.repeat(300), 400));
    expect(read.ok && read.value.called).toBe('y'.repeat(200));
  });

  it.each([
    '',
    '[]',
    '{"version":1}',
    '{"version":2,"receiver":"x","handoffs":[]}',
    `"${'x'.repeat(300_000)}"`,
    'null',
  ])('that is none is refused: %#', (text) => expect(readMark(text).ok).toBe(false));
});

describe('rows of a sheet that somebody brought', () => {
  it.each([
    ['leads out of the folder', { output: '../../etc/passwd' }],
    ['is no path inside the folder', { output: '/etc/passwd' }],
    ['names a LUT that leads out of the folder', { lut: '../../etc/passwd' }],
    ['has no frames', { frames: 'many' as unknown as number }],
    ['has no original', { original: undefined as unknown as string }],
    ['letters of corrected', { corrected: 'x'.repeat(30_000) }],
  ])('are refused: %s', (why, over) => {
    const read = readRelinkRows(relinkJson([relinkRow(), relinkRow(over)]));
    expect(!read.ok && read.problem.what).toContain(why);
    expect(!read.ok && read.problem.what).toContain('Line 2');
  });

  it('keep their known columns only', () => {
    const read = readRelinkRows(relinkJson([{ ...relinkRow(), ['more' as 'lut']: 'x' }]));
    expect(read.ok && read.value).toEqual([relinkRow()]);
  });
});
