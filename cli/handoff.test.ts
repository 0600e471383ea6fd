import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { mkdir, readdir, readFile, rm, stat, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { beforeAll, describe, expect, it } from 'vitest';
import { writeOtio } from '@relay/core/cut/otio/write';
import { readOtio } from '@relay/core/cut/otio/read';
import { readEdl } from '@relay/core/cut/edl/read';
import { relinkJson, type RelinkRow } from '@relay/core/relink/sheet';
import { unwrap } from '@relay/core/result';
import { rational } from '@relay/core/time/rational';
import { hashFile } from '@relay/work/disk/hash';
import { call, relay, scratchFolder } from '../testing/commands.ts';
import { built, saltLantern } from '../testing/demo.ts';
import { essence } from '../testing/essence.ts';
import { relinkRow } from '../testing/relinkRow.ts';
import { until } from '../testing/site.ts';

let base: string;
beforeAll(async () => {
  base = await scratchFolder();
});

describe('relay handoff and relay swap', () => {
  it('bring a run to a drive on which a cut of its proxies swaps to its intermediates by path, every file opened', async () => {
    const [out, drive] = [join(base, 'out'), join(base, 'drive')];
    expect((await relay('run', '--source', join(saltLantern, 'day-1/C001'), '--out', out)).code).toBe(0);
    const made = await relay('handoff', '--run', out, '--to', drive, '--json');
    expect(made.code, made.stderr).toBe(0);
    const answer = JSON.parse(made.stdout) as { swap: { roots: { low: string; high: string }; pairs: object[] } };
    expect(answer.swap).toMatchObject({ roots: { low: 'proxy', high: 'intermediate' } });
    expect(answer.swap.pairs).toEqual([
      expect.objectContaining({ differs: [] }),
      expect.objectContaining({ differs: [] }),
    ]);
    expect((await relay('verify', drive, '--no-record', '--json')).code).toBe(0);
    const { rows } = JSON.parse(await readFile(join(drive, 'relink.json'), 'utf8')) as { rows: RelinkRow[] };
    expect(rows.map(({ output }) => output)).toEqual([
      'intermediate/C001C011.mov',
      'intermediate/C001C012.mov',
      'proxy/C001C011.mov',
      'proxy/C001C012.mov',
    ]);

    // A cut as an editor made it on the proxies, elsewhere.
    const [first, second] = rows.filter(({ role }) => role === 'proxy') as [RelinkRow, RelinkRow];
    const frame = (label: string): string =>
      `${label.slice(0, -2)}${String(Number(label.slice(-2)) + 2).padStart(2, '0')}`;
    const list = [
      'TITLE: LOCKED',
      'FCM: NON-DROP FRAME',
      ...[first, second].flatMap((row, index) => [
        `00${index + 1} ${row.reel} V C ${row.startTimecode} ${frame(row.startTimecode)} 10:00:00:0${index * 2} 10:00:00:0${index * 2 + 2}`,
        `* FROM CLIP NAME: ${row.output.slice(6)}`,
      ]),
    ].join('\r\n');
    const cut = unwrap(readEdl(list, { given: rational(24) })).cut;
    const onProxies = cut.events.map((event, index) => ({
      ...event,
      source: { ...event.source, file: `/Volumes/EDIT/${[first, second][index]?.output ?? ''}` },
    }));
    const locked = join(base, 'locked.otio');
    await writeFile(locked, writeOtio({ ...cut, events: onProxies }));

    const to = join(base, 'online.otio');
    const swapped = await relay(
      ...[
        'swap',
        '--cut',
        locked,
        '--sheet',
        join(drive, 'relink.json'),
        '--role',
        'intermediate',
        '--to',
        to,
        '--json',
      ],
    );
    expect(swapped.code, swapped.stderr).toBe(0);
    expect(JSON.parse(swapped.stdout)).toMatchObject({ events: 2, swapped: 2, left: [] });
    const online = unwrap(readOtio(await readFile(to, 'utf8'), { given: null })).cut;
    const files = online.events.map(({ source }) => source.file ?? '');
    expect(files).toEqual([1, 2].map((n) => join(drive, `intermediate/C001C01${n}.mov`)));
    expect(online.events.map(({ source }) => source.frames)).toEqual(cut.events.map(({ source }) => source.frames));
    // And by hand: one folder written for the other leads to files that open, from the same timecode on.
    const byHand = onProxies.map(({ source }) =>
      (source.file ?? '').replace('/Volumes/EDIT/proxy', join(drive, 'intermediate')),
    );
    expect(byHand).toEqual(files);
    for (const [index, file] of files.entries()) {
      const probe = await call('ffprobe', [
        ...[
          '-v',
          'error',
          '-select_streams',
          'v',
          '-show_entries',
          'stream=codec_name:stream_tags=timecode',
          '-of',
          'csv=p=0',
        ],
        file,
      ]);
      expect(probe.stdout.trim()).toBe(`prores,${[first, second][index]?.startTimecode ?? ''}`);
    }
    // What is there is not written over.
    const again = await relay(
      ...['swap', '--cut', locked, '--sheet', join(drive, 'relink.json'), '--role', 'intermediate', '--to', to],
    );
    expect([again.code, again.stderr]).toEqual([2, expect.stringContaining('is there already')]);
  });

  it('a kill in the middle loses nothing: the same command goes on; of what is there nothing is written anew', async () => {
    const [out, drive] = [join(base, 'many'), join(base, 'killed')];
    await mkdir(join(out, 'proxy'), { recursive: true });
    const rows: RelinkRow[] = [];
    for (let n = 0; n < 60; n += 1) {
      const output = `proxy/${n}.mp4`;
      const bytes = essence(200_000, n);
      await writeFile(join(out, output), bytes);
      const outputXxh3 = await hashFile(join(out, output));
      rows.push(relinkRow({ stem: String(n), original: `${n}.mov`, output, outputBytes: bytes.length, outputXxh3 }));
    }
    // A long one at the end, so that the kill finds it at work.
    await writeFile(join(out, 'proxy/long.mp4'), Buffer.alloc(600e6, 7));
    const outputXxh3 = await hashFile(join(out, 'proxy/long.mp4'));
    rows.push(relinkRow({ stem: 'l', original: 'l.mov', output: 'proxy/long.mp4', outputBytes: 600e6, outputXxh3 }));
    await writeFile(join(out, 'relink.json'), relinkJson(rows));
    const args = ['handoff', '--run', out, '--to', drive, '--json'];
    const env = { ...process.env, RELAY_HOME: join(base, 'home') };
    const child = spawn(process.execPath, [built, ...args], { env, stdio: 'ignore' });
    const ended = once(child, 'close');
    const there = (): Promise<string[]> => readdir(join(drive, 'proxy')).catch(() => []);
    await until('the long one has begun', async () => {
      const names = await there();
      return names.length > 60 && names.some((name) => name.startsWith('.relay-part'));
    });
    child.kill('SIGKILL');
    await ended;
    expect((await readdir(drive)).includes('ascmhl')).toBe(false);
    const before = (await stat(join(drive, 'proxy/0.mp4'))).ino;
    const goesOn = await call(process.execPath, [built, ...args], { RELAY_HOME: join(base, 'home') });
    expect(goesOn.code, goesOn.stderr).toBe(0);
    expect((await there()).filter((name) => name.startsWith('.relay'))).toEqual([]);
    expect(await there()).toHaveLength(61);
    expect((await stat(join(drive, 'proxy/0.mp4'))).ino).toBe(before);
    expect((await relay('verify', drive, '--no-record')).stdout).toContain('Verified: 65 of 65');
    await rm(drive, { recursive: true });
  });

  it.each([
    ['say either --run', ['--to', 'x']],
    ['cannot be read', ['--run', '/nowhere', '--to', '/tmp/never-made']],
    ['names outputs in /etc', ['--sheet', 'PLACED', '--to', '/tmp/never-made']],
    ['--for takes one of exfat', ['--run', 'x', '--to', 'x', '--for', 'zfs']],
  ])('wrong use is said, and makes nothing: %s', async (says, args) => {
    // A sheet that came from elsewhere, and would have what lies on this machine copied.
    const placed = join(base, 'placed.json');
    await writeFile(placed, relinkJson([relinkRow({ place: '/etc', output: 'passwd' })]));
    const { code, stderr } = await relay('handoff', ...args.map((arg) => (arg === 'PLACED' ? placed : arg)));
    expect([code, stderr]).toEqual([2, expect.stringContaining(says)]);
  });
});
