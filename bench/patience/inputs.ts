import { mkdir, writeFile } from 'node:fs/promises';
import { spawnSync } from 'node:child_process';
import { join } from 'node:path';

/** What strangers could lay on a store to hold a server up: one folder a kind, below `store`. */
export async function layInputs(store: string): Promise<void> {
  const lay = async (path: string, text: string): Promise<void> => {
    await mkdir(join(store, path, '..'), { recursive: true });
    await writeFile(join(store, path), text);
  };
  await lay('empty-elements/card.mhl', `<hashlist>${'<a/>'.repeat(2_000_000)}</hashlist>`);
  await lay('unclosed/card.mhl', `<hashlist>${'<a '.repeat(2_000_000)}`);
  await lay('unquoted/card.mhl', `<hashlist>${'<a b="'.repeat(1_000_000)}`);
  await lay('sums/card.md5', `${'0'.repeat(32)}  ${'x/'.repeat(10)}`.concat('\n').repeat(400_000));
  const files = Array.from(
    { length: 100_000 },
    (_, index) =>
      `<hash><path size="1" lastmodificationdate="2026-11-20T18:00:00Z">C/${index}.mov</path><xxh128 action="original">${'0'.repeat(32)}</xxh128></hash>`,
  ).join('');
  await lay(
    'history/ascmhl/0001_A001_2026-11-20_180000Z.mhl',
    `<hashlist version="2.0"><hashes>${files}</hashes></hashlist>`,
  );
  await lay('chain/ascmhl/0001_A001.mhl', '<hashlist><hashes/></hashlist>');
  await lay(
    'chain/ascmhl/ascmhl_chain.xml',
    `<ascmhldirectory>${'<hashlist><path>0001_A001.mhl</path><c4>x</c4></hashlist>'.repeat(300_000)}</ascmhldirectory>`,
  );
  await mkdir(join(store, 'pipe'), { recursive: true });
  spawnSync('mkfifo', [join(store, 'pipe/card.md5')]);
  await mkdir(join(store, 'many'), { recursive: true });
  for (let file = 0; file < 60_000; file += 1) await writeFile(join(store, 'many', `C${file}.mov`), '');
  await lay('luts/cube129.cube', cube(129));
  await lay(
    'luts/quadratic.clf',
    `<ProcessList compCLFversion="3" id="x"><Info${' a="b"'.repeat(1)}${' '.repeat(200_000)}${'<Info '.repeat(40_000)}`,
  );
  await lay('luts/comments.clf', `<ProcessList>${'<!--'.repeat(100_000)}`);
  await lay(
    'luts/attributes.clf',
    `<ProcessList ${Array.from({ length: 60_000 }, (_, index) => `a${index}="1"`).join(' ')}/>`,
  );
  await lay('luts/long.cube', `LUT_3D_SIZE 33\n${'0 0 0 '.repeat(3_000_000)}`);
}

/** A cube that is as it should be, of so many points along each edge. */
function cube(points: number): string {
  const lines = [`LUT_3D_SIZE ${points}`];
  for (let b = 0; b < points; b += 1)
    for (let g = 0; g < points; g += 1)
      for (let r = 0; r < points; r += 1)
        lines.push(
          `${(r / (points - 1)).toFixed(6)} ${(g / (points - 1)).toFixed(6)} ${(b / (points - 1)).toFixed(6)}`,
        );
  return `${lines.join('\n')}\n`;
}

/** CSV files that would take long: of very many headings, of very many rows, and of one cell that never ends. */
export function csvs(ids: readonly string[]): Readonly<Record<string, string>> {
  return {
    'a CSV of 100,000 headings': `id,${Array.from({ length: 100_000 }, (_, index) => `h${index}`).join(',')}\n${'x,'.repeat(100_000)}\n`,
    'a CSV of all clips': `id,reel,scene\n${ids.map((id, index) => `${id},R${index},14`).join('\n')}\n`,
    'a CSV of one endless cell': `id,reel\n"${'x'.repeat(15_000_000)}`,
  };
}
