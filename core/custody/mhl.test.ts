import { describe, expect, it } from 'vitest';
import { readMhl } from './mhl.ts';

const hash = (path: string): string =>
  `<hash><path size="3">${path}</path><xxh64 action="original" hashdate="2026-11-20T18:00:00Z">0123456789abcdef</xxh64></hash>`;
const list = (inside: string, root = 'hashlist'): string =>
  `<?xml version="1.0"?><${root} version="2.0" xmlns="urn:ASC:MHL:v2.0"><hashes>${inside}</hashes></${root}>`;
const wrong = (text: string): string | null => {
  const read = readMhl(text, 1);
  return read.ok ? null : read.problem.what;
};

describe('a manifest', () => {
  it('is a hash list, each path stated once, none leading out', () => {
    expect(wrong(list(hash('A001/one.mov') + hash('A001/two.mov')))).toBeNull();
    expect(wrong(list(hash('A001/one.mov'), 'playlist'))).toBe('it is no hash list');
    expect(wrong(list(hash('A001/one.mov') + hash('A001/one.mov')))).toBe('A001/one.mov is stated twice');
    expect(wrong(list(hash('../elsewhere.mov')))).toContain('the path "../elsewhere.mov" ');
    expect(wrong(list(hash('/etc/passwd')))).toContain('the path "/etc/passwd" ');
  });

  it('says what each checksum was for: first made, found again, or found to differ', () => {
    const acted = (action: string): unknown => {
      const read = readMhl(list(hash('A001/one.mov').replace('original', action)), 1);
      return read.ok ? read.value.entries[0]?.action : read.problem;
    };
    expect(['original', 'verified', 'failed', 'new'].map(acted)).toEqual([
      'original',
      'verified',
      'failed',
      'original',
    ]);
  });

  it('with a path far too long names its first 200 letters', () => {
    const said = wrong(list(hash(`../${'x'.repeat(900)}`))) ?? '';
    expect(said.slice(0, 'the path "../'.length)).toBe('the path "../');
    expect(said.split('x').length - 1).toBe(197);
  });
});
