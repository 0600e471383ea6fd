import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { unwrap } from '../result.ts';
import { csvCell, csvLine, identityRows, parseCsv } from './csv.ts';
import { identityFields, identityOf, identityProblem } from './identity.ts';
import { applyPattern, countClashes, parsePattern, type PatternFacts } from './pattern.ts';

describe('identity', () => {
  it('is what a person said, else a sidecar, else the file', () => {
    expect(identityOf({ scene: '15' }, { scene: '14', take: '2', reel: 'S1' }, { reel: 'F1' })).toMatchObject({
      scene: '15',
      take: '2',
      reel: 'S1',
      camera: null,
    });
    expect(identityOf({}, {}, { reel: 'F1' }).reel).toBe('F1');
    expect(identityOf({ circled: false }, { circled: true }, { reel: null }).circled).toBe(false);
  });

  it('takes so many characters of each field, in whatever script, and of one line', () => {
    // 32 of a reel are kept by MXF and edit lists (common practice, no source); the others are ours.
    for (const [field, most] of [
      ['reel', 32],
      ['scene', 32],
      ['take', 16],
      ['camera', 16],
      ['note', 400],
    ] as const) {
      expect(identityProblem(field, '𝄞'.repeat(most))).toBeNull();
      expect(identityProblem(field, '𝄞'.repeat(most + 1))).toBe(`at most ${most} characters`);
    }
    for (const field of identityFields)
      expect(['a\nb', 'a\u0000', '\u001f', '\u007f'].map((value) => identityProblem(field, value) === null)).toEqual([
        ...[false, false],
        ...[false, false],
      ]);
  });
});

describe('patterns', () => {
  const facts: PatternFacts = {
    name: 'A001C003_14-2',
    folders: ['UNIT01', 'ESSENCE', 'D004'],
    roll: 'D004',
    day: 'day-1',
    date: '2026-11-20',
    timecode: '10:02:11:08',
  };
  const made = (pattern: string): string | null => applyPattern(unwrap(parsePattern(pattern)), facts);
  it.each([
    ['[name 1-4]', 'A001'],
    ['[name 5-]', 'C003_14-2'],
    ['[name 1]', 'A'],
    ['[name part 2]', '14'],
    ['[name part 3]', '2'],
    ['[name number 2]', '003'],
    ['[folder]', 'UNIT01'],
    ['[folder 3]', 'D004'],
    ['[folder 3 1-2]', 'D0'],
    ['[roll]', 'D004'],
    ['[day]', 'day-1'],
    ['[date]', '2026-11-20'],
    ['[timecode]', '10021108'],
    ['[hour]', '10'],
    ['R-[name 1-4]', 'R-A001'],
    ['14', '14'],
  ])('%s gives %s', (pattern, value) => expect(made(pattern)).toBe(value));

  it('gives nothing where a part is not there, rather than half of it', () => {
    for (const pattern of ['[name part 9]', '[folder 9]', 'x[name 50-60]', '[name number 7]'])
      expect([pattern, made(pattern)]).toEqual([pattern, null]);
    expect(applyPattern(unwrap(parsePattern('[timecode]')), { ...facts, timecode: null })).toBeNull();
  });

  it('says what is wrong with one that cannot be', () => {
    for (const pattern of [
      '[name',
      'name]',
      '[stem]',
      '[name 4-1]',
      '[name 0]',
      '[name part]',
      '[name part 1 2]',
      '[]',
      'x'.repeat(201),
    ])
      expect([pattern, parsePattern(pattern).ok]).toEqual([pattern, false]);
    fc.assert(
      fc.property(fc.string(), (text) => {
        parsePattern(text);
      }),
    );
  });

  it("counts clips that would have another one's scene, take and camera", () => {
    const clip = (scene: string | null, take: string | null, camera: string | null = null) => ({ scene, take, camera });
    expect(
      countClashes([
        clip('14', '1', 'A'),
        clip('14', '1', 'a'),
        clip('14', '1', 'B'),
        clip('14', null),
        clip(null, null),
        clip(null, null),
      ]),
    ).toBe(2);
  });
});

describe('CSV', () => {
  it('comes back as it was written, whatever is in it (RFC 4180)', () => {
    const cell = fc.string().filter((text) => !/^'[=+\-@\t\r]/.test(text) && !text.includes('\r'));
    fc.assert(
      fc.property(fc.array(fc.array(cell, { minLength: 2, maxLength: 4 }), { minLength: 1, maxLength: 5 }), (table) => {
        const rows = [['a', 'b', 'c', 'd'], ...table.filter((row) => row.some((text) => text !== ''))];
        const read = unwrap(parseCsv(rows.map((row) => csvLine(row)).join('\r\n')));
        expect(read.map((row) => row.map((text) => (text.startsWith("'") ? text.slice(1) : text)))).toEqual(
          rows.map((row) => row.map((text) => (text.startsWith("'") ? text.slice(1) : text))),
        );
      }),
    );
  });

  it('holds nothing that a spreadsheet would run', () => {
    for (const text of [
      '=1+1',
      '+cmd',
      '-2',
      '@SUM(A1)',
      '=HYPERLINK("http://x")',
      '＝1+1',
      '＋1',
      '－1',
      '＠x',
      '−1',
      '\u200b=1',
      '\ufeffx',
      '\u00a0=1',
      ' =1',
      '\u0001x',
    ])
      expect(csvCell(text).replace(/^"/, '').startsWith("'")).toBe(true);
    expect(csvCell(-5)).toBe('-5');
    expect(csvCell(null)).toBe('');
  });

  const known = [
    { id: '1', path: 'a/C1.mov', stem: 'C1' },
    { id: '2', path: 'b/C1.mov', stem: 'C1' },
    { id: '3', path: 'b/C2.mov', stem: 'C2' },
  ];
  const rows = (text: string) => unwrap(identityRows(unwrap(parseCsv(text)), known));

  it('finds clips by id, path or a name of their own, and takes in what is named', () => {
    const read = rows('\ufeffclip;path;id;scene;take;circled;starts\n;a/C1.mov;;14;2;yes;10:00\nC2;;;15;;no;\n');
    expect(read.rows).toEqual([
      { row: 2, clip: '1', change: { scene: '14', take: '2', circled: true } },
      { row: 3, clip: '3', change: { scene: '15', take: null, circled: false } },
    ]);
    expect([read.refused, read.ignored]).toEqual([[], ['starts']]);
  });

  it('takes back the apostrophe that it put before a formula', () => {
    expect(rows(`path,note\na/C1.mov,${csvCell('=rain')}\n`).rows[0]?.change).toEqual({ note: '=rain' });
  });

  it('refuses row by row, with the reason', () => {
    const read = rows(
      `clip,path,take,circled\nC1,,1,\n,gone.mov,1,\n,a/C1.mov,${'9'.repeat(17)},\n,b/C2.mov,1,maybe\n,b/C1.mov,1,\n,b/C1.mov,2,\nC2,,1,,,extra\n`,
    );
    expect(read.refused.map((line) => [line.row, line.why.slice(0, 24)])).toEqual([
      [2, '2 clips are called C1; g'],
      [3, 'no clip here is called g'],
      [4, 'take: at most 16 charact'],
      [5, 'circled: "maybe" is neit'],
      [7, 'is about the same clip a'],
      [8, 'has 6 cells, the heading'],
    ]);
    expect(read.rows.map((line) => line.clip)).toEqual(['2']);
  });

  it('says what it looked for where no clip is called so: the path, else the name, else the number', () => {
    const read = rows('clip,path,id,take\nC9,gone.mov,7,1\nC9,,7,1\n,,7,1\n,,,1\n');
    expect(read.refused.map(({ why }) => why)).toEqual([
      'no clip here is called gone.mov',
      'no clip here is called C9',
      'no clip here is called 7',
      'no clip here is called nothing',
    ]);
  });

  it('takes a row whose cells beyond the headings are empty', () => {
    const read = rows('path,take\na/C1.mov,1, ,\n');
    expect([read.rows.length, read.refused]).toEqual([1, []]);
  });

  it('that cannot be read at all says so', () => {
    expect(parseCsv('a,"b').ok).toBe(false);
    expect(identityRows([['x', 'y']], known).ok).toBe(false);
    expect(identityRows([['path', 'starts']], known).ok).toBe(false);
    expect(identityRows([], known).ok).toBe(false);
  });
});
