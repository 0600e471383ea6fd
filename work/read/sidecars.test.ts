import { mkdir, writeFile } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import { describe, expect, it } from 'vitest';
import { scratchFolder } from '../../testing/commands.ts';
import { filesBelow } from '../disk/walk.ts';
import { Sidecars } from './sidecars.ts';

async function card(files: Readonly<Record<string, string>>): Promise<Sidecars> {
  const folder = await scratchFolder();
  for (const [path, content] of Object.entries(files)) {
    await mkdir(dirname(join(folder, path)), { recursive: true });
    await writeFile(join(folder, path), content);
  }
  return new Sidecars((await filesBelow(folder)).files);
}

describe('what lies beside clips', () => {
  it("is kept with its clip, the clip's own words before the whole card's", async () => {
    const sidecars = await card({
      'D004/ESSENCE/C0001.MXF': '',
      'D004/ESSENCE/C0001.XML': '<c><scene>14</scene></c>',
      'D004/ESSENCE/C0001M01.XML': '<c><take>2</take></c>',
      'D004/ESSENCE/C0001.THM': 'x',
      'D004/ESSENCE/C0002.MXF': '',
      'D004/INDEX.XML':
        '<card><clip file="ESSENCE/C0001.MXF"><scene>9</scene><camera>A</camera></clip><clip file="ESSENCE/C0002.MXF"><scene>15</scene></clip></card>',
    });
    expect(await sidecars.of('D004/ESSENCE/C0001.MXF')).toEqual({
      paths: ['D004/ESSENCE/C0001.THM', 'D004/ESSENCE/C0001.XML', 'D004/ESSENCE/C0001M01.XML'],
      identity: { scene: '14', take: '2', camera: 'A' },
    });
    expect(await sidecars.of('D004/ESSENCE/C0002.MXF')).toEqual({ paths: [], identity: { scene: '15' } });
  });

  it('with entity bombs, endless nesting, broken or huge XML says nothing, and harms nobody', async () => {
    const bomb = `<?xml version="1.0"?><!DOCTYPE x [<!ENTITY a "aaaaaaaaaa">${Array.from({ length: 30 }, (_, i) => `<!ENTITY b${i} "${i === 0 ? '&a;&a;&a;&a;' : `&b${i - 1};&b${i - 1};&b${i - 1};&b${i - 1};`}">`).join('')}]><clip><scene>&b29;</scene></clip>`;
    const outside =
      '<?xml version="1.0"?><!DOCTYPE x [<!ENTITY a SYSTEM "file:///etc/passwd">]><clip><scene>&a;</scene></clip>';
    for (const content of [
      bomb,
      outside,
      '<clip>'.repeat(5_000),
      '<clip><scene>14',
      '\u0000\u0001\u0002',
      `<clip><note>${'x'.repeat(3_000_000)}</note></clip>`,
    ]) {
      const from = performance.now();
      expect((await (await card({ 'C1.MXF': '', 'C1.XML': content })).of('C1.MXF')).identity).toEqual({});
      expect(performance.now() - from).toBeLessThan(3_000);
    }
  });

  it('five thousand sidecars beside five hundred clips are gone through at once', async () => {
    const files = Array.from({ length: 500 }, (_, clip) => [
      `C${clip}.MXF`,
      ...Array.from({ length: 10 }, (_, n) => `C${clip}M0${n}.XML`),
    ])
      .flat()
      .map((shownPath) => ({ root: '/nowhere', path: `/nowhere/${shownPath}`, shownPath }));
    const from = performance.now();
    const sidecars = new Sidecars(files);
    for (let clip = 0; clip < 500; clip += 1) expect((await sidecars.of(`C${clip}.MXF`)).paths).toHaveLength(10);
    expect(performance.now() - from).toBeLessThan(5_000);
  });

  it('lists recordings in parts, by the paths of the files that are there', async () => {
    const sidecars = await card({
      'V/a_01.mp4': '',
      'V/a_02.mp4': '',
      'INDEX.XML':
        '<i><r><part>A_01.MP4</part><part>a_02.mp4</part></r><r><part>gone_1.mp4</part><part>gone_2.mp4</part></r></i>',
    });
    expect(await sidecars.spans()).toEqual([['V/a_01.mp4', 'V/a_02.mp4'], []]);
  });
});
