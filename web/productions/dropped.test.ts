import { expect, it } from 'vitest';
import { droppedKind } from './dropped.ts';

it('files that are dropped go where they belong, by their ending; what is none of ours may be a clip', () => {
  expect(
    [
      'Night.CUBE',
      'a.b.clf',
      'sc12.ccc',
      'dailies.json',
      'log.csv',
      'Cut 3.EDL',
      'cut.otio',
      'A001C001.mov',
      'no ending',
      '.cube',
    ].map(droppedKind),
  ).toEqual(['lut', 'lut', 'lut', 'recipe', 'list', 'cut', 'cut', 'clip', 'clip', 'lut']);
});
