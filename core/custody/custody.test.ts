import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { recogniseCard, sayRecognised, type CardFile } from './card.ts';
import { clearingOf, placesApart, usualCopyRule, type CopyStanding } from './clearing.ts';
import { differencesOf, latestEntries, type Manifest, type ManifestEntry } from './manifest.ts';
import { cameraOf, nextRollName, rollNameProblem } from './rollName.ts';

const copy = (store: string, filesProved: number, rest: Partial<CopyStanding> = {}): CopyStanding => ({
  store,
  filesProved,
  disk: `disk of ${store}`,
  readFromDisk: true,
  problem: null,
  ...rest,
});
const entry = (path: string, hash: string, rest: Partial<ManifestEntry> = {}): ManifestEntry => ({
  path,
  sizeBytes: 10,
  modifiedAt: null,
  hashes: { xxh64: hash },
  action: 'original',
  ...rest,
});

describe('clearing a card', () => {
  it('needs every file in as many copies on as many disks as are asked for', () => {
    expect(clearingOf(usualCopyRule, 8, [copy('raid', 8), copy('shuttle', 8)])).toMatchObject({
      clear: true,
      against: [],
    });
    expect(clearingOf(usualCopyRule, 8, [copy('raid', 8), copy('shuttle', 7)])).toMatchObject({
      clear: false,
      says: 'Keep the card: 7 of 8 files are proved on shuttle',
    });
    expect(clearingOf(usualCopyRule, 8, [copy('raid', 8), copy('raid', 8)]).says).toContain(
      'all copies lie on 1 store',
    );
    // Two stores are not two disks, unless the rule says so; what is not known is not believed.
    const near = ['raid', 'shuttle'].map((store) => copy(store, 8, { disk: 'one' }));
    expect(clearingOf(usualCopyRule, 8, near)).toMatchObject({
      clear: false,
      says: 'Keep the card: raid and shuttle lie on 1 disk, 2 are asked for',
    });
    expect(clearingOf({ ...usualCopyRule, oneDisk: true }, 8, near).says).toBe(
      "The card may be cleared: 8 files proved in 2 copies on 2 stores, which by the production's rule may be one disk",
    );
    // One that is known beside one that is not may be the same; a volume goes with any disk of it.
    const half = [copy('raid', 8), copy('shuttle', 8, { disk: null })];
    expect(clearingOf(usualCopyRule, 8, half).says).toBe(
      'Keep the card: which disk shuttle lies on is not known: verify the roll again',
    );
    const on = (...disks: (string | null)[]): number =>
      placesApart(
        usualCopyRule,
        disks.map((disk, index) => ({ store: `store ${index}`, disk })),
      );
    expect([on('a + b', 'b'), on('a + b', 'c'), on('a', 'b', 'a + b'), on('a', null, 'b')]).toEqual([1, 2, 1, 2]);
    expect([on(), on('a'), on(null), on(null, null)]).toEqual([0, 1, 1, 1]);
    const unknown = ['raid', 'shuttle'].map((store) => copy(store, 8, { disk: null }));
    expect(clearingOf(usualCopyRule, 8, unknown).says).toBe(
      'Keep the card: which disk raid and shuttle lie on is not known: verify the roll again',
    );
    expect(clearingOf({ copies: 1, stores: 1 }, 8, [copy('raid', 8)]).clear).toBe(true);
    expect(clearingOf(usualCopyRule, 0, [copy('raid', 0), copy('shuttle', 0)]).clear).toBe(false);
    expect(clearingOf(usualCopyRule, 8, [copy('raid', 8), copy('shuttle', 8)], ['b.mov was not copied']).clear).toBe(
      false,
    );
    expect(clearingOf(usualCopyRule, 8, [copy('raid', 8, { readFromDisk: false }), copy('shuttle', 8)]).says).toContain(
      'raid could be read back from memory only',
    );
  });

  it('is never said while anything at all is missing', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 50 }),
        fc.array(
          fc.record({
            store: fc.constantFrom('a', 'b', 'c'),
            proved: fc.integer({ min: 0, max: 50 }),
            bad: fc.boolean(),
          }),
          { maxLength: 4 },
        ),
        (files, copies) => {
          const clearing = clearingOf(
            usualCopyRule,
            files,
            copies.map((one) => copy(one.store, Math.min(files, one.proved), { problem: one.bad ? 'x' : null })),
          );
          const whole = copies.filter((one) => one.proved >= files && !one.bad);
          const should =
            copies.every((one) => whole.includes(one)) &&
            whole.length >= 2 &&
            new Set(whole.map((one) => one.store)).size >= 2;
          expect(clearing.clear).toBe(should);
          expect(clearing.against.length === 0).toBe(should);
        },
      ),
    );
  });
});

describe('a folder against its manifest', () => {
  it('names what is missing, changed and extra', () => {
    const found = [
      { path: 'a', sizeBytes: 10, hashes: { xxh64: '1' } },
      { path: 'b', sizeBytes: 10, hashes: { xxh64: 'x' } },
      { path: 'c', sizeBytes: 11, hashes: { xxh64: '3' } },
      { path: 'new', sizeBytes: 1, hashes: {} },
    ];
    const differences = differencesOf(
      { entries: [entry('a', '1'), entry('b', '2'), entry('c', '3'), entry('gone', '4')] },
      found,
    );
    expect(differences).toMatchObject({ same: 1, missing: ['gone'], extra: ['new'] });
    expect(differences.changed.map((change) => change.path)).toEqual(['b', 'c']);
  });

  it('a file whose stated hash was not taken does not pass', () => {
    expect(
      differencesOf({ entries: [entry('a', '1'), entry('b', '', { hashes: {} })] }, [
        { path: 'a', sizeBytes: 10, hashes: { md5: 'z' } },
        { path: 'b', sizeBytes: 10, hashes: {} },
      ]).same,
    ).toBe(0);
  });

  it('a failed check does not change what a file should be; a later generation adds to the earlier', () => {
    const generation = (number: number, ...entries: ManifestEntry[]): Manifest => ({
      generation: number,
      createdAt: '',
      host: '',
      tool: '',
      process: 'in-place',
      entries,
    });
    const latest = latestEntries([
      generation(
        2,
        entry('a', 'bad', { action: 'failed' }),
        entry('b', '2', { action: 'verified', hashes: { md5: 'm' } }),
      ),
      generation(1, entry('a', 'good'), entry('b', '2'), entry('c', '3')),
    ]);
    expect(latest.map((one) => [one.path, one.hashes])).toEqual([
      ['a', { xxh64: 'good' }],
      ['b', { xxh64: '2', md5: 'm' }],
      ['c', { xxh64: '3' }],
    ]);
  });
});

describe('roll names', () => {
  it('count up for each camera, and are never taken', () => {
    expect(nextRollName('A', [])).toBe('A001');
    expect(nextRollName('a', ['A001', 'A002', 'B009'])).toBe('A003');
    expect(nextRollName('B', ['B0099'])).toBe('B0100');
    fc.assert(
      fc.property(fc.array(fc.constantFrom('A001', 'a002', 'A003', 'B001', 'A0004', 'extra')), (taken) => {
        expect(taken.map((name) => name.toLowerCase())).not.toContain(nextRollName('A', taken).toLowerCase());
      }),
    );
    expect(cameraOf(['A002C001', 'A002C002', 'X9', 'B001C001'])).toBe('A');
    expect(cameraOf(['clip', '0001'])).toBeNull();
  });

  it('are folder names on every system', () => {
    for (const name of ['A001', 'Tag 2', 'Rolle_Ä.1', '撮影'])
      expect([name, rollNameProblem(name)]).toEqual([name, null]);
    for (const name of ['', '../x', 'a/b', '.hidden', 'x.', 'x ', 'CON', 'lpt1', 'a:b', 'x'.repeat(61)])
      expect([name, rollNameProblem(name)]).not.toEqual([name, null]);
  });
});

describe('a card that comes back', () => {
  const file = (path: string, sizeBytes: number, modifiedAt = '2026-11-20T18:00:00.000Z'): CardFile => ({
    path,
    sizeBytes,
    modifiedAt,
  });
  const earlier = [
    { roll: 'A001', files: [file('a', 1), file('b', 2), file('c', 3)] },
    { roll: 'A002', files: [file('z', 9)] },
  ];
  it('is known by its files, by whole seconds of their times', () => {
    const same = recogniseCard([file('a', 1, '2026-11-20T18:00:01.500Z'), file('b', 2), file('c', 3)], earlier);
    expect(same).toEqual({ roll: 'A001', known: 3, fresh: 0, gone: 0 });
    expect(same && sayRecognised(same)).toBe('This card came in before as A001, with the very same 3 files');
    const more = recogniseCard([file('a', 1), file('b', 2), file('d', 4)], earlier);
    expect(more && sayRecognised(more)).toBe(
      'This card came in before as A001: 2 files are the same, 1 files are new, 1 are no longer on it',
    );
  });
  it('is not known by names alone', () => {
    expect(recogniseCard([file('a', 5), file('b', 6), file('c', 7)], earlier)).toBeNull();
    expect(recogniseCard([], earlier)).toBeNull();
  });
});
