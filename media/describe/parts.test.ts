import { writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import { call, scratchFolder } from '../../testing/commands.ts';
import { runOwn as run } from '../process/run.ts';
import { sampleLayout } from './pixelFormat.ts';
import { cutShort, startsWithBox } from './wholeness.ts';

describe('pixel formats', () => {
  it('are understood as FFmpeg itself describes them, for all that it can decode to', async () => {
    // `-pix_fmts` prints flags, name, components, bits a pixel and bit depths: an independent list of names, channels
    // and depths.
    const { stdout } = await call('ffmpeg', ['-hide_banner', '-pix_fmts']);
    const rows = stdout
      .split('\n')
      .map((line) => /^[I.][O.][H.]{1}[P.][B.] (\S+)\s+(\d)\s+\d+\s+([\d-]+)$/.exec(line.trim()))
      .filter((row) => row !== null);
    expect(rows.length).toBeGreaterThan(100);
    const family =
      /^(yuva?4\d\dp(9|10|12|14|16)?(le)?|yuvj4\d\dp|gbra?p(10|12|14|16)?(le)?|gray(9|10|12|14|16)?(le)?|p01[06](le)|p[24]1[06](le)|rgb48le|bgr48le|rgba64le|rgb24|bgr24|rgba|bgra|argb|abgr|nv12|nv16|nv24|uyvy422|yuyv422)$/;
    const wrong = rows.flatMap(([, name, components, depths]) => {
      if (!name || !family.test(name)) return [];
      const layout = sampleLayout(name);
      const alpha = Number(components) === 4 || name === 'ya8';
      return layout.bitDepth === Number(depths?.split('-')[0]) && layout.alpha === alpha
        ? []
        : [[name, layout, components, depths]];
    });
    expect(wrong).toEqual([]);
  });

  it('tell chroma sampling by their names', () => {
    expect(
      [
        'yuv420p',
        'yuvj422p',
        'yuv444p12le',
        'yuva444p10le',
        'nv12',
        'p010le',
        'p210le',
        'uyvy422',
        'gbrp10le',
        'rgb48le',
        'gray10le',
        'yuv411p',
      ].map((name) => sampleLayout(name).chroma),
    ).toEqual(['4:2:0', '4:2:2', '4:4:4', '4:4:4', '4:2:0', '4:2:0', '4:2:2', '4:2:2', 'rgb', 'rgb', '4:0:0', '4:1:1']);
  });
});

describe('wholeness', () => {
  const box = (type: string, size: number, length = size): Buffer => {
    const bytes = Buffer.alloc(length);
    bytes.writeUInt32BE(size, 0);
    bytes.write(type, 4, 'latin1');
    return bytes;
  };

  it('of boxes (ISO/IEC 14496-12): the last must end where the file ends', async () => {
    const folder = await scratchFolder();
    const look = async (...parts: Buffer[]): Promise<string | null> => {
      const bytes = Buffer.concat(parts);
      await writeFile(join(folder, 'x'), bytes);
      return cutShort(join(folder, 'x'), bytes.length, 'mov');
    };
    expect(await look(box('ftyp', 24), box('moov', 100), box('mdat', 500))).toBeNull();
    expect(await look(box('ftyp', 24), box('moov', 100), box('mdat', 500, 200))).toBe(
      '300 bytes are missing at the end of the file',
    );
    // Size 0 reaches to the end; size 1 is followed by eight bytes of size; nonsense is left to the demuxer.
    expect(await look(box('ftyp', 24), box('mdat', 0, 200))).toBeNull();
    const large = box('mdat', 1, 200);
    large.writeBigUInt64BE(5_000_200n, 8);
    expect(await look(box('ftyp', 24), large)).toBe('5.0 MB are missing at the end of the file');
    expect(await look(box('ftyp', 3, 24))).toBeNull();
    expect(await look(Buffer.from('short'))).toBeNull();
  });

  it('of MXF (SMPTE ST 377-1): the header names where the footer lies', async () => {
    const folder = await scratchFolder();
    const look = async (footer: bigint, size: number): Promise<string | null> => {
      const bytes = Buffer.alloc(size);
      Buffer.from('060e2b34020501010d01020101020400', 'hex').copy(bytes);
      bytes[16] = 0x83;
      bytes.writeBigUInt64BE(footer, 16 + 4 + 2 + 2 + 4 + 8 + 8);
      await writeFile(join(folder, 'x'), bytes);
      return cutShort(join(folder, 'x'), size, 'mxf-op1a');
    };
    expect(await look(3000n, 4000)).toBeNull();
    expect(await look(9000n, 4000)).toContain('missing at the end');
    expect(await look(0n, 4000)).toBeNull();
  });

  it('tells a MOV by its first box', async () => {
    const path = join(await scratchFolder(), 'x');
    for (const [bytes, expected] of [
      [box('ftyp', 24), true],
      [box('wide', 8), true],
      [Buffer.from('#EXTM3U\nftyp'), false],
      [Buffer.from('ab'), false],
    ] as const) {
      await writeFile(path, bytes);
      expect(await startsWithBox(path)).toBe(expected);
    }
  });
});

describe('processes', () => {
  it('take arguments as they are, report how they ended, and give whole lines', async () => {
    const lines: string[] = [];
    await run('printf', ['%s\\n', '$(touch /tmp/never)', '; exit 1', 'a b'], { onLine: (line) => lines.push(line) });
    expect(lines).toEqual(['$(touch /tmp/never)', '; exit 1', 'a b']);
    expect((await run('sh', ['-c', 'exit 3'])).code).toBe(3);
    expect(await run('sh', ['-c', 'kill -9 $$'])).toMatchObject({ code: null, endedBy: 'SIGKILL' });
    await expect(run('no-such-program-here', [])).rejects.toThrow('is not installed');
  });

  it('are ended when their time is over or nobody wants them any more', async () => {
    const from = Date.now();
    expect((await run('sleep', ['30'], { timeoutMs: 200 })).endedBy).toBe('SIGKILL');
    const stop = new AbortController();
    setTimeout(() => stop.abort(), 100);
    expect((await run('sleep', ['30'], { signal: stop.signal })).endedBy).toBe('SIGTERM');
    expect(Date.now() - from).toBeLessThan(5_000);
  });
});
