import type { ClipLine } from '@relay/contract/api';
import { sampleClip } from '@relay/core/clip/sample';
import { notesOn } from '@relay/core/clip/toKnow';
import { rational } from '@relay/core/time/rational';
import { expect, it } from 'vitest';
import { withHeadings } from './groups.ts';

const line = (id: string, ...args: Parameters<typeof sampleClip>): ClipLine => {
  const description = sampleClip(...args);
  return { id, path: description.path, stem: description.stem, roll: 'A001', description, notes: notesOn(description), poster: false, way: [] };
};

it('gathers like clips under what they have in common, however they are sorted', () => {
  const lines = withHeadings([line('1'), line('2', {}, { rate: rational(25), scan: 'top-field-first' }), line('3')]);
  expect(lines.map((one) => (one.kind === 'heading' ? one.text : one.clip.id))).toEqual([
    'A001 · 1920×1080 · 23.976p · H.264 · 2 clips · 0:00:06', '1', '3', 'A001 · 1920×1080 · 25.000i · H.264 · 1 clip · 0:00:03', '2',
  ]);
});

it('names the gravest first: a cut file before a missing timecode before square pixels', () => {
  const clip = sampleClip({ cutShort: '1 MB missing', timecode: null, reel: null }, { pixelAspect: rational(4, 3) });
  expect(notesOn(clip).map((note) => [note.level, note.text.split(':')[0]])).toEqual([['decide', 'Cut short'], ['decide', 'No timecode'], ['note', 'Pixels 4']]);
  expect(notesOn(sampleClip())).toEqual([]);
});
