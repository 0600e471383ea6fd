import { chmod, mkdir, mkdtemp, readdir, stat, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterEach, expect, it, vi } from 'vitest';
import type * as Scratch from './scratch.ts';
import { scratchFolder as testFolder } from '../../testing/commands.ts';

afterEach(() => {
  vi.unstubAllEnvs();
  vi.resetModules();
});

/** The module as a process has it that is told where its site keeps scratch. */
async function fresh(site: string | undefined): Promise<typeof Scratch> {
  vi.stubEnv('RELAY_SCRATCH', site);
  vi.resetModules();
  return import('./scratch.ts');
}

it("lies below the site's own folder, private, and what a killed process left there is cleared up", async () => {
  const site = join(await testFolder(), 'scratch');
  await mkdir(site, { mode: 0o700 });
  // Numbers that no process has here: beyond Linux's highest; and this one's, begun at another time.
  const left = ['4194305-12-aaaaaa', `${process.pid}-1-bbbbbb`];
  for (const name of [...left, 'somebody-elses']) await mkdir(join(site, name));
  const { scratchFolder, scratchIn } = await fresh(site);
  const made = await scratchFolder();
  expect(made.startsWith(`${site}/${process.pid}-`)).toBe(true);
  expect((await stat(made)).mode & 0o077).toBe(0);
  await vi.waitFor(async () => expect((await readdir(site)).filter((name) => left.includes(name))).toEqual([]));
  expect(await readdir(site)).toContain('somebody-elses');
  expect(
    scratchIn(['-i', `file:${made}/list`, `lut3d=file=${made}/0.cube:interp=tetrahedral`, `file:${site}/elsewhere/x`]),
  ).toEqual([made]);
});

it("a folder that others may write to is no site's own: nothing in it is adopted or removed", async () => {
  const site = await mkdtemp(join(tmpdir(), 'relay-shared-'));
  await chmod(site, 0o777);
  await mkdir(join(site, '4194305-12-aaaaaa'));
  await writeFile(join(site, '4194305-12-aaaaaa/precious'), 'x');
  const { scratchFolder } = await fresh(site);
  expect((await scratchFolder()).startsWith(site)).toBe(false);
  expect(await readdir(join(site, '4194305-12-aaaaaa'))).toEqual(['precious']);
});
