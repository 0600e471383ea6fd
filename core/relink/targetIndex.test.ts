import { expect, it } from 'vitest';
import type { CutEvent } from '../cut/cut.ts';
import { readEdl } from '../cut/edl/read.ts';
import { framesNeeded } from '../cut/needed.ts';
import { unwrap } from '../result.ts';
import { rational } from '../time/rational.ts';
import type { CutOriginal } from './target.ts';
import { TargetIndex } from './targetIndex.ts';

const original = (path: string, start: string, minutes: number, reel = 'A001'): CutOriginal => ({
  path,
  reels: [reel],
  timecode: { start, dropFrame: false },
  rate: rational(25),
  frames: minutes * 60 * 25,
});

/** Which files have the first frame of an event from this timecode on. */
function at(index: TargetIndex, timecode: string): string[] {
  const list = `001 AX V C ${timecode} ${timecode.slice(0, -2)}24 00:00:00:00 00:00:00:24`;
  const { cut } = unwrap(readEdl(list, { given: rational(25) }));
  const [event] = cut.events as [CutEvent];
  const [needed] = framesNeeded(cut);
  return needed ? index.byTime(event.source, needed).map(({ path }) => path) : [];
}

it('a long file is found by every minute of it, and no other is', () => {
  const index = new TargetIndex(
    [
      original('long.mov', '01:00:00:00', 90),
      original('short.mov', '02:10:00:00', 1),
      original('late.mov', '23:00:00:00', 1),
    ],
    [],
  );
  expect(at(index, '01:00:00:00')).toEqual(['long.mov']);
  expect(at(index, '01:45:10:00')).toEqual(['long.mov']);
  expect(at(index, '02:10:30:00')).toEqual(['long.mov', 'short.mov']);
  expect(at(index, '02:29:59:00')).toEqual(['long.mov']);
  expect(at(index, '02:30:00:00')).toEqual([]);
  expect(at(index, '23:00:59:00')).toEqual(['late.mov']);
});

it('of many that have one timecode, files of four originals are looked at', () => {
  const index = new TargetIndex(
    Array.from({ length: 9 }, (_, n) => original(`${n}.mov`, '01:00:00:00', 1)),
    [],
  );
  expect(at(index, '01:00:10:00')).toEqual(['0.mov', '1.mov', '2.mov', '3.mov']);
});

it('a reel is known by its first six letters at least, whatever was cut off behind them', () => {
  const index = new TargetIndex(
    [original('a.mov', '01:00:00:00', 1, 'B001_1123_LONG'), original('b.mov', '01:00:00:00', 1, 'B001_1129')],
    [],
  );
  const named = (reel: string): string[] => index.byReel(reel).map(({ path }) => path);
  expect(named('b001 112')).toEqual(['a.mov', 'b.mov']);
  expect(named('B0011123')).toEqual(['a.mov']);
  expect(named('B0011')).toEqual([]);
  expect(named('B00111')).toEqual(['a.mov', 'b.mov']);
});
