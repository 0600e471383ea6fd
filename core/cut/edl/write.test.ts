import { expect, it } from 'vitest';
import { unwrap } from '../../result.ts';
import { rational } from '../../time/rational.ts';
import { readEdl } from './read.ts';
import { usualEdl, writeEdl } from './write.ts';

// Columns and words are those of the edit decision lists that programs exchange (in the form of SMPTE 258M's event lines,
// from memory): number, reel, tracks, kind and length of the transition, source and record from and to.
it('writes a list as lists are written: a transition in two lines, black from nought, speed below', () => {
  const list = [
    'TITLE: SALT LANTERN',
    'FCM: NON-DROP FRAME',
    '001 A001     V     C        10:00:00:00 10:00:02:00 01:00:00:00 01:00:02:00',
    '* FROM CLIP NAME: GULLS',
    '002 A001     V     C        10:00:02:00 10:00:02:00 01:00:02:00 01:00:02:00',
    '002 B001     V     D    012 11:00:00:00 11:00:04:00 01:00:02:00 01:00:06:00',
    '* FROM CLIP NAME: GULLS',
    '003 BL       V     C        00:00:00:00 00:00:01:12 01:00:06:00 01:00:07:12',
    '004 S009     AA/V  C        12:00:00:00 12:00:02:00 01:00:07:12 01:00:08:12',
    'M2   S009     050.0 12:00:00:00',
    '005 S009     A     C        12:00:10:00 12:00:11:00 01:00:08:12 01:00:09:12',
    'AUD  3',
    '',
  ].join('\r\n');
  expect(writeEdl(unwrap(readEdl(list, { given: rational(25) })).cut)).toBe(list);
});

it('keeps as much of a reel as is asked for, blanks as _', () => {
  const list = '001 A001 V C 10:00:00:00 10:00:02:00 01:00:00:00 01:00:02:00';
  const { cut } = unwrap(readEdl(list, { given: rational(25) }));
  const [event] = cut.events;
  if (!event || event.source.kind !== 'media') throw new Error('no event');
  const named = { ...cut, events: [{ ...event, source: { ...event.source, reel: 'CARD 1 OF THE BOAT' } }] };
  const reelOf = (reelLength: number): string | undefined =>
    /^001 (\S+)/m.exec(writeEdl(named, { ...usualEdl, reelLength }))?.[1];
  expect([reelOf(8), reelOf(6), reelOf(128)]).toEqual(['CARD_1_O', 'CARD_1', 'CARD_1_OF_THE_BOAT']);
});
