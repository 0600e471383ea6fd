import { mkdir, readdir, readFile, rename, rm, symlink, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import { hashNames } from '@relay/core/custody/manifest';
import { call, relay, scratchFolder } from '../../testing/commands.ts';
import { c4Of } from '../disk/c4.ts';
import { hasherOf } from '../disk/hasher.ts';
import { addGeneration, readHistory } from './history.ts';
import { readMhl, writeMhl } from '@relay/core/custody/mhl';
import { readSums } from '@relay/core/custody/sums';
import { verifyFolder } from './verify.ts';
import { readXml } from '@relay/core/text/tree';

const bytes = Buffer.from(Array.from({ length: 300_001 }, (_, i) => (i * 37 + (i >> 8)) % 256));

/** A folder with files and one generation of history, as an arrival leaves it. */
async function kept(names: readonly string[] = ['CLIPS/A.mov', 'INDEX.XML', 'Ünï cödé/日本 .wav']): Promise<string> {
  const folder = join(await scratchFolder(), 'A001');
  const entries = [];
  for (const [index, path] of names.entries()) {
    await mkdir(join(folder, path, '..'), { recursive: true });
    const content = bytes.subarray(index * 1000);
    await writeFile(join(folder, path), content);
    const hasher = await hasherOf(['xxh128', 'md5']);
    hasher.update(content);
    entries.push({
      path,
      sizeBytes: content.length,
      modifiedAt: '2026-11-20T18:00:00.000Z',
      hashes: hasher.digest(),
      action: 'original' as const,
    });
  }
  await addGeneration(folder, {
    createdAt: '2026-11-20T18:00:00Z',
    host: 'cart',
    tool: 'Brisk Relay',
    process: 'transfer',
    entries,
  });
  return folder;
}

describe('hashes', () => {
  it('are what xxhsum, md5sum and sha1sum print, however the bytes arrive', async () => {
    const path = join(await scratchFolder(), 'file');
    await writeFile(path, bytes);
    const hasher = await hasherOf(hashNames);
    for (let at = 0; at < bytes.length; at += 77_777) hasher.update(bytes.subarray(at, at + 77_777));
    const found = hasher.digest();
    const first = async (program: string, ...args: string[]): Promise<string> =>
      (await call(program, [...args, path])).stdout.split(' ')[0] as string;
    expect(found.xxh64).toBe(await first('xxhsum', '-H1'));
    expect(found.xxh128).toBe(await first('xxhsum', '-H2'));
    expect((await call('xxhsum', ['-H3', path])).stdout).toContain(found.xxh3);
    expect(found.md5).toBe(await first('md5sum'));
    expect(found.sha1).toBe(await first('sha1sum'));
  });

  it('C4 is as SMPTE ST 2114 has it (the ID of "alfa" from memory; its SHA-512 is coreutils\')', async () => {
    expect(c4Of('alfa')).toBe(
      'c43zYcLni5LF9rR4Lg4B8h3Jp8SBwjcnyyeh4bc6gTPHndKuKdjUWx1kJPYhZxYt3zV6tQXpDs2shPsPYjgG81wZM1',
    );
    expect(c4Of('')).toHaveLength(90);
  });
});

describe('manifests', () => {
  it('state every file with hashes that xxhsum and md5sum confirm', async () => {
    const folder = await kept();
    const { generations } = await readHistory(folder);
    expect(generations.map((generation) => [generation.doubt, generation.manifest?.entries.length])).toEqual([
      [null, 3],
    ]);
    for (const entry of generations[0]?.manifest?.entries ?? []) {
      expect((await call('xxhsum', ['-H2', join(folder, entry.path)])).stdout).toContain(entry.hashes.xxh128);
      expect((await call('md5sum', [join(folder, entry.path)])).stdout).toContain(entry.hashes.md5);
    }
  });

  it('come back as they were written, names in other scripts and with blanks at their end too', () => {
    const manifest = {
      generation: 3,
      createdAt: '2026-11-21T10:00:00Z',
      host: 'a & b',
      tool: 'Brisk Relay',
      process: 'in-place' as const,
      entries: [' leading', 'trailing ', 'a&b<c>"d\'', 'かな/é', 'x'.repeat(255)].map((path) => ({
        path,
        sizeBytes: 5,
        modifiedAt: '2026-11-20T18:00:00Z',
        hashes: { xxh64: '0ea03b369a463d9d' },
        action: 'failed' as const,
      })),
    };
    expect(readMhl(writeMhl(manifest), 3)).toEqual({ ok: true, value: manifest });
  });

  it('of the older list format and of plain sums are read', () => {
    const old = readMhl(
      '<?xml version="1.0"?><hashlist version="1.1"><creatorinfo><hostname>x</hostname></creatorinfo><hash><file>CLIPS/A.mov</file><size>12</size><xxhash64be>0EA03B369A463D9D</xxhash64be></hash></hashlist>',
      1,
    );
    expect(old.ok && old.value.entries).toEqual([
      {
        path: 'CLIPS/A.mov',
        sizeBytes: 12,
        modifiedAt: null,
        hashes: { xxh64: '0ea03b369a463d9d' },
        action: 'original',
      },
    ]);
    const sums = readSums(
      `${'a'.repeat(32)}  ./CLIPS/A.mov\r\nMD5 (B with blanks.mov) = ${'b'.repeat(32)}\n`,
      'card.md5',
    );
    expect(sums.ok && sums.value.entries.map((entry) => [entry.path, entry.hashes])).toEqual([
      ['CLIPS/A.mov', { md5: 'a'.repeat(32) }],
      ['B with blanks.mov', { md5: 'b'.repeat(32) }],
    ]);
    expect(readSums('hello', 'x.md5').ok).toBe(false);
    const odd = readSums(`\\${'c'.repeat(32)}  take\\\\2.wav\n`, 'x.md5');
    expect(odd.ok && odd.value.entries[0]?.path).toBe('take\\2.wav');
  });

  it.each(['../outside.mov', '/etc/passwd', 'a/../../b', 'a//b', './a'])('that name %s are refused whole', (path) => {
    const text = writeMhl({
      generation: 1,
      createdAt: '',
      host: '',
      tool: '',
      process: 'in-place',
      entries: [{ path, sizeBytes: 1, modifiedAt: null, hashes: { md5: 'a'.repeat(32) }, action: 'original' }],
    });
    expect(readMhl(text, 1)).toMatchObject({
      ok: false,
      problem: { what: expect.stringMatching(/leads out|no path inside/) },
    });
    if (path !== './a') expect(readSums(`${'a'.repeat(32)}  ${path}\n`, 'x.md5').ok).toBe(false);
  });

  it('with entities that would grow, nested without end, or broken, are refused at once', () => {
    const bomb = `<?xml version="1.0"?><!DOCTYPE l [<!ENTITY a "${'x'.repeat(50)}">${Array.from({ length: 20 }, (_, i) => `<!ENTITY b${i} "&a;&a;&a;">`).join('')}]><hashlist>&b19;</hashlist>`;
    const from = performance.now();
    for (const text of [bomb, '<a>'.repeat(3000), '<a', 'no xml', '']) expect(readXml(text).ok).toBe(false);
    expect(performance.now() - from).toBeLessThan(2_000);
    expect(readXml('<a b="&lt;&#65;">&amp;&unknown;</a>')).toMatchObject({
      ok: true,
      value: { text: '&&unknown;', children: [{ name: 'b', text: '<A' }] },
    });
  });
});

describe('verifying', () => {
  it('a folder as it should be adds a generation, and says so again the next time', async () => {
    const folder = await kept();
    const first = await verifyFolder(folder);
    expect(first).toMatchObject({ verified: true, same: 3, files: 3, missing: [], changed: [], extra: [], doubts: [] });
    expect(first.generation).toMatch(/^ascmhl\/0002_A001_/);
    expect((await verifyFolder(folder)).generation).toMatch(/^ascmhl\/0003_/);
    const { generations } = await readHistory(folder);
    expect(generations.map((generation) => generation.manifest?.entries[0]?.action)).toEqual([
      'original',
      'verified',
      'verified',
    ]);
  });

  it('names what is missing, changed by one bit, and extra; exit code 1; and keeps knowing what should be there', async () => {
    const folder = await kept();
    const clip = await readFile(join(folder, 'CLIPS/A.mov'));
    clip[150_000] = (clip[150_000] as number) ^ 1;
    await writeFile(join(folder, 'CLIPS/A.mov'), clip);
    await rm(join(folder, 'INDEX.XML'));
    await writeFile(join(folder, 'CLIPS/new.mov'), 'x');
    for (let time = 0; time < 2; time += 1) {
      const { code, stdout } = await relay('verify', folder, '--json');
      expect(code).toBe(1);
      expect(JSON.parse(stdout)).toMatchObject({
        verified: false,
        same: 1,
        missing: ['INDEX.XML'],
        changed: [{ path: 'CLIPS/A.mov' }],
        extra: ['CLIPS/new.mov'],
      });
    }
  });

  it('does not believe a manifest that was changed after it was written, nor a chain that misses one', async () => {
    const folder = await kept();
    const [name] = (await readdir(join(folder, 'ascmhl'))).filter((one) => one.endsWith('.mhl'));
    const path = join(folder, 'ascmhl', name as string);
    const text = await readFile(path, 'utf8');
    await writeFile(path, text.replace('size="300001"', 'size="300002"'));
    expect(await verifyFolder(folder)).toMatchObject({
      verified: false,
      generation: null,
      problem: { what: expect.stringContaining('another C4') },
    });
    await writeFile(path, text);
    await verifyFolder(folder);
    await rename(path, join(folder, 'taken.bak'));
    expect(await verifyFolder(folder)).toMatchObject({
      verified: false,
      doubts: [{ why: expect.stringContaining('not there') }],
      extra: ['taken.bak'],
    });
  });

  it('follows no link, and says when there is nothing to verify against', async () => {
    const folder = await kept();
    await rm(join(folder, 'INDEX.XML'));
    await symlink('/etc/hostname', join(folder, 'INDEX.XML'));
    expect(await verifyFolder(folder, { record: false })).toMatchObject({
      verified: false,
      unread: [{ path: 'INDEX.XML', why: expect.stringContaining('link') }],
    });
    const bare = await scratchFolder();
    const { code, stderr } = await relay('verify', bare);
    expect([code, stderr]).toEqual([1, expect.stringContaining('no manifest')]);
    expect((await relay('verify', join(bare, 'gone'))).code).toBe(2);
  });

  it('holds a folder against a manifest that states C4 alone, whose digits are told apart by case', async () => {
    const folder = await scratchFolder();
    await writeFile(join(folder, 'a.wav'), 'noises');
    // As SMPTE ST 2114 makes it: SHA-512, which sha512sum prints, in base 58.
    const sum = (await call('sha512sum', [join(folder, 'a.wav')])).stdout.slice(0, 128);
    const digits = '123456789ABCDEFGHJKLMNPQRSTUVWXYZabcdefghijkmnopqrstuvwxyz';
    let [value, c4] = [BigInt(`0x${sum}`), ''];
    for (; value > 0n; value /= 58n) c4 = (digits[Number(value % 58n)] as string) + c4;
    c4 = `c4${c4.padStart(88, '1')}`;
    await mkdir(join(folder, 'ascmhl'));
    const path = join(folder, 'ascmhl/0001_A001_2026-11-20_180000Z.mhl');
    const manifest = {
      generation: 1,
      createdAt: '2026-11-20T18:00:00Z',
      host: 'x',
      tool: 'x',
      process: 'in-place' as const,
      entries: [{ path: 'a.wav', sizeBytes: 6, modifiedAt: null, hashes: { c4 }, action: 'original' as const }],
    };
    await writeFile(path, writeMhl(manifest));
    expect(await verifyFolder(folder, { record: false })).toMatchObject({ verified: true, same: 1 });
    await writeFile(
      path,
      writeMhl({
        ...manifest,
        entries: [{ ...(manifest.entries[0] as (typeof manifest.entries)[number]), hashes: { c4: c4.toLowerCase() } }],
      }),
    );
    expect(await verifyFolder(folder, { record: false })).toMatchObject({
      verified: false,
      changed: [{ path: 'a.wav' }],
    });
  });

  it('holds a folder against the sums that came with it', async () => {
    const folder = await scratchFolder();
    await writeFile(join(folder, 'a.wav'), 'sound');
    await writeFile(
      join(folder, 'sums.md5'),
      (await call('md5sum', [join(folder, 'a.wav')])).stdout.replace(`${folder}/`, ''),
    );
    expect(await verifyFolder(folder)).toMatchObject({
      verified: true,
      same: 1,
      manifest: 'sums.md5',
      generation: null,
    });
    await writeFile(join(folder, 'a.wav'), 'noise');
    expect(await verifyFolder(folder)).toMatchObject({ verified: false, changed: [{ path: 'a.wav' }] });
  });
});
