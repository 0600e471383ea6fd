import { type ChildProcess, spawn } from 'node:child_process';
import { mkdir, readdir, readFile, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import { watchLine, type WatchLine } from '@relay/contract/watch';
import { relay, scratchFolder } from '../testing/commands.ts';
import { built } from '../testing/demo.ts';
import { light, paintClip } from '../testing/inlet.ts';
import { pause } from '../testing/site.ts';

/** `relay watch` in a process of its own, with what it prints. */
function watching(...args: string[]): { child: ChildProcess; lines: WatchLine[]; over: Promise<number | null> } {
  const child = spawn(process.execPath, [built, 'watch', ...args, '--json-lines'], {
    stdio: ['ignore', 'pipe', 'pipe'],
  });
  const lines: WatchLine[] = [];
  let rest = '';
  child.stdout.on('data', (chunk: Buffer) => {
    const rows = (rest + chunk.toString()).split('\n');
    rest = rows.pop() ?? '';
    for (const row of rows) lines.push(watchLine.parse(JSON.parse(row)));
  });
  const over = new Promise<number | null>((resolve) => child.once('close', resolve));
  return { child, lines, over };
}

const madeIn = (lines: readonly WatchLine[]): string[] =>
  lines.flatMap((line) =>
    line.event === 'made' && line.outputs.some(({ alreadyThere }) => !alreadyThere) ? [line.original] : [],
  );

describe('relay watch', () => {
  it('killed twice while forty files arrive, makes each exactly once', async () => {
    const home = await scratchFolder();
    const [source, out, recipe] = ['in', 'out', 'light.json'].map((name) => join(home, name)) as [
      string,
      string,
      string,
    ];
    await mkdir(source);
    await writeFile(recipe, JSON.stringify(light));
    for (let n = 1; n <= 4; n += 1) await paintClip(join(home, `${n}.mp4`), n);
    const names = Array.from({ length: 40 }, (_, n) => `C${String(n).padStart(3, '0')}.mp4`);
    const begin = (...more: string[]) =>
      watching('--source', source, '--out', out, '--recipe', recipe, '--quiet', '0.5', ...more);
    // Each of its own content, by an empty box at its end (ISO/IEC 14496-12, `free`): what is alike is made once.
    const arrive = async (n: number): Promise<void> => {
      const box = Buffer.alloc(64);
      box.writeUInt32BE(64, 0);
      box.write(`free${n}`, 4);
      const clip = await readFile(join(home, `${(n % 4) + 1}.mp4`));
      await writeFile(join(source, names[n] as string), Buffer.concat([clip, box]));
    };
    const made: string[] = [];
    let next = 0;
    for (const upTo of [15, 30]) {
      const { child, lines, over } = begin();
      for (; next < upTo; next += 1) {
        await arrive(next);
        await pause(60);
      }
      while (madeIn(lines).length < 5) await pause(50);
      child.kill('SIGKILL');
      await over;
      made.push(...madeIn(lines));
    }
    for (; next < names.length; next += 1) await arrive(next);
    const last = begin('--once');
    await last.over;
    expect(last.lines.filter(({ event }) => event === 'left')).toEqual([]);
    expect(await last.over).toBe(0);
    made.push(...madeIn(last.lines));
    expect(made.length).toBeLessThanOrEqual(names.length);
    expect(new Set(made).size).toBe(made.length);
    const lies = await readdir(out, { recursive: true });
    expect(lies.filter((name) => name.endsWith('.mov')).sort()).toEqual(
      names.map((name) => `proxy/${name.replace('mp4', 'mov')}`),
    );
    expect(lies.filter((name) => /relay-part|superseded/.test(name))).toEqual([]);
    const memory = (await readFile(join(out, 'relay-inlet.jsonl'), 'utf8')).split('\n').filter(Boolean);
    const taken = memory
      .map((row) => JSON.parse(row) as { kind: string; path: string })
      .filter((row) => row.kind === 'taken');
    expect(new Set(taken.map(({ path }) => path)).size).toBe(names.length);
  });

  it('says in one sentence what is wrong with how it is used', async () => {
    const home = await scratchFolder();
    const used = async (...args: string[]): Promise<[number | null, string]> => {
      const { code, stderr } = await relay('watch', '--source', home, '--out', join(home, '../relay-unused'), ...args);
      return [code, stderr];
    };
    expect(await used('--quiet', '-1')).toEqual([2, 'relay: --quiet takes seconds from 0 to 86400, not -1\n']);
    expect(await used('--quiet', '1e3')).toEqual([2, 'relay: --quiet takes seconds from 0 to 86400, not 1e3\n']);
    expect(await used('--receipt', 'xml')).toEqual([2, 'relay: --receipt takes none, json, text or both, not xml\n']);
    expect(await used('--done', 'delete')).toEqual([2, 'relay: --done takes stay or move, not delete\n']);
    expect(await used('--partner', '../x')).toEqual([2, 'relay: --partner takes an ending such as done, not ../x\n']);
    const inside = await relay('watch', '--source', home, '--out', join(home, 'out'));
    expect([inside.code, inside.stderr]).toEqual([2, expect.stringMatching(/lies inside --source/)]);
  });
});
