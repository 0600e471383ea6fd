import { expect, it } from 'vitest';
import { withoutEnd, withoutStart } from './trimmed.ts';

it('letters are taken from one end alone, to the last of them, and no others', () => {
  expect(withoutEnd('..a/b..//', './')).toBe('..a/b');
  expect(withoutStart('..//a/b..', './')).toBe('a/b..');
  expect([withoutEnd('///', '/'), withoutStart('///', '/')]).toEqual(['', '']);
  expect([withoutEnd('', '/'), withoutStart('', '/')]).toEqual(['', '']);
  expect([withoutEnd('abc', ''), withoutStart('abc', '')]).toEqual(['abc', 'abc']);
  expect([withoutEnd('x/', '/'), withoutStart('/x', '/')]).toEqual(['x', 'x']);
});
