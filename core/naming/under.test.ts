import fc from 'fast-check';
import { posix } from 'node:path';
import { describe, expect, it } from 'vitest';
import { nameProblem, OutOfPlace, placeProblem, under } from './under.ts';

describe('places of names that nobody vouches for', () => {
  it('are below their folder, or are refused', () => {
    expect(under('/stores/raid', 'day-1/A001', 'clip.mov')).toBe('/stores/raid/day-1/A001/clip.mov');
    expect(under('/stores/raid', '')).toBe('/stores/raid');
    expect(under('/', 'a')).toBe('/a');
    for (const name of [
      '..',
      '../x',
      'a/../../x',
      '/etc/passwd',
      './a',
      'a//b',
      'a/',
      'nul\0',
      'a/'.repeat(1_900) + 'x',
      'x'.repeat(5_000),
    ]) {
      expect(() => under('/stores/raid', name), name.slice(0, 20)).toThrow(OutOfPlace);
    }
  });

  it("whatever the name, never lead out (against Node's own resolution)", () => {
    const part = fc.oneof(fc.constantFrom('..', '.', '', 'a', '\0', '\\', '...'), fc.string());
    fc.assert(
      fc.property(fc.array(part, { maxLength: 6 }), (parts) => {
        const name = parts.join('/');
        let place: string;
        try {
          place = under('/stores/raid', name);
        } catch {
          return;
        }
        const resolved = posix.resolve(place);
        expect(resolved === '/stores/raid' || resolved.startsWith('/stores/raid/')).toBe(true);
      }),
      { numRuns: 2_000 },
    );
  });

  it("that documents state may hold no system's separator", () => {
    expect(placeProblem('A001/clip.mov')).toBeNull();
    for (const path of ['', '..\\x', 'A001\\clip.mov', 'C:\\x', '../x', '/x', 'a\0b'])
      expect(placeProblem(path), path).not.toBeNull();
    expect(nameProblem('0001_A001.mhl')).toBeNull();
    for (const name of ['', '.', '..', 'a/b', 'a\\b', '0001_x/../../y.mhl'])
      expect(nameProblem(name), name).not.toBeNull();
  });
});
