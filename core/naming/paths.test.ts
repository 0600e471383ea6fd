import { describe, expect, it } from 'vitest';
import { collisionKey, isTooLong, pathProblem } from './paths.ts';

describe('output paths', () => {
  it('are refused when they lead out, cannot be written, or are too long for a file system', () => {
    for (const path of ['../a.mov', 'a/../../b.mov', 'a//b.mov', './a.mov', 'a/\u0007.mov', `${'ü'.repeat(126)}.mov`])
      expect([path, pathProblem(path) !== null]).toEqual([path, true]);
    for (const path of [
      'proxy/A001/A001C003.mov',
      'proxy/Ünter wegs/夜 2.mov',
      `${'ü'.repeat(125)}.mov`,
      'a..b/c...mov',
    ])
      expect([path, pathProblem(path)]).toEqual([path, null]);
  });

  it('may have 255 bytes in a name, of whatever letters', () => {
    // One, two and three bytes a letter in UTF-8.
    for (const [letter, most] of [
      ['a', 255],
      ['ü', 127],
      ['夜', 85],
    ] as const) {
      expect(isTooLong(letter.repeat(most))).toBe(false);
      expect(isTooLong(letter.repeat(most + 1))).toBe(true);
    }
  });

  it('are one to some system when they differ only in case or Unicode form', () => {
    expect(collisionKey('a/X.mov')).toBe(collisionKey('a/x.MOV'));
    expect(collisionKey('cafe\u0301')).toBe(collisionKey('caf\u00e9'));
    expect(collisionKey('a/x.mov')).not.toBe(collisionKey('b/x.mov'));
  });
});
