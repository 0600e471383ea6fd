import type { ClipGroup } from '@relay/contract/clips';
import type { ClipDescription } from '@relay/core/clip/description';
import { groupOf, sayGroup } from '@relay/core/clip/group';
import { sampleClip } from '@relay/core/clip/sample';
import { rational } from '@relay/core/time/rational';
import { expect, it } from 'vitest';
import { groupOf as groupOfLine, sayHours, sheetLines } from './groups.ts';

const group = (text: string, clips: number): ClipGroup => ({ key: text, text, clips, seconds: clips * 3, bytes: 1 });

it('puts a heading before each group, and none when the sheet is sorted otherwise', () => {
  const sheet = { ids: ['1', '2', '3'], groups: [group('HD', 2), group('UHD', 1)] };
  expect(sheetLines(sheet, 'group').map((line) => (line.kind === 'heading' ? line.text : line.id))).toEqual([
    'HD · 2 clips · 0:00:06',
    '1',
    '2',
    'UHD · 1 clip · 0:00:03',
    '3',
  ]);
  expect(sheetLines(sheet, 'group')[0]).toMatchObject({ ids: ['1', '2'] });
  const lines = sheetLines(sheet, 'group');
  expect([groupOfLine(lines, '2'), groupOfLine(lines, '3'), groupOfLine(lines, null)]).toEqual([['1', '2'], ['3'], []]);
  expect(groupOfLine(sheetLines(sheet, 'name'), '2')).toEqual([]);
  expect(sheetLines(sheet, 'name').every((line) => line.kind === 'clip')).toBe(true);
  expect([sayHours(3_725.4), sayHours(0), sayHours(null)]).toEqual(['1:02:05', '0:00:00', '–']);
});

it('clips are one group when format, curve, depth, gamut, range and camera are the same, whatever their roll', () => {
  const one = groupOf(sampleClip());
  expect(groupOf(sampleClip({ path: 'x/B002/other.mov', reel: 'B002' }, { frames: 9 }))).toBe(one);
  for (const video of [
    { raster: { width: 1280, height: 720 } },
    { rate: rational(25) },
    { scan: 'top-field-first' as const },
    { pixelAspect: rational(4, 3) },
    { codecId: 'prores' },
    { colour: { primaries: null, transfer: null, matrix: null, range: null } },
    { rateConstant: false },
    { bitDepth: 8 },
    { colour: { primaries: 'bt2020', transfer: 'bt709', matrix: 'bt709', range: 'legal' as const } },
    { colour: { primaries: 'bt709', transfer: 'bt709', matrix: 'bt709', range: 'full' as const } },
  ]) {
    expect(groupOf(sampleClip({}, video))).not.toBe(one);
  }
  // The same format from another camera, as its files name it.
  const [a, b] = ['Tarnmoor T6', 'Skerry Pocket'].map((device) => sampleClip({ device }));
  expect(new Set([one, ...[a, b].map((clip) => groupOf(clip as ClipDescription))]).size).toBe(3);
  expect(sayGroup(sampleClip({}, { pixelAspect: rational(4, 3), scan: 'top-field-first', rate: rational(25) }))).toBe(
    '1920×1080 at 4:3 · 25.000i · H.264 10 bit · BT.709 legal',
  );
  expect(
    sayGroup(
      sampleClip(
        { device: 'Tarnmoor T6' },
        { colour: { primaries: 'bt2020', transfer: 'arib-std-b67', matrix: null, range: null } },
      ),
    ),
  ).toBe('1920×1080 · 23.976p · H.264 10 bit · BT.2020 / HLG (STD-B67) · Tarnmoor T6');
  expect(
    sayGroup(sampleClip({}, { colour: { primaries: null, transfer: null, matrix: null, range: 'full' } })),
  ).toContain('colour untagged full');
});
