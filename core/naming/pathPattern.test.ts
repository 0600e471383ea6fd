import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { unwrap } from '../result.ts';
import { findClashes, refusedBy, type WantedPath } from './clashes.ts';
import { applyPathPattern, mirrored, parsePathPattern, type PathFacts, type PathPattern } from './pathPattern.ts';
import { collisionKey } from './paths.ts';

const facts: PathFacts = {
  path: 'day-1/A001/CONTENTS/A001C003.MOV',
  stem: 'A001C003',
  reel: 'A001',
  roll: 'A001',
  day: 'day-1',
  camera: 'A',
  scene: '14',
  take: null,
  production: 'Salt Lantern',
  deliverable: 'Proxy',
  raster: '960x540',
  rate: '23.976',
  codec: 'h.264',
  date: '2026-11-20',
  counter: 7,
};
const made = (pattern: string, more: Partial<PathPattern> = {}, rest: Partial<PathFacts> = {}): string =>
  unwrap(applyPathPattern({ pattern, ...more }, { ...facts, ...rest }));

describe('path patterns', () => {
  it.each<[string, string]>([
    ['[source]/[stem]', 'day-1/A001/CONTENTS/A001C003'],
    ['[day]/[roll]/[stem]_[raster]', 'day-1/A001/A001C003_960x540'],
    ['[production]/[scene]_[take]_[stem]', 'Salt Lantern/14_A001C003'],
    ['[take]_[stem]', 'A001C003'],
    ['[take]/[stem]-[take].x', 'A001C003.x'],
    ['[source 2]/[stem 1-4]_[counter 4]', 'A001/A001_0007'],
    ['[date]_[stem number 2]_[counter]_[ending]_[rate]', '2026-11-20_003_007_mov_23.976'],
    ['[stem]', 'A001C003'],
  ])('%s makes %s', (pattern, path) => expect(made(pattern)).toBe(path));

  it('mirror nothing where there are no folders; keep a stem that begins with a separator', () => {
    expect(made(mirrored.pattern, {}, { path: 'a.mov', stem: 'a' })).toBe('a');
    expect(made('[source]/[stem]', {}, { stem: '_a' })).toBe('day-1/A001/CONTENTS/_a');
  });

  it('change case and replace what systems refuse, where asked; a fact never makes a folder', () => {
    expect(made('[production]/[stem]', { letters: 'upper', replace: '_' })).toBe('SALT_LANTERN/A001C003');
    expect(made('[scene]_[stem]', { replace: '-' }, { scene: '14/2: "quay"?' })).toBe('14-2---quay--_A001C003');
    expect(made('[scene]/[stem]', {}, { scene: '../up' })).toBe('..-up/A001C003');
  });

  it('say what is wrong with themselves', () => {
    for (const bad of [
      '',
      '/[stem]',
      '[stem]/',
      '../[stem]',
      'a/./[stem]',
      '[stem',
      'stem]',
      '[colour]',
      '[stem 0]',
      '[stem part]',
      'x'.repeat(201),
    ])
      expect([bad, parsePathPattern(bad).ok]).toEqual([bad, false]);
    expect(applyPathPattern({ pattern: '[take]' }, facts)).toMatchObject({
      ok: false,
      problem: { what: expect.stringContaining('gets no name') as string },
    });
  });
});

const wants = (...paths: string[]): WantedPath[] =>
  paths.map((path, index) => ({ path, original: `o${index}`, deliverable: 'd' }));
const kinds = (...paths: string[]): string[] => findClashes(wants(...paths)).map(({ kind }) => kind);

describe('clashes', () => {
  it('are found between all sides: same, same but for case or accents, a file where a folder is', () => {
    expect(kinds('a/x.mov', 'a/x.mov', 'b/x.mov')).toEqual(['same path', 'same path']);
    expect(kinds('a/X.mov', 'a/x.mov')).toEqual(['same but for case or accents', 'same but for case or accents']);
    expect(kinds('caf\u00e9.mov', 'cafe\u0301.mov')).toEqual([
      'same but for case or accents',
      'same but for case or accents',
    ]);
    expect(kinds('a.mov', 'A.MOV/b.mov')).toEqual(['a file where a folder is wanted']);
    expect(kinds('a/x.mov', 'a/y.mov', 'b/x.mov')).toEqual([]);
  });

  it('are names that some system of a team refuses', () => {
    for (const bad of [
      'a/x:y.mov',
      'a?.mov',
      'a*b',
      'a\\b',
      'tab\t.mov',
      'a./x.mov',
      'a /x.mov',
      'con.mov',
      'LPT1',
      `${'x'.repeat(300)}.mov`,
      `${'ab/'.repeat(140)}x.mov`,
    ])
      expect([bad, refusedBy(bad) !== null]).toEqual([bad, true]);
    for (const good of ['day-1/Ünter wegs/夜 2.mov', 'console.mov', 'a%03d.mov', "a'b.mov", '.hidden.mov', 'a..b.mov'])
      expect([good, refusedBy(good)]).toEqual([good, null]);
    expect(refusedBy('a'.repeat(100), 80)).toMatchObject({ kind: 'path too long' });
  });

  it("are found exactly where two paths are one to a system that ignores case and accents' forms (property)", () => {
    const part = fc.constantFrom('a', 'A', 'b', 'é', 'e\u0301', 'x1');
    fc.assert(
      fc.property(
        fc.array(
          fc.array(part, { minLength: 2, maxLength: 2 }).map((names) => names.join('/')),
          { minLength: 1, maxLength: 12 },
        ),
        (paths) => {
          const found = new Set(findClashes(wants(...paths)).map(({ original }) => original));
          paths.forEach((path, index) =>
            expect(found.has(`o${index}`)).toBe(
              paths.some((other, at) => at !== index && collisionKey(other) === collisionKey(path)),
            ),
          );
        },
      ),
    );
  });

  it('ten thousand paths are examined at once', () => {
    const from = performance.now();
    expect(
      findClashes(
        Array.from({ length: 10_000 }, (_, i) => ({
          path: `proxy/day-${i % 7}/R${i % 40}/C${i}.mov`,
          original: String(i),
          deliverable: 'd',
        })),
      ),
    ).toEqual([]);
    expect(performance.now() - from).toBeLessThan(3_000);
  });
});
