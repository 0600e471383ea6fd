import { describe, expect, it } from 'vitest';
import { nameRefusedBy, pathRefusedBy, type FileSystem } from './fileSystem.ts';
import { hindrancesOn, newestOnly, since, type TravelItem } from './travel.ts';

const item = (path: string, over: Partial<TravelItem> = {}): TravelItem => ({
  path,
  kind: 'output',
  sizeBytes: 10,
  xxh3: 'a',
  key: '',
  ...over,
});

describe('names that a file system takes', () => {
  // exFAT specification 7.7.3 and Microsoft, Naming files, paths and namespaces; the others take all but / and NUL,
  // and APFS's desktop no colon.
  it.each<[string, Record<FileSystem, boolean>]>([
    ['plain.mov', { exfat: true, ntfs: true, fat32: true, apfs: true, ext4: true }],
    ['take 3?.mov', { exfat: false, ntfs: false, fat32: false, apfs: true, ext4: true }],
    ['01:00:00.mov', { exfat: false, ntfs: false, fat32: false, apfs: false, ext4: true }],
    ['tab\there', { exfat: false, ntfs: false, fat32: false, apfs: true, ext4: true }],
    ['ends.', { exfat: false, ntfs: false, fat32: false, apfs: true, ext4: true }],
    ['aux.mov', { exfat: false, ntfs: false, fat32: false, apfs: true, ext4: true }],
    // 255 letters of two bytes: 255 units, 510 bytes.
    ['é'.repeat(255), { exfat: true, ntfs: true, fat32: true, apfs: false, ext4: false }],
    // 86 letters beyond 16 bits: 172 units, 344 bytes.
    ['𝄞'.repeat(86), { exfat: true, ntfs: true, fat32: true, apfs: false, ext4: false }],
    ['x'.repeat(256), { exfat: false, ntfs: false, fat32: false, apfs: false, ext4: false }],
  ])('%s', (name, taken) => {
    for (const [system, takes] of Object.entries(taken))
      expect(nameRefusedBy(name, system as FileSystem) === null, system).toBe(takes);
  });

  it('and paths: 256 units below a drive where Windows is usual, 1023 bytes on a Mac', () => {
    const deep = `${'folder/'.repeat(36)}clip.mov`;
    expect(deep).toHaveLength(260);
    expect(pathRefusedBy(deep, 'ntfs')).toContain('260 UTF-16 units');
    expect(pathRefusedBy(deep, 'apfs')).toBeNull();
    expect(pathRefusedBy('folder/'.repeat(150) + 'x', 'apfs')).toContain('1051 bytes');
    expect(pathRefusedBy(deep.slice(4), 'ntfs')).toBeNull();
  });
});

describe('what hinders a hand-off', () => {
  it('names the file, the size, and both of two that are one name there', () => {
    const items = [
      item('proxy/A001C001.mov'),
      item('proxy/a001c001.MOV'),
      item('intermediate/long.mov', { sizeBytes: 2 ** 32 }),
    ];
    expect(hindrancesOn(items, 'ext4')).toEqual([]);
    expect(hindrancesOn(items, 'exfat').map(({ path }) => path)).toEqual(['proxy/a001c001.MOV']);
    const fat = hindrancesOn(items, 'fat32');
    expect(fat.map(({ path }) => path)).toEqual(['proxy/a001c001.MOV', 'intermediate/long.mov']);
    expect(fat[0]?.why).toBe('proxy/a001c001.MOV and proxy/A001C001.mov are one name on FAT32');
    // 2^32 − 1 bytes are the most that FAT's 32 bits of length hold.
    expect(hindrancesOn([item('x', { sizeBytes: 2 ** 32 - 1 })], 'fat32')).toEqual([]);
    expect(hindrancesOn([item('x'.repeat(250))], 'ntfs', 'a folder')).toHaveLength(1);
  });
});

describe('the next time', () => {
  it('sends what is new or changed, nothing that they hold, and says what to delete', () => {
    const held = [
      { path: 'proxy/1.mp4', sizeBytes: 10, xxh3: 'a', key: '1 Proxy' },
      { path: 'proxy/2.mp4', sizeBytes: 10, xxh3: 'a', key: '2 Proxy' },
      { path: 'proxy/old/3.mp4', sizeBytes: 10, xxh3: 'a', key: '3 Proxy' },
      { path: 'proxy/9.mp4', sizeBytes: 10, xxh3: 'a', key: '9 Proxy' },
    ];
    const found = since(
      [
        item('proxy/1.mp4', { key: '1 Proxy' }),
        item('proxy/2.mp4', { key: '2 Proxy', xxh3: 'b' }),
        item('proxy/3.mp4', { key: '3 Proxy', xxh3: 'c' }),
        item('proxy/4.mp4', { key: '4 Proxy' }),
      ],
      held,
    );
    expect(found.held.map(({ path }) => path)).toEqual(['proxy/1.mp4']);
    expect(found.replaced.map(({ path }) => path)).toEqual(['proxy/2.mp4']);
    expect(found.fresh.map(({ path }) => path)).toEqual(['proxy/3.mp4', 'proxy/4.mp4']);
    // What was not chosen this time stays theirs.
    expect(found.toDelete.map(({ path }) => path)).toEqual(['proxy/old/3.mp4']);
  });

  it('of two versions of one clip’s deliverable the newest goes', () => {
    const { items, older } = newestOnly([
      item('b/1.mov', { key: '1 Proxy' }),
      item('a/1.mov', { key: '1 Proxy' }),
      item('x.cube'),
      item('y.cube'),
    ]);
    expect(items.map(({ path }) => path)).toEqual(['b/1.mov', 'x.cube', 'y.cube']);
    expect(older.map(({ path }) => path)).toEqual(['a/1.mov']);
  });
});
