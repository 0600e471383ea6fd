import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { collisionKey, findCollisions, outputPath, pathProblem } from './paths.ts';

describe('output paths', () => {
  it('mirror the original\'s folders below the deliverable\'s, with the stem kept', () => {
    expect(outputPath('proxy', 'day-2/D004/ESSENCE/UNIT01/C0001.MXF', 'C0001', 'mov')).toBe('proxy/day-2/D004/ESSENCE/UNIT01/C0001.mov');
    expect(outputPath('', 'clip.mp4', 'clip', 'mov')).toBe('clip.mov');
  });

  it('are refused when they lead out, cannot be written, or are too long for a file system', () => {
    for (const path of ['../a.mov', 'a/../../b.mov', 'a//b.mov', './a.mov', 'a/\u0007.mov', `${'ü'.repeat(126)}.mov`]) expect([path, pathProblem(path) !== null]).toEqual([path, true]);
    for (const path of ['proxy/A001/A001C003.mov', 'proxy/Ünter wegs/夜 2.mov', `${'ü'.repeat(125)}.mov`, 'a..b/c...mov']) expect([path, pathProblem(path)]).toEqual([path, null]);
  });

  it('that any team member\'s system would take for one are found, each group once', () => {
    expect(findCollisions(['a/X.mov', 'a/x.MOV', 'b/x.mov', 'cafe\u0301', 'caf\u00e9'])).toEqual([['a/X.mov', 'a/x.MOV'], ['cafe\u0301', 'caf\u00e9']]);
  });

  it('collide exactly when their keys are equal, whatever the names', () => {
    fc.assert(fc.property(fc.array(fc.string({ maxLength: 6 }), { maxLength: 12 }), (paths) => {
      const colliding = findCollisions(paths).flat();
      for (const path of paths) {
        const twins = paths.filter((other) => collisionKey(other) === collisionKey(path));
        expect(colliding.filter((other) => other === path).length > 0).toBe(twins.length > 1);
      }
    }));
  });
});
