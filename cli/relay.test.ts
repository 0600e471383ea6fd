import { spawn } from 'node:child_process';
import { copyFile, mkdir, open, readdir, readFile, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { withPlaces } from '@relay/core/recipe/places';
import { finishAndCut } from '@relay/core/recipe/recipe';
import { describe, expect, it } from 'vitest';
import { readEntry } from '@relay/contract/description';
import { call, relay, scratchFolder, type Spoken } from '../testing/commands.ts';
import { built, saltLantern } from '../testing/demo.ts';
import { rotateLog } from './site/child.ts';

describe('relay timecode', () => {
  it('counts both ways (SMPTE ST 12-1)', async () => {
    expect((await relay('timecode', '01:00:00;00', '--rate', '29.97', '--frames')).stdout).toBe('107892\n');
    expect((await relay('timecode', '--from-frames', '107892', '--rate', '30000/1001', '--drop')).stdout).toBe(
      '01:00:00;00\n',
    );
    expect((await relay('timecode', '--from-frames', '-1', '--rate', '23.976')).stdout).toBe('23:59:59:23\n');
    expect(JSON.parse((await relay('timecode', '10:00:00:00', '--rate', '25', '--json')).stdout)).toEqual({
      timecode: '10:00:00:00',
      frames: 900_000,
      rate: { num: 25, den: 1 },
      dropFrame: false,
    });
  });

  it('says what is wrong on standard error, with exit code 2', async () => {
    for (const args of [
      ['01:00:00;00', '--rate', '25'],
      ['99:00:00:00', '--rate', '25'],
      ['--rate', '25'],
      ['01:00:00:00'],
      ['--from-frames', 'x', '--rate', '25'],
      ['01:00:00:00', '--rate', 'fast'],
    ]) {
      const spoken = await relay('timecode', ...args);
      expect([args, spoken.code, spoken.stdout]).toEqual([args, 2, '']);
      expect(spoken.stderr).toMatch(/^relay: .+\n$/);
    }
  });
});

describe('relay read', () => {
  it("prints an array of the contract's own types, refusals among them", async () => {
    const { stdout, code } = await relay('read', join(saltLantern, 'day-2/P000'), '--json');
    const entries = JSON.parse(stdout) as unknown[];
    expect(code).toBe(0);
    expect(entries).toHaveLength(3);
    for (const entry of entries) expect(readEntry.safeParse(entry).success).toBe(true);
    expect(entries[2]).toMatchObject({ path: 'shot-list.mov', problem: { kind: 'not-media' } });
  });
});

it('relay run sends deliverables where the recipe says, each place with its relink sheet', async () => {
  const folder = await scratchFolder();
  const recipe = join(folder, 'recipe.json');
  const own = { store: '', folder: '' };
  await writeFile(
    recipe,
    JSON.stringify(withPlaces(finishAndCut, own, { proxy: { store: 'shuttle', folder: 'to/cut' } })),
  );
  const { code } = await relay(
    ...['run', '--source', join(saltLantern, 'day-1/S009'), '--recipe', recipe],
    ...['--out', join(folder, 'own'), '--place', `shuttle=${join(folder, 'drive')}`],
  );
  expect(code).toBe(0);
  expect(await readdir(join(folder, 'own'))).toEqual(['intermediate', 'relink.csv', 'relink.json']);
  expect(await readdir(join(folder, 'drive/to/cut'))).toEqual(['proxy', 'relink.csv', 'relink.json']);
});

describe('relay run, used wrongly', () => {
  it('ends with 2 and one sentence, and makes nothing', async () => {
    const folder = await scratchFolder();
    const source = join(folder, 'in');
    await mkdir(source);
    const recipe = async (name: string, content: string): Promise<string> => {
      await writeFile(join(folder, name), content);
      return join(folder, name);
    };
    const out = join(folder, 'out');
    const placed = JSON.stringify(
      withPlaces(finishAndCut, { store: '', folder: '' }, { proxy: { store: 'shuttle', folder: 'cut' } }),
    );
    const wrong = [
      [],
      ['--source', source],
      ['--source', join(folder, 'gone'), '--out', out],
      ['--source', source, '--out', join(source, 'out')],
      ['--source', source, '--out', source],
      ['--source', source, '--out', out, '--recipe', await recipe('a.json', '{')],
      [
        '--source',
        source,
        '--out',
        out,
        '--recipe',
        await recipe('b.json', '{"version":1,"name":"x","deliverables":[]}'),
      ],
      [
        '--source',
        source,
        '--out',
        out,
        '--recipe',
        await recipe(
          'c.json',
          JSON.stringify({
            version: 1,
            name: 'x',
            deliverables: [
              {
                name: 'p',
                role: 'proxy',
                folder: '../up',
                wrapper: 'mov',
                codec: { id: 'h264', quality: 20 },
                raster: { kind: 'source' },
                interlaced: 'keep',
                sound: { codec: 'pcm', sampleRate: 48000 },
              },
            ],
          }),
        ),
      ],
      [
        '--source',
        source,
        '--out',
        out,
        '--corrections',
        await recipe('d.json', '{"version":1,"rules":[{"when":{},"change":{"shape":{"squeeze":{"num":0,"den":1}}}}]}'),
      ],
      ['--source', source, '--out', out, '--wat'],
      ['--source', source, '--out', out, '--place', 'shuttle'],
      ['--source', source, '--out', out, '--recipe', await recipe('e.json', placed)],
      ['--source', source, '--out', out, '--recipe', join(folder, 'e.json'), '--place', `shuttle=${source}`],
    ];
    for (const args of wrong) {
      const spoken = await relay('run', ...args);
      expect([args.slice(-2), spoken.code, spoken.stdout]).toEqual([args.slice(-2), 2, '']);
      expect(spoken.stderr.trim().split('\n')).toHaveLength(1);
    }
    expect((await relay('run', '--source', source, '--out', out, '--json')).stdout.trim()).toBe('[]');
  });
});

it('relay --help lists the commands; an unknown one ends with 2', async () => {
  const { stdout, code } = await relay('--help');
  const listed = [...stdout.matchAll(/^ {2}(\w+)(?= |$)/gm)].map(([, name]) => name);
  const completed = /commands="([^"]*)"/.exec(await readFile(join(import.meta.dirname, '..', 'relay'), 'utf8'));
  expect(listed.sort()).toEqual(completed?.[1]?.split(' ').sort());
  expect(code).toBe(0);
  expect((await relay('fly')).code).toBe(2);
});

describe('relay worker', () => {
  it('says what is wrong with what it is told, before it looks for a database', async () => {
    for (const [args, said] of [
      [['--takes', 'h264,betamax'], /does not know betamax: it takes prores/],
      [['--slots', '0'], /a whole number from 1 to 64/],
      [['--store', 'shuttle'], /NAME=PATH/],
      [['--fast'], /fast/],
    ] as const) {
      const spoken = await relay('worker', ...args);
      expect([args, spoken.code]).toEqual([args, 2]);
      expect(spoken.stderr).toMatch(said);
    }
  });
});

describe('the command line as a shell expects it', () => {
  const script = join(import.meta.dirname, '..', 'relay');

  it('says its version and completes without a build; a command that there is not is misuse, also for help', async () => {
    const elsewhere = await scratchFolder();
    await writeFile(join(elsewhere, 'package.json'), JSON.stringify({ name: 'x', version: '7.8.9' }, null, 2));
    await copyFile(script, join(elsewhere, 'relay'));
    const alone = (...args: string[]): Promise<Spoken> => call('bash', [join(elsewhere, 'relay'), ...args]);
    expect(await alone('--version')).toEqual({ code: 0, stdout: 'Brisk Relay 7.8.9\n', stderr: '' });
    for (const shell of ['bash', 'zsh']) {
      const { code, stdout } = await alone('completion', shell);
      expect([code, (await call('bash', ['-n', '-c', stdout])).code]).toEqual([0, 0]);
      expect(stdout).toContain('forecast');
    }
    expect((await alone('completion', 'fish')).code).toBe(2);
    expect(await readdir(elsewhere)).toEqual(['package.json', 'relay']);
    const none = await relay('help', 'nosuch');
    expect([none.code, none.stdout]).toEqual([2, '']);
    expect((await relay('help', 'run')).stdout).toMatch(/^Usage: \.\/relay run /);
  });

  it('ends with 130 after Ctrl-C, with nothing half made under a final name', async () => {
    const out = await scratchFolder();
    const child = spawn(process.execPath, [built, 'run', '--source', saltLantern, '--out', out], { stdio: 'ignore' });
    const ended = new Promise<number | null>((resolve) => child.once('close', resolve));
    while (child.exitCode === null && (await readdir(out)).length === 0)
      await new Promise((resolve) => setTimeout(resolve, 50));
    child.kill('SIGINT');
    expect(await ended).toBe(130);
  });
});

it('a log that is large is set aside, and who writes to it goes on', async () => {
  const log = join(await scratchFolder(), 'serve.log');
  rotateLog(log, 10);
  const writing = await open(log, 'a');
  await writing.write('twelve bytes');
  rotateLog(log, 10);
  await writing.write('on');
  await writing.close();
  expect([await readFile(log, 'utf8'), await readFile(`${log}.1`, 'utf8')]).toEqual(['on', 'twelve bytes']);
});
