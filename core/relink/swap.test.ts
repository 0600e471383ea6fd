import { describe, expect, it } from 'vitest';
import { readEdl } from '../cut/edl/read.ts';
import { writeEdl } from '../cut/edl/write.ts';
import { readOtio } from '../cut/otio/read.ts';
import { writeOtio } from '../cut/otio/write.ts';
import { unwrap } from '../result.ts';
import { rational } from '../time/rational.ts';
import { pullOf } from './pull.ts';
import { rehearsed } from './rehearsal.ts';
import { pathMapCsv, swapped, type PulledFile } from './swap.ts';
import type { CutOriginal, CutOutput } from './target.ts';
import { framesToTimecode } from '../time/timecode.ts';

const film = rational(24);
const shoot: CutOriginal[] = ['A001C001', 'A001C002'].map((stem, index) => ({
  path: `day-1/A001/${stem}.mov`,
  reels: ['A001'],
  timecode: { start: index === 0 ? '01:00:00:00' : '01:10:00:00', dropFrame: false },
  rate: film,
  frames: 240,
}));
const list = [
  'TITLE: SWAP',
  'FCM: NON-DROP FRAME',
  '001 A001 V C 01:00:01:00 01:00:02:00 10:00:00:00 10:00:01:00',
  '002 A001 V D 008 01:10:02:00 01:10:03:00 10:00:01:00 10:00:02:00',
  '003 A001 V C 01:00:05:00 01:00:06:00 10:00:02:00 10:00:04:00',
  'M2 A001 012.0 01:00:05:00',
  '004 E009 V C 05:00:00:00 05:00:01:00 10:00:04:00 10:00:05:00',
].join('\r\n');
const cut = unwrap(readEdl(list, { given: film })).cut;

/** A pull with every stretch as a file of its original's frames, as a run makes them. */
function pulled(handles: number): { files: PulledFile[]; matches: ReturnType<typeof rehearsed>['matches'] } {
  const { matches } = rehearsed(cut, shoot);
  const { stretches } = pullOf(matches, shoot, { handles, gap: 0 });
  const files = stretches.map(({ original, frames }): PulledFile => {
    const first = (original === 0 ? 86_400 : 100_800) + frames.from;
    const start = unwrap(framesToTimecode(first, film)).text;
    return {
      original,
      path: `/shuttle/pulls/${shoot[original]?.path.replace('.mov', `_${start.replaceAll(':', '')}.mov`)}`,
      reel: 'A001',
      timecode: { start, dropFrame: false },
      rate: film,
      frames: frames.to - frames.from,
      map: { kind: 'every' },
      taken: frames,
    };
  });
  return { files, matches };
}

describe('the swap', () => {
  it('keeps every source timecode, and names the file that has the frames', () => {
    const { files, matches } = pulled(4);
    const swap = swapped(cut, matches, files);
    expect(swap.cut.events.map(({ source }) => source.frames)).toEqual(cut.events.map(({ source }) => source.frames));
    expect(swap.cut.events.map(({ source }) => source.file)).toEqual([
      '/shuttle/pulls/day-1/A001/A001C001_01000020.mov',
      '/shuttle/pulls/day-1/A001/A001C002_01100120.mov',
      '/shuttle/pulls/day-1/A001/A001C001_01000420.mov',
      null,
    ]);
    // The frame of the file that the event begins with shows the original's of the list.
    expect(swap.events).toEqual([
      { file: 0, at: 4, of: 24 },
      { file: 2, at: 4, of: 48 },
      { file: 1, at: 4, of: 120 },
      null,
    ]);
    expect(swap.left).toEqual([{ event: 3, why: 'it was found in no original' }]);
  });

  it('is written and read again in both forms, and leads each event to its own file', () => {
    const { files, matches } = pulled(4);
    const swap = swapped(cut, matches, files);
    const asOriginals = files.map(({ path, reel, timecode, rate, frames }): CutOriginal => ({
      path,
      reels: reel === null ? [] : [reel],
      timecode,
      rate,
      frames,
    }));
    for (const again of [
      readEdl(writeEdl(swap.cut), { given: film }),
      readOtio(writeOtio(swap.cut), { given: film }),
    ]) {
      const { matches: found } = rehearsed(unwrap(again).cut, asOriginals);
      expect(found.slice(0, 3).map((match) => match && [match.grade, match.original, match.frames?.from])).toEqual([
        ['exact', 0, 4],
        ['exact', 2, 4],
        ['exact', 1, 4],
      ]);
    }
  });

  it('leaves what was not pulled whole, and says so', () => {
    const { files, matches } = pulled(0);
    // A file that ends before the dissolve does.
    const short = files.map((file, index) =>
      index === 0 ? { ...file, taken: { from: 24, to: 40 }, frames: 16 } : file,
    );
    const { events, left } = swapped(cut, matches, short);
    expect(events[0]).toBeNull();
    expect(left[0]).toEqual({ event: 0, why: 'nothing was pulled that has all of its frames' });
  });

  it('leaves what a file that came out short no longer shows', () => {
    const { files, matches } = pulled(4);
    const short = files.map((file, index) => (index === 0 ? { ...file, frames: 20 } : file));
    const { cut: made, events, left } = swapped(cut, matches, short);
    expect(events[0]).toBeNull();
    expect(made.events[0]).toEqual(cut.events[0]);
    expect(left[0]?.why).toBe(`${short[0]?.path} ends before all of its frames`);
  });

  it('leads a cut made on relabelled proxies to the timecode of what was pulled', () => {
    const proxy: CutOutput = {
      original: 0,
      path: 'proxy/A001C001.mov',
      reel: 'PX01',
      timecode: { start: '20:00:00:00', dropFrame: false },
      rate: rational(25),
      frames: 250,
      map: { kind: 'hold', ratio: rational(25, 24) },
    };
    const ofProxy = unwrap(
      readEdl('001 PX01 V C 20:00:02:00 20:00:03:00 10:00:00:00 10:00:01:00', { given: rational(25) }),
    ).cut;
    const { matches } = rehearsed(ofProxy, shoot, [proxy]);
    expect(matches[0]).toMatchObject({ original: 0, frames: { from: 48, to: 72 } });
    const [file] = pulled(4).files as [PulledFile];
    const whole = {
      ...file,
      taken: { from: 40, to: 80 },
      frames: 40,
      timecode: { start: '01:00:01:16', dropFrame: false },
    };
    const swap = swapped(ofProxy, matches, [whole]);
    expect(swap.cut.events[0]?.source).toMatchObject({
      frames: { from: 86_448, to: 86_472 },
      reel: 'A001',
      rate: film,
    });
    expect(pathMapCsv(swap, shoot).split('\r\n')).toEqual([
      'low,high,original',
      `proxy/A001C001.mov,${whole.path},day-1/A001/A001C001.mov`,
      '',
    ]);
  });
});
