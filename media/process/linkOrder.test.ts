import { describe, expect, it, vi } from 'vitest';
import { call } from '../../testing/commands.ts';
import { complaints, ffprobe } from './ffmpeg.ts';
import { bindingOf, byUse, inOrder, learn, linkOrder, type Before } from './linkOrder.ts';
import { run } from './run.ts';

describe('where symbols are looked for first', () => {
  it('reads what the linker tells, as glibc 2.36 writes it', () => {
    const line =
      "      6388:\tbinding file /lib/x86_64-linux-gnu/libpng16.so.16 [0] to /lib/x86_64-linux-gnu/libm.so.6 [0]: normal symbol `modf' [GLIBC_2.2.5]";
    expect(bindingOf(line)).toEqual([
      '/lib/x86_64-linux-gnu/libpng16.so.16 modf [GLIBC_2.2.5]',
      '/lib/x86_64-linux-gnu/libm.so.6',
    ]);
    expect(bindingOf('      6388:\tcalling init: /lib/x86_64-linux-gnu/libm.so.6')).toBeNull();
  });

  it('wishes for what has most symbols, of libraries alone', () => {
    const bindings = new Map([
      ['a x', '/lib/libone.so.1'],
      ['a y', '/lib/libtwo.so.1'],
      ['b y', '/lib/libtwo.so.1'],
      ['b z', '/lib64/ld-linux-x86-64.so.2'],
      ['c z', 'ffmpeg'],
    ]);
    expect(byUse(bindings)).toEqual(['/lib/libtwo.so.1', '/lib/libone.so.1']);
  });

  it('puts what has a symbol before what has another of the same name, wished for or not', () => {
    const before: Before = new Map();
    const was = new Map([
      ['a x', 'first'],
      ['a y', 'second'],
    ]);
    expect(learn(before, was, new Map(was).set('a x', 'second'))).toBe(false);
    expect(inOrder(['second', 'third'], before)).toEqual(['first', 'second', 'third']);
    expect(learn(before, was, new Map(was))).toBe(true);
    // A symbol more or less is another program than before.
    expect(learn(before, was, new Map(was).set('a z', 'second'))).toBe(false);
  });

  it('finds an order for the FFmpeg of this machine that leaves every symbol where it was', async () => {
    const order = await linkOrder([ffprobe]);
    expect(order.length).toBeGreaterThan(50);
    const found = async (first: readonly string[]): Promise<string[]> => {
      const { stderr } = await call('/usr/bin/ffprobe', ['-version'], {
        ...{ LD_DEBUG: 'bindings', LD_BIND_NOW: '1', LD_PRELOAD: first.join(':') },
      });
      return stderr.split('\n').flatMap((line) => bindingOf(line)?.join(' in ') ?? []);
    };
    const [without, within] = [new Set(await found([])), new Set(await found(order))];
    expect(without.size).toBeGreaterThan(10_000);
    expect([...without].filter((one) => !within.has(one))).toEqual([]);
    // The libraries with most symbols alone, in that order, would exchange some.
    const wished = byUse(new Map([...without].map((one) => one.split(' in ') as [string, string])));
    const exchanged = new Set(await found(wished.slice(0, 96)));
    expect([...without].filter((one) => !exchanged.has(one)).length).toBeGreaterThan(0);
  });

  it('makes nothing of a program that does not end well', async () => {
    await expect(linkOrder(['/usr/bin/false'])).rejects.toThrow('/usr/bin/false ended with code 1');
  });

  it('is told to FFmpeg in its place; a library that is gone is no complaint about a clip', async () => {
    vi.stubEnv('RELAY_FIRST_LIBRARIES', '/usr/lib/of-no-machine.so');
    const { code, stderr } = await run(ffprobe, ['-v', 'error', '-version']);
    vi.unstubAllEnvs();
    expect(stderr).toContain('of-no-machine.so');
    expect([code, complaints(stderr)]).toEqual([0, []]);
  });
});
