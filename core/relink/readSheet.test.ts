import { describe, expect, it } from 'vitest';
import { unwrap } from '../result.ts';
import { rational } from '../time/rational.ts';
import { outputsAmong, readRelinkSheet } from './readSheet.ts';
import type { CutOriginal } from './target.ts';

const row = (more: object = {}): object => ({
  output: 'proxy/A001/A001C003.mov',
  original: 'day-1/A001/A001C003.mov',
  originalFrames: 240,
  reel: 'A001',
  startTimecode: '01:00:00;00',
  rateFraction: '30000/1001',
  frames: 240,
  frameMap: 'hold 5/4',
  ...more,
});
const sheet = (...rows: unknown[]): string => JSON.stringify({ version: 1, rows });
const original = (path: string, frames = 240): CutOriginal => ({
  path,
  reels: [],
  timecode: null,
  rate: rational(24),
  frames,
});

describe('a relink sheet that came back', () => {
  it('is read line by line; what lacks something is left out and said', () => {
    const { outputs, remarks } = unwrap(
      readRelinkSheet(
        sheet(row(), row({ output: 7 }), null, row({ rateFraction: '0/1' }), row({ frameMap: 'sideways' })),
      ),
    );
    expect(outputs).toEqual([
      {
        path: 'proxy/A001/A001C003.mov',
        reel: 'A001',
        timecode: { start: '01:00:00;00', dropFrame: true },
        rate: rational(30000, 1001),
        frames: 240,
        map: { kind: 'hold', ratio: rational(5, 4) },
        originalPath: 'day-1/A001/A001C003.mov',
        originalFrames: 240,
      },
    ]);
    expect(remarks).toHaveLength(4);
    expect(remarks[0]).toBe('Line 2 of the relink sheet names no output or no original: left out');
    for (const text of ['', '[]', '{"version":2,"rows":[]}', 'null']) expect(readRelinkSheet(text).ok).toBe(false);
  });

  it('leads to the originals at hand whose path ends most alike, with as many pictures', () => {
    const { outputs } = unwrap(readRelinkSheet(sheet(row())));
    const at = (...paths: CutOriginal[]): (number | undefined)[] =>
      outputsAmong(outputs, paths).map((one) => one.original);
    expect(at(original('/x/B001/A001C003.mov'), original('/mnt/DAY-1/A001/A001C003.MOV'))).toEqual([1]);
    // Neither path is more alike, or it is another file.
    expect(at(original('/x/A001C003.mov'), original('/y/A001C003.mov'))).toEqual([]);
    expect(at(original('/x/A001/A001C003.mov', 100))).toEqual([]);
  });
});
