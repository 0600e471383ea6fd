import { describe, expect, it } from 'vitest';
import { relinkRow } from '../../testing/relinkRow.ts';
import { readEdl } from '../cut/edl/read.ts';
import { unwrap } from '../result.ts';
import { rational } from '../time/rational.ts';
import { rehearsed } from './rehearsal.ts';
import { filesOfRole, sheetSides } from './sheetSides.ts';
import { swapped } from './swap.ts';

describe('a cut that was made on proxies', () => {
  // The second was slowed: 50 played at 25, so that its proxy and its intermediate are as long as each other.
  const rows = ['proxy', 'intermediate'].flatMap((role) => [
    relinkRow({ role, originalTimecode: '01:00:00:00' }),
    relinkRow({
      role,
      stem: 'S1',
      reel: 'S001',
      original: 'S1.mov',
      output: `${role}/S1.mov`,
      startTimecode: '02:00:00:00',
      rate: '24',
      frames: 100,
      originalFrames: 100,
      originalRate: '48',
      originalTimecode: '02:00:00:00',
    }),
  ]);
  const list = [
    'TITLE: SWAP',
    'FCM: NON-DROP FRAME',
    '001 A001 V C 01:00:00:10 01:00:01:10 10:00:00:00 10:00:01:00',
    '002 S001 V C 02:00:01:00 02:00:03:00 10:00:01:00 10:00:03:00',
    '003 E009 V C 05:00:00:00 05:00:01:00 10:00:03:00 10:00:04:00',
  ].join('\r\n');

  it('is put on the intermediates, with the timecode that it had', () => {
    const cut = unwrap(readEdl(list, { given: rational(24) })).cut;
    const sides = sheetSides(rows);
    const { matches } = rehearsed(cut, sides.originals, sides.outputs);
    const swap = swapped(
      cut,
      matches,
      filesOfRole(sides, 'intermediate', (path) => `/drive/${path}`),
    );
    expect(swap.cut.events.map(({ source }) => source.file)).toEqual([
      '/drive/intermediate/day-1/A001/A001C001.mov',
      '/drive/intermediate/S1.mov',
      null,
    ]);
    expect(swap.cut.events.map(({ source }) => source.frames)).toEqual(cut.events.map(({ source }) => source.frames));
    expect(swap.left.map(({ event }) => event)).toEqual([2]);
  });
});
