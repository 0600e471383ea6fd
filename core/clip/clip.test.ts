import { describe, expect, it } from 'vitest';
import { closedFormat, codecName, isSidecar, namedLikeClip } from './formats.ts';
import { folderOf, rollOf, stemOf } from './roll.ts';

describe('rolls and names', () => {
  it('the roll is the first folder that is no shooting day; without one, what was read', () => {
    expect(rollOf('day-1/A001/A001C003.mov', 'salt-lantern')).toBe('A001');
    expect(rollOf('2026-11-20/D004/ESSENCE/UNIT01/C0001.MXF', 'x')).toBe('D004');
    expect(rollOf('Day 02/B001/clip.mp4', 'x')).toBe('B001');
    expect(rollOf('A001C003.mov', 'A001')).toBe('A001');
    expect(rollOf('day-1/clip.mov', 'shoot')).toBe('shoot');
    // A roll may be called after a day without being one.
    expect(rollOf('daylight/clip.mov', 'x')).toBe('daylight');
  });

  it('the stem keeps all dots but the last, and a name of dots alone', () => {
    expect(stemOf('A001/A001.C003.take2.mov')).toBe('A001.C003.take2');
    expect(stemOf('.hidden')).toBe('.hidden');
    expect(stemOf('noending')).toBe('noending');
    expect(folderOf('a/b/c.mov')).toBe('a/b');
    expect(folderOf('c.mov')).toBe('');
  });
});

describe('formats', () => {
  it('are called by their published names, and PCM by its depth', () => {
    expect(['h264', 'dnxhd', 'cfhd', 'pcm_s24le', 'pcm_f32le', 'something'].map(codecName)).toEqual([
      'H.264',
      'VC-3',
      'VC-5',
      'PCM 24 bit',
      'PCM 32 bit',
      'something',
    ]);
  });

  it('that are closed are known by their ending or by the letters inside', () => {
    expect(closedFormat('A001/A001_C001.R3D')).toBe('R3D camera raw');
    expect(closedFormat('clip.mov', 'aprn')).toBe('ProRes RAW');
    expect(closedFormat('clip.mov', 'apch')).toBeNull();
    expect(closedFormat('clip.mxf')).toBeNull();
  });

  it('a name promises a clip by its ending, closed formats too; what lies beside clips does not', () => {
    for (const path of ['a/C0001.MXF', 'A001.r3d', 'X001.RAW', 'S14T3.wav', 'clip.mts'])
      expect([path, namedLikeClip(path)]).toEqual([path, true]);
    for (const path of ['C0001M01.XML', '._A001.mov', 'notes.txt', 'CARD', 'tool.exe'])
      expect([path, namedLikeClip(path)]).toEqual([path, false]);
  });

  it('sidecars are told by their ending, whatever its case, and by the dots that some systems leave', () => {
    for (const path of ['C0001M01.XML', 'a/INDEX.MIF.XML', 'x.Thm', 'A001/._A001C003.mov', 'clip.lut', 'card.mhl'])
      expect([path, isSidecar(path)]).toEqual([path, true]);
    for (const path of ['C0001.MXF', 'clip.mov', 'xml', 'A001.wav', 'clip.r3d'])
      expect([path, isSidecar(path)]).toEqual([path, false]);
  });
});
