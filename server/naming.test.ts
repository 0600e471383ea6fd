import { open, readFile, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { expect, it } from 'vitest';
import { collisionKey } from '@relay/core/naming/paths';
import { call, scratchFolder } from '../testing/commands.ts';

/** Pairs of 16-bit units that a table takes for the same, but that names here are told apart by. */
function toldApart(table: Uint16Array): string[] {
  const apart: string[] = [];
  table.forEach((up, unit) => {
    // Halves of pairs are no letters by themselves.
    if (up === unit || (unit >= 0xd800 && unit < 0xe000)) return;
    const [small, large] = [String.fromCharCode(unit), String.fromCharCode(up)];
    if (collisionKey(small) !== collisionKey(large)) apart.push(`U+${unit.toString(16)} U+${up.toString(16)}`);
  });
  return apart;
}

/** An empty disk image. */
async function image(megabytes: number): Promise<string> {
  const path = join(await scratchFolder(), 'disk.img');
  const file = await open(path, 'w');
  await file.truncate(megabytes << 20);
  await file.close();
  return path;
}

it("what exFAT takes for one is one: its table, as Debian's own mkfs.exfat writes it", async () => {
  const disk = await image(16);
  expect((await call('/usr/sbin/mkfs.exfat', [disk])).code).toBe(0);
  const bytes = await readFile(disk);
  // Boot sector (exFAT specification, 3.1): cluster heap's and root's places; directory entry 0x82 is the up-case table
  // (7.2).
  const sector = 1 << (bytes[108] as number);
  const cluster = sector << (bytes[109] as number);
  const placeOf = (number: number): number => bytes.readUInt32LE(88) * sector + (number - 2) * cluster;
  const root = placeOf(bytes.readUInt32LE(96));
  const entry = Array.from({ length: 16 }, (_, index) => root + index * 32).find((at) => bytes[at] === 0x82) as number;
  const from = placeOf(bytes.readUInt32LE(entry + 20));
  const words = new Uint16Array(
    Uint8Array.from(bytes.subarray(from, from + Number(bytes.readBigUInt64LE(entry + 24)))).buffer,
  );
  // Compressed: 0xFFFF and a count stand for so many units that are their own (7.2.5).
  const table: number[] = [];
  for (let at = 0; at < words.length; at += 1) {
    if (words[at] === 0xffff && at + 1 < words.length) {
      for (let own = words[at + 1] as number; own > 0; own -= 1) table.push(table.length);
      at += 1;
    } else table.push(words[at] as number);
  }
  expect(table.filter((up, unit) => up !== unit).length).toBeGreaterThan(500);
  expect(toldApart(Uint16Array.from(table))).toEqual([]);
});

it("what NTFS takes for one is one: its $UpCase, as ntfs-3g's mkntfs writes it", async () => {
  const disk = await image(16);
  expect((await call('/usr/sbin/mkntfs', ['-F', '-Q', '-q', disk])).code).toBe(0);
  const out = join(await scratchFolder(), 'upcase');
  await writeFile(out, '');
  expect((await call('bash', ['-c', 'ntfscat -f -i 10 "$0" > "$1"', disk, out])).code).toBe(0);
  const table = new Uint16Array(Uint8Array.from(await readFile(out)).buffer);
  expect(table.length).toBe(65_536);
  expect(table.filter((up, unit) => up !== unit).length).toBeGreaterThan(500);
  expect(toldApart(table)).toEqual([]);
});

it('what Unicode folds to one is one, whole and in any normal form: as Python folds and normalises', async () => {
  const script =
    'import json, sys, unicodedata as u; print(json.dumps([[chr(c), chr(c).casefold(), u.normalize("NFD", chr(c)), u.normalize("NFC", chr(c))] for c in range(0x110000) if not 0xD800 <= c < 0xE000 and u.category(chr(c)) != "Cn" and (chr(c).casefold() != chr(c) or u.normalize("NFD", chr(c)) != chr(c))]))';
  const rows = JSON.parse((await call('/usr/bin/python3', ['-c', script])).stdout) as string[][];
  expect(rows.length).toBeGreaterThan(3_000);
  const apart = rows.filter((row) => new Set(row.map(collisionKey)).size > 1).map(([letter]) => letter);
  expect(apart).toEqual([]);
});
