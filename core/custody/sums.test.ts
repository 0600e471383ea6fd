import { describe, expect, it } from 'vitest';
import { unwrap } from '../result.ts';
import type { HashName } from './manifest.ts';
import { readSums } from './sums.ts';

const hashes = (line: string, list: string): Partial<Record<HashName, string>> | undefined =>
  unwrap(readSums(`${line}\n`, list)).entries[0]?.hashes;
const hex = (digits: number): string => 'ab'.repeat(digits / 2);

describe('which hash a bare sum is', () => {
  // By their lengths: MD5 128 bits (RFC 1321), SHA-1 160 (RFC 3174); xxHash's three are told by the list's name, as `xxhsum` writes them.
  it.each<[string, string, HashName]>([
    [`${hex(40)}  a.mov`, 'sums.txt', 'sha1'],
    [`${hex(32)}  a.mov`, 'card.md5', 'md5'],
    [`${hex(32)} *a.mov`, 'card.xxh128', 'xxh128'],
    [`${hex(16)}  a.mov`, 'card.xxh64', 'xxh64'],
    [`${hex(16)}  a.mov`, 'card.xxh3', 'xxh3'],
    [`XXH3_${hex(16)}  a.mov`, 'card.xxh64', 'xxh3'],
    [`XXH64 (a.mov) = ${hex(16)}`, 'card.xxh3', 'xxh64'],
    [`XXH3 (a.mov) = ${hex(16)}`, 'card.xxh64', 'xxh3'],
    [`MD5 (a.mov) = ${hex(32)}`, 'card.xxh128', 'md5'],
  ])('%s in %s is %s', (line, list, name) => {
    // The sum itself is one run of these digits.
    expect(hashes(line, list)).toEqual({ [name]: /(?:ab)+/.exec(line)?.[0] });
  });

  it('is not guessed for other lengths', () => {
    expect(readSums(`${hex(24)}  a.mov\n`, 'sums.txt').ok).toBe(false);
    expect(readSums(`${hex(38)}  a.mov\n`, 'sums.txt').ok).toBe(false);
  });
});
