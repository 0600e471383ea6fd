import { describe, expect, it } from 'vitest';
import { gapsIn } from './gaps.ts';
import type { Tree } from '../text/tree.ts';
import { belongsTo, mayTellOf, sidecarFacts } from './sidecar.ts';

const leaf = (name: string, text: string): Tree => ({ name, text, children: [] });
const tree = (name: string, ...children: Tree[]): Tree => ({ name, text: '', children });

describe('sidecars', () => {
  it('belong to the clip whose name they bear, in its folder or one beside it', () => {
    const clip = 'D004/ESSENCE/UNIT01/C0001.MXF';
    for (const path of [
      'D004/ESSENCE/UNIT01/C0001.XML',
      'D004/ESSENCE/UNIT01/C0001M01.XML',
      'D004/ESSENCE/META/c0001.xml',
      'D004/ESSENCE/UNIT01/C0001_note.txt',
    ])
      expect([path, belongsTo(path, clip)]).toEqual([path, true]);
    for (const path of [
      'D004/ESSENCE/UNIT01/C00012.XML',
      'D005/ESSENCE/UNIT01/C0001.XML',
      'D004/ESSENCE/UNIT01/CARD.XML',
      'D004/ESSENCE/UNIT01/C0001_a_long_story.txt',
    ])
      expect([path, belongsTo(path, clip)]).toEqual([path, false]);
  });

  it('may tell of the clips of its own card, of all where it lies above the cards, and of one that it is named for', () => {
    const told = (sidecar: string, clip: string): boolean => mayTellOf(sidecar, clip);
    expect(told('D004/ESSENCE/META/card.xml', 'D004/ESSENCE/UNIT01/C0001.MXF')).toBe(true);
    expect(told('D005/ESSENCE/META/card.xml', 'D004/ESSENCE/UNIT01/C0001.MXF')).toBe(false);
    expect(told('day.xml', 'D004/ESSENCE/UNIT01/C0001.MXF')).toBe(true);
    expect(told('notes/C0001.xml', 'C0001.MXF')).toBe(true);
    expect(told('notes/C0002.xml', 'C0001.MXF')).toBe(false);
  });

  it('say reel, scene, take, camera, circled and note, in whatever case and prefix they are written', () => {
    const facts = sidecarFacts(
      tree(
        'x:Clip',
        leaf('ns:SceneName', ' 14 '),
        tree('more', leaf('TAKE', '2'), leaf('Tape-Name', 'A001')),
        leaf('circled', 'yes'),
        leaf('Comment', 'focus\n late'),
      ),
      'C1.XML',
      'C1.mov',
    );
    expect(facts.identity).toEqual({ scene: '14', take: '2', reel: 'A001', circled: true, note: 'focus late' });
  });

  it('of a whole card speak of a clip only where they name its file', () => {
    const card = tree(
      'card',
      tree('clip', leaf('file', '..\\ESSENCE\\C0001.MXF'), leaf('scene', '14')),
      tree('clip', leaf('file', 'ESSENCE/C0002.MXF'), leaf('scene', '15')),
    );
    expect(sidecarFacts(card, 'INDEX/CARD.XML', 'ESSENCE/C0002.mxf').identity).toEqual({ scene: '15' });
    expect(sidecarFacts(card, 'INDEX/CARD.XML', 'ESSENCE/C0003.MXF').identity).toEqual({});
  });

  it('list the files of one recording', () => {
    const index = tree(
      'index',
      tree('recording', leaf('part', 'V0034_01.MP4'), leaf('part', 'sub/V0034_02.mp4')),
      tree('recording', leaf('part', 'V0035_01.mp4')),
    );
    expect(sidecarFacts(index, 'INDEX.XML', '').spans).toEqual([['v0034_01.mp4', 'v0034_02.mp4']]);
  });
});

it('gaps in clip numbers are named, other series and far numbers are not', () => {
  expect(gapsIn(['A001C003', 'A001C006', 'A001C004'])).toEqual(['A001C005']);
  expect(gapsIn(['A001C003_x1', 'A001C005_x1'])).toEqual(['A001C004_x1']);
  expect(gapsIn(['C0001', 'C0900', 'room tone', 'B01', 'B001', 'B003'])).toEqual(['B002']);
  expect(gapsIn([])).toEqual([]);
});
