import { describe, expect, it } from 'vitest';
import { collisionKey } from './paths.ts';
import { refusedBy } from './clashes.ts';

describe('names that some system takes for one', () => {
  it.each([
    ['ΟΔΟΣ', 'οδος'],
    ['ΟΔΟΣ', 'οδοσ'],
    ['Straße', 'STRASSE'],
    ['J\u030C', '\u01F0'],
    ['cafe\u0301', 'CAFÉ'],
    ['\u212Aelvin', 'kelvin'],
    ['ﬁn', 'FIN'],
    ['ᾳ', 'ΑΙ'],
    ['Å', '\u212B'],
    ['a/X.mov', 'A/x.MOV'],
    ['ẞ', 'ss'],
  ])('%s and %s are one', (a, b) => expect(collisionKey(a)).toBe(collisionKey(b)));

  it.each([
    ['a', 'b'],
    ['é', 'e'],
    ['Σ', 'S'],
    ['A001_C003', 'A001C003'],
    ['1', '¹'],
  ])('%s and %s are two', (a, b) => expect(collisionKey(a)).not.toBe(collisionKey(b)));
});

describe('names that a system keeps for its devices', () => {
  it.each(['nul', 'NUL.mov', 'nul .mov', 'COM1', 'com¹.mov', 'LPT²', 'CONIN$', 'conout$.txt', 'AUX.a.b'])(
    '%s is refused',
    (name) => expect(refusedBy(name)?.kind).toBe('name refused by some systems'),
  );
  it.each(['null.mov', 'COM10', 'console.mov', 'auxiliary', 'A001C003.mov'])('%s is taken', (name) =>
    expect(refusedBy(name)).toBeNull(),
  );
});
