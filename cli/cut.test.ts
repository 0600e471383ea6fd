import { readdir, readFile, writeFile } from 'node:fs/promises';
import { basename, join } from 'node:path';
import { demoCuts } from '@relay/demo/cuts';
import { beforeAll, describe, expect, it } from 'vitest';
import { seeded } from '@relay/core/colour/bake/seeded';
import { finishAndCut } from '@relay/core/recipe/recipe';
import { call, relay, scratchFolder } from '../testing/commands.ts';
import { saltLantern } from '../testing/demo.ts';
import { slates } from '../testing/slates.ts';

let folder: string;
let [first, second] = ['', ''];
beforeAll(async () => {
  folder = await scratchFolder();
  for (const { file, content } of demoCuts) await writeFile(join(folder, file), content());
  [first, second] = demoCuts.map(({ file }) => join(folder, file)) as [string, string];
});

interface Answer {
  event: string;
  grade: string;
  original: string | null;
  from: number | null;
  to: number | null;
  why: string;
  near: { original: string; differs: string }[];
}
const rehearse = async (cut: string, ...more: string[]): Promise<{ code: number | null; events: Answer[] }> => {
  const { code, stdout } = await relay('rehearse', '--cut', cut, '--media', saltLantern, ...more, '--json');
  return { code, events: JSON.parse(stdout) as Answer[] };
};
const short = ({ grade, original, from, to }: Answer): string =>
  `${grade} ${original?.slice(saltLantern.length + 1) ?? '-'} ${from === null ? '-' : `${from}-${to}`}`;

describe('relay rehearse', () => {
  it("finds what is there of the demo's cut, and says why the rest is not found", async () => {
    const { code, events } = await rehearse(first);
    expect(code).toBe(1);
    // The dissolve takes 8 frames more of the first.
    expect(events.map(short)).toEqual([
      'exact day-1/A001/A001C003.mov 12-52',
      'exact day-1/A001/A001C004.mov 6-36',
      'nearly day-1/B001/B001C001.mp4 4-28',
      'exact day-1/C001/C001C011.mov 6-30',
      'none - -',
      'exact day-1/C001/C001C012.mov 2-22',
    ]);
    expect(events[2]?.why).toBe('Its reel B001C001 is cut to B001C00 in the list');
    expect(events[4]?.why).toBe('No original here has the reel E001, or the name E001C007');
  });

  it('leads through a relink sheet from a proxy to the frames of its original', async () => {
    const direct = await rehearse(second);
    const gulls = direct.events[4] as Answer;
    expect(short(gulls)).toBe('nearly day-2/P000/P000_0007.mp4 -');
    expect(gulls.why).toContain('Its rate varies');
    const sheet = join(folder, 'relink.json');
    const row = {
      output: 'proxy/day-2/P000/P000_0007.mov',
      original: 'day-2/P000/P000_0007.mp4',
      originalFrames: 75,
      rateFraction: '30/1',
      reel: '',
      startTimecode: '',
      frames: 80,
      frameMap: 'places +1*40 +2 +1*33',
    };
    await writeFile(sheet, JSON.stringify({ version: 1, rows: [row, { output: 'x' }] }));
    const { events } = await rehearse(second, '--sheet', sheet);
    // 24 frames of 23.976 are 30.03 of 30, of which each that is begun counts; the proxy shows these once each.
    expect(short(events[4] as Answer)).toBe('name day-2/P000/P000_0007.mp4 10-41');
  });

  it('is refused where a list, a folder or a rate cannot be', async () => {
    for (const args of [
      ['--cut', join(folder, 'gone.edl'), '--media', saltLantern],
      ['--cut', first, '--media', join(folder, 'gone')],
      ['--cut', first, '--media', folder, '--rate', 'fast'],
      ['--cut', join(saltLantern, 'day-1/A001/A001C003.mov'), '--media', folder],
    ]) {
      const { code, stderr } = await relay('rehearse', ...args);
      expect([args.join(' '), code]).toEqual([args.join(' '), 2]);
      expect(stderr.trim().split('\n').at(-1)).toMatch(/^relay: /);
    }
  });
});

describe('relay cut', () => {
  it('rewrites a list in another form, and says first what that cannot say', async () => {
    const otio = await relay('cut', first, '--to', 'otio', '--rate', '23.976');
    expect(otio.code).toBe(0);
    await writeFile(join(folder, 'again.otio'), otio.stdout);
    const back = await relay('cut', join(folder, 'again.otio'), '--to', 'edl');
    // One event on three tracks became three clips.
    expect(back.stderr).toContain('What other programs keep beside clips');
    const lines = (text: string): string[] => text.split('\r\n').filter((line) => / V\b/.test(line));
    expect(lines(back.stdout).map((line) => line.slice(4))).toEqual(
      lines((await readFile(first, 'utf8')).replace('AA/V', 'V   ')).map((line) => line.slice(4)),
    );
    expect((await relay('cut', second, '--to', 'csv')).stdout.split('\r\n')[0]).toContain('record in,record out');
  });

  it('holds two versions against each other', async () => {
    const { stdout, code } = await relay('cut', first, second, '--changes', '--rate', '23.976', '--json');
    expect(code).toBe(0);
    const { changes } = JSON.parse(stdout) as { changes: { kind: string; what: string }[] };
    expect(changes.filter(({ kind }) => kind === 'new').map(({ what }) => what)).toContain('P000_0007 is new');
    expect(changes.filter(({ kind }) => kind === 'gone').map(({ what }) => what)).toContain(
      'C001C012 is no longer in the cut',
    );
  });
});

describe('relay pull', () => {
  it('copies the originals that a cut uses, with what lies beside them, and a manifest that holds', async () => {
    const out = join(await scratchFolder(), 'pulled');
    const { code, stdout } = await relay(
      ...['pull', '--cut', first, '--media', saltLantern, '--out', out, '--copy', '--handles', '6', '--json'],
    );
    // One card is not there.
    expect(code).toBe(1);
    const { stretches, left, copies } = JSON.parse(stdout) as {
      stretches: { original: string; from: number; to: number }[];
      left: { event: string }[];
      copies: { state: string; files: number }[];
    };
    expect(left.map(({ event }) => event)).toEqual(['005']);
    expect(stretches.map(({ original, from, to }) => `${basename(original)} ${from}-${to}`)).toEqual([
      'A001C003.mov 6-58',
      'A001C004.mov 0-42',
      'B001C001.mp4 0-34',
      'C001C011.mov 0-36',
      'C001C012.mov 0-28',
    ]);
    expect(copies).toMatchObject([{ state: 'proved', files: 5 }]);
    const made = join(out, basename(saltLantern));
    const same = await call('cmp', [
      join(made, 'day-1/C001/C001C011.mov'),
      join(saltLantern, 'day-1/C001/C001C011.mov'),
    ]);
    expect(same.code).toBe(0);
    expect((await relay('verify', made, '--no-record')).code).toBe(0);
  });

  it('takes a clip with the files around it', async () => {
    const list = join(folder, 'unit.edl');
    await writeFile(
      list,
      '001 AX V C 20:10:00:05 20:10:01:00 00:00:00:00 00:00:00:20\n* SOURCE FILE: D004/ESSENCE/UNIT01/C0001.MXF',
    );
    const out = join(await scratchFolder(), 'pulled');
    expect(
      (await relay('pull', '--cut', list, '--media', saltLantern, '--out', out, '--copy', '--rate', '25')).code,
    ).toBe(0);
    const made = join(out, basename(saltLantern), 'day-2/D004/ESSENCE/UNIT01');
    expect((await readdir(made)).sort()).toEqual(['C0001.MXF', 'C0001.XML']);
  });

  it('of a cut drawn by lot shows on its slates just the frames that the list names, and leads back to them', async () => {
    const draw = seeded(22);
    const random = (below: number): number => Math.floor(draw() * below);
    const material = [
      { reel: 'A001C003', start: '10:02:11:08', frames: 72, rate: 24 },
      { reel: 'A001C004', start: '10:04:27:19', frames: 60, rate: 24 },
    ];
    const label = (frames: number, rate: number): string =>
      [
        Math.floor(frames / rate / 3600),
        Math.floor(frames / rate / 60) % 60,
        Math.floor(frames / rate) % 60,
        frames % rate,
      ]
        .map((part) => String(part).padStart(2, '0'))
        .join(':');
    const wanted: { stem: string; from: number; to: number }[] = [];
    let record = 0;
    const lines = Array.from({ length: 8 }, (_, index) => {
      const { reel, start, frames, rate } = material[random(2)] as (typeof material)[number];
      const from = random(frames - 12);
      const length = 4 + random(Math.min(20, frames - from - 4));
      const [h = 0, m = 0, sec = 0, f = 0] = start.split(':').map(Number);
      const first = ((h * 60 + m) * 60 + sec) * rate + f + from;
      wanted.push({ stem: reel, from, to: from + length });
      record += length;
      const times = [first, first + length, record - length, record].map((one) => label(one, rate)).join(' ');
      return `${String(index + 1).padStart(3, '0')}  ${reel} V     C        ${times}`;
    });
    const list = join(folder, 'drawn.edl');
    await writeFile(list, ['TITLE: DRAWN', 'FCM: NON-DROP FRAME', ...lines, ''].join('\r\n'));
    const recipe = join(folder, 'proxies.json');
    await writeFile(recipe, JSON.stringify({ ...finishAndCut, deliverables: [finishAndCut.deliverables[1]] }));
    const out = join(await scratchFolder(), 'pulled');
    const common = ['--cut', list, '--media', join(saltLantern, 'day-1/A001'), '--rate', '23.976', '--json'];
    const pulled = await relay('pull', ...common, '--out', out, '--recipe', recipe, '--handles', '2');
    expect(pulled.code, pulled.stderr).toBe(0);
    const { stretches } = JSON.parse(pulled.stdout) as {
      stretches: { original: string; from: number; to: number; made: { outputs: { path: string }[] } }[];
    };
    for (const { original, from, to, made } of stretches) {
      const shown = await slates(join(out, made.outputs[0]?.path ?? ''), 960, 540, 16 / 9);
      expect(shown, original).toEqual(Array.from({ length: to - from }, (_, index) => from + index));
    }
    // Every frame of every event is in a stretch, and nothing but handles is beside them.
    const inStretches = (stem: string): Set<number> =>
      new Set(
        stretches
          .filter(({ original }) => original.includes(stem))
          .flatMap(({ from, to }) => Array.from({ length: to - from }, (_, index) => from + index)),
      );
    for (const { reel: stem } of material) {
      const needed = new Set(
        wanted
          .filter((one) => one.stem === stem)
          .flatMap(({ from, to }) => Array.from({ length: to - from }, (_, n) => from + n)),
      );
      const all = inStretches(stem);
      expect([...needed].filter((frame) => !all.has(frame))).toEqual([]);
      expect([...all].filter((frame) => ![-2, -1, 0, 1, 2].some((off) => needed.has(frame + off)))).toEqual([]);
    }
    // A cut of what was pulled leads through its sheet to the same frames of the originals.
    const again = await relay('rehearse', ...common, '--sheet', join(out, 'relink.json'));
    const events = JSON.parse(again.stdout) as Answer[];
    expect(events.map(({ from, to }) => ({ from, to }))).toEqual(wanted.map(({ from, to }) => ({ from, to })));
  });

  it('takes no recipe for copies', async () => {
    const { code, stderr } = await relay(
      ...['pull', '--cut', first, '--media', saltLantern, '--out', folder, '--copy', '--recipe', 'x.json'],
    );
    expect(code).toBe(2);
    expect(stderr).toContain('--copy copies originals as they are');
  });
});
