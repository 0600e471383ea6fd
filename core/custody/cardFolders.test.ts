import { expect, it } from 'vitest';
import { rollOf, rollOfFolder } from '../clip/roll.ts';
import { looksLikeCard, placementOf } from './cardFolders.ts';

it('a roll is named by its card, never by what cameras lay inside', () => {
  expect(rollOf('PRIVATE/M4ROOT/CLIP/C0001.MP4', 'B003')).toBe('B003');
  expect(rollOf('A004/CONTENTS/CLIPS001/AA0001.MXF', 'day-1')).toBe('A004');
  expect(rollOf('day-1/dcim/100MEDIA/DJI_0001.MP4', 'SALT')).toBe('SALT');
  expect(rollOf('day-1/A001/A001C003.mov', 'x')).toBe('A001');
  expect(rollOfFolder('day-1/B003/PRIVATE/M4ROOT', 'raid')).toBe('B003');
  expect(rollOfFolder('PRIVATE', 'SALT B003')).toBe('SALT B003');
  expect(rollOfFolder('day-1/B003', 'raid')).toBe('B003');
  expect(rollOfFolder('', 'raid')).toBe('raid');
});

it('a folder that was chosen one level too high or too low is recognised', () => {
  expect(placementOf('', ['B001/DCIM/100MEDIA/a.mp4', 'B002/DCIM/100MEDIA/a.mp4', 'notes.txt'])).toEqual({
    kind: 'above',
    cards: ['B001', 'B002'],
  });
  expect(placementOf('cards', ['B001/PRIVATE/M4ROOT/CLIP/a.mp4'])).toEqual({ kind: 'above', cards: ['B001'] });
  expect(placementOf('slot-1/SALT/PRIVATE', ['M4ROOT/CLIP/a.mp4'])).toEqual({ kind: 'within', card: 'slot-1/SALT' });
  expect(placementOf('slot-1/SALT', ['DCIM/100MEDIA/a.mp4', 'MISC/a.dat'])).toBeNull();
  expect(placementOf('slot-1/SALT', ['A001C001.mov', 'sound/a.wav'])).toBeNull();
  expect([looksLikeCard(['DCIM', 'x']), looksLikeCard(['clips'])]).toEqual([true, false]);
});
