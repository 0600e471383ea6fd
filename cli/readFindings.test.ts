import { cp, mkdir, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { Finding } from '@relay/core/findings/finding';
import { beforeAll, describe, expect, it } from 'vitest';
import { relay, scratchFolder } from '../testing/commands.ts';
import { demoCards, saltLantern } from '../testing/demo.ts';

interface Entry {
  path: string;
  findings?: Finding[];
  identity?: Record<string, unknown>;
  chapters?: { path: string }[];
  problem?: { kind: string; what: string; remedy: string };
}
let entries: Entry[];
const of = (path: string): Entry => entries.find((entry) => entry.path === path) as Entry;
const rules = (path: string, level: string): string[] =>
  of(path)
    .findings?.filter((finding) => finding.level === level)
    .map((finding) => finding.rule) ?? [];

beforeAll(async () => {
  const { stdout, code } = await relay('read', saltLantern, '--json');
  expect(code).toBe(0);
  entries = JSON.parse(stdout) as Entry[];
});

describe('relay read', () => {
  it('says of the demo originals what is to decide, as it was painted into them', () => {
    expect(rules('day-1/A001/A001C003.mov', 'decide')).toEqual(['logAsVideo']);
    expect(rules('day-1/C001/C001C011.mov', 'decide')).toEqual(['pixelAspectContradicts']);
    expect(rules('day-2/T001/T001C001.ts', 'decide')).toEqual(['noTimecode']);
    expect(rules('day-2/P000/P000_0007.mp4', 'decide')).toEqual(['varyingRate', 'noTimecode']);
    expect(rules('day-2/P000/P000_0008.mp4', 'decide')).toEqual(['cutShort', 'noTimecode']);
    expect(rules('day-2/D004/ESSENCE/UNIT01/C0001.MXF', 'decide')).toEqual(['sameName']);
    for (const path of [
      'day-1/B001/B001C001.mp4',
      'day-1/C001/C001C012.mov',
      'day-1/S009/S009C001.mov',
      'day-2/F001/F001_r1.mov',
    ])
      expect([path, rules(path, 'decide')]).toEqual([path, []]);
    expect(entries.flatMap((entry) => entry.findings ?? []).filter((finding) => finding.level === 'stop')).toEqual([]);
  });

  it('and what is merely to know: pillars with the crop, fields, silence, 44.1 kHz', () => {
    expect(of('day-2/F001/F001_r1.mov').findings?.find((finding) => finding.rule === 'bars')).toMatchObject({
      text: 'Bars burnt in, 1440×1080 inside',
      remedy: expect.stringContaining('1440×1080 at 236, 0'),
    });
    expect(rules('day-2/D005/ESSENCE/UNIT01/C0001.MXF', 'note')).toEqual(
      expect.arrayContaining(['interlaced', 'silentChannels']),
    );
    expect(rules('day-2/P000/P000_0007.mp4', 'note')).toContain('not48k');
    expect(rules('day-1/C001/C001C012.mov', 'note')).toContain('pixelAspect');
  });

  it('takes scene and take from sidecars, joins chapters, names closed formats', async () => {
    expect(of('day-2/D004/ESSENCE/UNIT01/C0001.MXF').identity).toMatchObject({ scene: '14', take: '2' });
    const { stdout } = await relay('read', demoCards, '--json', '--quick');
    entries = JSON.parse(stdout) as Entry[];
    expect(of('card-V-1/VIDEO/V0034_01.mp4').chapters?.map((chapter) => chapter.path)).toEqual(
      ['01', '02', '03'].map((part) => `card-V-1/VIDEO/V0034_${part}.mp4`),
    );
    expect(of('card-V-1/VIDEO/V0034_02.mp4').problem?.kind).toBe('chapter');
    expect(of('card-A-2/RAW/X001C001.raw').problem).toMatchObject({
      kind: 'not-decodable',
      what: expect.stringContaining('is camera raw, or data'),
    });
    expect(rules('card-R-1/SOUND/S14T3.wav', 'note')).toEqual(['soundOnly']);
    // Quick: nothing that needs a closer look.
    expect(rules('card-A-2/CLIPS/A002C001.mov', 'decide')).toEqual([]);
  });

  it('of odd files says what each is, and goes on', async () => {
    const folder = await scratchFolder();
    await mkdir(join(folder, 'x'));
    await writeFile(join(folder, 'x/empty.mov'), '');
    await writeFile(join(folder, 'x/raw.r3d'), Buffer.alloc(5000, 7));
    await cp(join(saltLantern, 'day-2/D004/ESSENCE/UNIT01/C0001.MXF'), join(folder, 'x/trailing .MXF'));
    const { stdout, code } = await relay('read', folder, '--quick');
    expect(code).toBe(0);
    for (const words of [
      'x/empty.mov holds nothing (0 bytes)',
      'R3D camera raw',
      'x/trailing .MXF: MXF OP1a, MPEG-2 1920×1080',
      'note   Interlaced, top field first',
    ])
      expect(stdout).toContain(words);
  });
});
