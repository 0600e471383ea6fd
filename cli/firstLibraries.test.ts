import { chmod, copyFile, mkdir, readFile, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { beforeEach, expect, it } from 'vitest';
import { call, scratchFolder } from '../testing/commands.ts';
import { command } from '../testing/demo.ts';

/**
 * `./relay` in a house that holds nothing but a program that tells what it was given: how it finds, keeps and hands on
 * the libraries that FFmpeg's symbols are looked for in first.
 */
const floors = ['core', 'contract', 'media', 'work', 'demo', 'server', 'cli', 'web', 'bench'];
/** Asked for the order, it does as the file beside it says, and counts; asked anything else, it tells what it has. */
const program = `
import { appendFileSync, readFileSync } from 'node:fs';
if (process.argv[2] === 'link-order') {
  appendFileSync('asked', '1');
  const [says, code] = readFileSync('order', 'utf8').split(' ');
  process.stdout.write(says + '\\n');
  process.exit(Number(code));
}
console.log(process.env.RELAY_FIRST_LIBRARIES);
`;

let house: string;
let tools: string;
beforeEach(async () => {
  house = await scratchFolder();
  tools = join(house, 'tools');
  for (const folder of [...floors, 'tools', 'node_modules', 'build']) await mkdir(join(house, folder));
  await copyFile(command, join(house, 'relay'));
  await writeFile(join(house, 'core/package.json'), '{}');
  for (const name of ['package.json', 'package-lock.json']) await writeFile(join(house, name), '{}');
  for (const name of ['build.mjs', 'buildOptions.mjs']) await writeFile(join(house, name), '');
  await writeFile(join(house, 'build/relay.mjs'), program);
  // Nothing is installed there.
  await writeFile(join(tools, 'npm'), '#!/bin/sh\n');
  await chmod(join(tools, 'npm'), 0o755);
});

/** What the program of the house was given, when asking for the order says this and ends with that code. */
async function given(order: string): Promise<string> {
  await writeFile(join(house, 'order'), order);
  const { stdout, stderr } = await call('/bin/sh', ['-c', `cd "${house}" && ./relay paths`], {
    PATH: `${tools}:${process.env.PATH ?? ''}`,
    RELAY_FIRST_LIBRARIES: 'of whoever called',
  });
  expect(stderr).not.toMatch(/No such file|denied|error/i);
  return stdout.trim();
}
const asked = async (): Promise<number> => (await readFile(join(house, 'asked'), 'utf8')).length;

it('what was found is handed on, and kept', async () => {
  expect(await given('/lib/one.so:/lib/two.so 0')).toBe('/lib/one.so:/lib/two.so');
  expect(await given('/lib/other.so 0')).toBe('/lib/one.so:/lib/two.so');
  expect(await asked()).toBe(1);
});

it('what broke off is neither used nor kept, and asked for again', async () => {
  expect(await given('/lib/one.so:/lib/tw 137')).toBe('');
  expect(await given('/lib/one.so:/lib/two.so 0')).toBe('/lib/one.so:/lib/two.so');
  expect(await asked()).toBe(2);
});

it('what cannot be kept is used all the same, and found again', async () => {
  // A folder stands where it would be written: as little can be kept there as on a full disk.
  await mkdir(join(house, '.relay/first-libraries.part'), { recursive: true });
  expect(await given('/lib/one.so 0')).toBe('/lib/one.so');
  expect(await given('/lib/one.so 0')).toBe('/lib/one.so');
  expect(await asked()).toBe(2);
});

it('what was exchanged since has it found anew', async () => {
  expect(await given('/lib/one.so 0')).toBe('/lib/one.so');
  const kept = join(house, '.relay/first-libraries');
  await writeFile(kept, (await readFile(kept, 'utf8')).replace(/^.*/, 'of before'));
  expect(await given('/lib/two.so 0')).toBe('/lib/two.so');
});
