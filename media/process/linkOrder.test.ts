import { describe, expect, it, vi } from 'vitest';
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
    expect(order.some((library) => library.endsWith('/libc.so.6'))).toBe(true);
  });

  it('is told to FFmpeg in its place; a library that is gone is no complaint about a clip', async () => {
    vi.stubEnv('RELAY_FIRST_LIBRARIES', '/usr/lib/of-no-machine.so');
    const { code, stderr } = await run(ffprobe, ['-v', 'error', '-version']);
    vi.unstubAllEnvs();
    expect(stderr).toContain('of-no-machine.so');
    expect([code, complaints(stderr)]).toEqual([0, []]);
  });
});
