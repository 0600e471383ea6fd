import { describe, expect, it } from 'vitest';
import { finishAndCut, viewingCopies } from '../recipe/recipe.ts';
import { recipesTogether } from '../recipe/together.ts';
import { circleThrough, type InletPlaces } from './circle.ts';
import { KnownFiles, type KnownFile } from './content.ts';
import { readinessOf, sayWaiting, type ArrivalRules, type Surroundings } from './ready.ts';
import { isTemporaryName, standsFor } from './temporaryNames.ts';
import { thingsAmong, type Thing } from './things.ts';
import { watched, type Watched } from './watched.ts';

const gib = 2 ** 30;
const file = (path: string, sizeBytes = 1_000_000, quiet = true) => ({ path, sizeBytes, quiet });
const keys = (things: readonly Thing[]) => things.map(({ key, paths }) => [key, ...paths.filter((one) => one !== key)]);

describe('names', () => {
  it.each(['A.mov.part', 'A.mov.crdownload', 'Unconfirmed 4711.crdownload', '.A.mov.Xy12Zq', 'x/~$list.csv', 'A.TMP'])(
    '%s is temporary',
    (name) => expect(isTemporaryName(name)).toBe(true),
  );
  it.each(['A001C003.mov', 'part.mov', 'A.part.mov', 'day-1/tmp/C0001.MXF', 'download'])('%s is not', (name) =>
    expect(isTemporaryName(name)).toBe(false),
  );
  it('say what they stand for, where they do', () => {
    expect(standsFor('day/A.mov.part')).toBe('day/A.mov');
    expect(standsFor('day/A.mov')).toBeNull();
    expect(standsFor('day/.part')).toBeNull();
  });
});

describe('what is quiet', () => {
  it('is told by what was seen, not by what times a disk states', () => {
    const seen = (mark: string, sizeBytes = 10) => [{ path: 'A.mov', sizeBytes, mark }];
    const first = watched(new Map(), seen('2020'), 1_000);
    const same = watched(first, seen('2020'), 9_000);
    expect(same.get('A.mov')?.sameSinceMs).toBe(1_000);
    // Its time went back, as when a copy keeps times or a clock is set: it changed all the same.
    expect(watched(same, seen('1999'), 9_500).get('A.mov')?.sameSinceMs).toBe(9_500);
    expect(watched(same, seen('2020', 11), 9_500).get('A.mov')?.sameSinceMs).toBe(9_500);
    expect(watched(same, [], 9_500).size).toBe(0);
    // Gone and back again it begins anew.
    expect(watched(watched(same, [], 9_500), seen('2020'), 9_900).get('A.mov')?.sameSinceMs).toBe(9_900);
  });
});

describe('what belongs together', () => {
  it('is a card with all that is on it, wherever it was dropped', () => {
    const things = thingsAmong([
      file('A001/PRIVATE/M4ROOT/CLIP/C0001.MP4'),
      file('A001/PRIVATE/M4ROOT/CLIP/C0001M01.XML'),
      file('A001/INDEX.XML'),
      file('loose.mov'),
      file('DCIM/100/V1.MOV'),
    ]);
    expect(keys(things)).toEqual([
      ['', 'DCIM/100/V1.MOV'],
      // What lies beside a camera's folders is of no card by its name; it comes by itself.
      ['A001', 'A001/PRIVATE/M4ROOT/CLIP/C0001.MP4', 'A001/PRIVATE/M4ROOT/CLIP/C0001M01.XML'],
      ['A001/INDEX.XML'],
      ['loose.mov'],
    ]);
  });

  it('is a folder with a manifest of its own', () => {
    const files = [file('R1/a.mov'), file('R1/sub/b.mov'), file('R2/a.mov')];
    expect(keys(thingsAmong(files, new Set(['R1'])))).toEqual([['R1', 'R1/a.mov', 'R1/sub/b.mov'], ['R2/a.mov']]);
  });

  it('is a clip with its sidecars, in its folder and beside it, and nobody else', () => {
    const things = thingsAmong([
      file('D/ESSENCE/C0001.MXF'),
      file('D/ESSENCE/C0002.MXF'),
      file('D/META/C0001M01.XML'),
      file('D/ESSENCE/C0002.wav'),
      file('E/C0001.MXF'),
      file('notes.txt'),
    ]);
    expect(keys(things)).toEqual([
      ['D/ESSENCE/C0001.MXF', 'D/META/C0001M01.XML'],
      ['D/ESSENCE/C0002.MXF', 'D/ESSENCE/C0002.wav'],
      ['E/C0001.MXF'],
      ['notes.txt'],
    ]);
  });

  it('is what may be chapters: those that recorders split, and the one that is still being copied', () => {
    const split = [file('V_01.MP4', 4 * gib - 500), file('V_02.MP4', 3 * gib)];
    expect(keys(thingsAmong(split))).toEqual([['V_01.MP4', 'V_02.MP4']]);
    const two = [file('V_01.MP4', 700_000), file('V_02.MP4', 300_000)];
    expect(thingsAmong(two)).toHaveLength(2);
    expect(thingsAmong([two[0] as (typeof two)[0], file('V_02.MP4', 300_000, false)])).toHaveLength(1);
    // A day of clips that count up does not wait for its last.
    const day = Array.from({ length: 300 }, (_, n) =>
      file(`A_${String(n).padStart(3, '0')}.MOV`, 1_000_000 * (1 + (n % 2)), n < 298),
    );
    expect(thingsAmong(day)).toHaveLength(298);
  });

  it('is found among ten thousand files at once, also where all have one name', () => {
    const from = performance.now();
    const one = Array.from({ length: 10_000 }, (_, n) => [file(`${n}/C0001.MXF`), file(`${n}/C0001M01.XML`)]).flat();
    expect(thingsAmong(one)).toHaveLength(10_000);
    expect(performance.now() - from).toBeLessThan(5_000);
  });
});

describe('when something is taken up', () => {
  const rules: ArrivalRules = { quietMs: 10_000, partner: null };
  const known = (entries: Record<string, [size: number, since: number]>): Map<string, Watched> =>
    new Map(
      Object.entries(entries).map(([path, [sizeBytes, sameSinceMs]]) => [
        path,
        { path, sizeBytes, mark: '', sameSinceMs },
      ]),
    );
  const around = (entries: Record<string, [number, number]>, rest: Partial<Surroundings> = {}): Surroundings => ({
    files: known(entries),
    sizeAt: (path) => entries[path]?.[0] ?? null,
    temporary: [],
    stated: null,
    open: new Set(),
    nowMs: 20_000,
    ...rest,
  });
  const one: Thing = { key: 'A.mov', kind: 'files', paths: ['A.mov'] };

  it('all of it was quiet long enough, and not a moment before', () => {
    const two: Thing = { ...one, paths: ['A.mov', 'A.xml'] };
    expect(readinessOf(two, rules, around({ 'A.mov': [5, 0], 'A.xml': [5, 10_000] }))).toEqual({
      ready: true,
      by: 'quiet',
    });
    expect(readinessOf(two, rules, around({ 'A.mov': [5, 0], 'A.xml': [5, 10_001] }))).toEqual({
      ready: false,
      why: { kind: 'changing', path: 'A.xml' },
      untilMs: 20_001,
    });
  });

  it.each([
    ['it is open', { open: new Set(['A.mov']) }, 'A.mov is open and may still be written to'],
    ['its temporary name lies beside it', { temporary: ['A.mov.part'] }, /A\.mov\.part is still being copied/],
  ] as const)('never while %s', (_, rest, words) => {
    const found = readinessOf(one, rules, around({ 'A.mov': [5, 0] }, rest));
    expect(found.ready ? '' : sayWaiting(found.why)).toMatch(words);
  });

  it('never while it is empty', () => {
    expect(readinessOf(one, rules, around({ 'A.mov': [0, 0] }))).toMatchObject({
      ready: false,
      why: { kind: 'empty' },
      untilMs: null,
    });
  });

  it('at once when its partner lies beside it, by its whole name or its stem; or only then', () => {
    const partner = { ending: 'done', needed: true };
    const changed = { 'A.mov': [5, 19_999] as [number, number] };
    // A partner may have come long before.
    const lies = (name: string) => ({ sizeAt: (path: string) => (path === name ? 0 : null) });
    for (const name of ['A.mov.done', 'A.done', 'A.mov.DONE'])
      expect(readinessOf(one, { ...rules, partner }, around(changed, lies(name)))).toEqual({
        ready: true,
        by: 'partner',
      });
    expect(readinessOf(one, { ...rules, partner }, around({ 'A.mov': [5, 0] }, lies('B.done')))).toMatchObject({
      why: { kind: 'partner' },
    });
    const card: Thing = { key: 'K1', kind: 'structure', paths: ['K1/DCIM/a.mov', 'K1/DCIM/b.mov'] };
    const both = { 'K1/DCIM/a.mov': [5, 19_999] as [number, number], 'K1/DCIM/b.mov': [5, 19_999] as [number, number] };
    expect(readinessOf(card, { ...rules, partner }, around(both, lies('K1.done')))).toMatchObject({ ready: true });
    expect(readinessOf(card, { ...rules, partner }, around(both, lies('K1/DCIM/a.done')))).toMatchObject({
      ready: false,
    });
  });

  it('at once when all that its manifest states is there, in its sizes; without it for a while only', () => {
    const roll: Thing = { key: 'R', kind: 'structure', paths: ['R/a.mov'] };
    const stated = [
      { path: 'R/a.mov', sizeBytes: 5 },
      { path: 'R/b.mov', sizeBytes: 7 },
    ];
    const whole = around({ 'R/a.mov': [5, 19_999], 'R/b.mov': [7, 19_999] }, { stated });
    expect(readinessOf(roll, rules, whole)).toEqual({ ready: true, by: 'manifest' });
    const short = around({ 'R/a.mov': [5, 0], 'R/b.mov': [6, 0] }, { stated });
    const found = readinessOf(roll, rules, short);
    expect(found.ready ? '' : sayWaiting(found.why)).toBe(
      '1 of the 2 files that its manifest states are not there yet',
    );
    expect(readinessOf(roll, rules, { ...short, nowMs: 200_000 })).toEqual({ ready: true, by: 'quiet' });
    // What was dealt with before is there, too, and what is hidden is not looked for.
    const rest = { ...short, sizeAt: (path: string) => (path === 'R/b.mov' ? 7 : 5) };
    const hidden = { path: 'R/.litter', sizeBytes: 3 };
    expect(readinessOf(roll, rules, { ...rest, stated: [...stated, hidden] })).toEqual({ ready: true, by: 'manifest' });
    // A list of sums states no sizes, and says nothing before it is quiet.
    const sums = stated.map(({ path }) => ({ path, sizeBytes: null }));
    expect(readinessOf(roll, rules, { ...whole, stated: sums })).toMatchObject({ why: { kind: 'changing' } });
  });
});

describe('what was taken up before', () => {
  const taken: KnownFile = {
    path: 'A.mov',
    sizeBytes: 5,
    modifiedAt: '2026-11-20T10:00:00.000Z',
    sampled: 'aa',
    whole: 'AA',
  };
  const files = new KnownFiles([taken]);
  const renamed = { ...taken, path: 'B.mov', modifiedAt: '2026-11-21T10:00:00.000Z' };

  it('is known by its place, size and time, and nothing of it is read', () => {
    const { path, sizeBytes, modifiedAt } = taken;
    expect(files.acquaintance({ path, sizeBytes, modifiedAt })).toMatchObject({ kind: 'known', how: 'same place' });
  });

  it('is known by its content under another name; as little is read as tells', () => {
    const { path, sizeBytes, modifiedAt } = renamed;
    const bare = { path, sizeBytes, modifiedAt };
    expect(files.acquaintance({ ...bare, sizeBytes: 6 })).toEqual({ kind: 'new' });
    expect(files.acquaintance(bare)).toEqual({ kind: 'sample it' });
    expect(files.acquaintance({ ...bare, sampled: 'bb' })).toEqual({ kind: 'new' });
    expect(files.acquaintance({ ...bare, sampled: 'aa' })).toEqual({ kind: 'read it', maybe: [taken] });
    expect(files.acquaintance({ ...bare, sampled: 'aa', whole: 'AB' })).toEqual({ kind: 'new' });
    expect(files.acquaintance({ ...bare, sampled: 'aa', whole: 'AA' })).toMatchObject({ how: 'same content' });
  });

  it('is new again when other content has its name', () => {
    const again = new KnownFiles([taken]);
    const bare = { path: taken.path, sizeBytes: 9, modifiedAt: taken.modifiedAt };
    expect(again.acquaintance(bare)).toEqual({ kind: 'new' });
    again.add({ ...taken, sizeBytes: 9, sampled: 'cc', whole: 'CC' });
    // The first content is forgotten with its place: it may come back, and is then new.
    expect(again.acquaintance({ ...renamed, sampled: 'aa', whole: 'AA' })).toEqual({ kind: 'new' });
    expect(again.size).toBe(1);
  });
});

describe('a circle of inlets', () => {
  const inlet = (name: string, from: string, to: string): InletPlaces => ({
    name,
    sources: [{ store: 'raid', folder: from }],
    results: [{ store: 'raid', folder: to }],
  });

  it('is refused with the way round it; a chain that ends is none', () => {
    const chain = [inlet('proxies', 'b', 'c'), inlet('review', 'c', 'd')];
    expect(circleThrough(inlet('first', 'a', 'b'), chain)).toBeNull();
    expect(circleThrough(inlet('first', 'd', 'b/below'), chain)).toEqual(['first', 'proxies', 'review', 'first']);
    expect(circleThrough(inlet('self', 'a', 'a/out'), [])).toEqual(['self', 'self']);
    // A folder whose name merely begins alike is another.
    expect(circleThrough(inlet('self', 'a', 'ab'), [])).toBeNull();
    // A circle of others, which this one only feeds, is theirs.
    expect(circleThrough(inlet('x', 'x', 'p'), [inlet('p', 'p', 'q'), inlet('q', 'q', 'p')])).toBeNull();
  });
});

describe('recipes together', () => {
  it('are one recipe of all their deliverables; what is called the same is told apart', () => {
    const other = { ...finishAndCut, name: 'Again' };
    const both = recipesTogether([finishAndCut, viewingCopies]);
    expect(both.ok && both.value.deliverables.map(({ name }) => name)).toEqual(['Intermediate', 'Proxy', 'Review']);
    const same = recipesTogether([finishAndCut, other]);
    expect(same.ok && same.value.deliverables.map(({ name }) => name)).toEqual([
      'Intermediate (Finish and cut)',
      'Proxy (Finish and cut)',
      'Intermediate (Again)',
      'Proxy (Again)',
    ]);
    expect(recipesTogether([finishAndCut, finishAndCut]).ok).toBe(false);
    expect(recipesTogether([]).ok).toBe(false);
  });
});
