import type { ProductionAnswer } from '@relay/contract/site';
import { cp, mkdir, mkdtemp, readdir, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Browser, Page } from 'playwright-core';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { saltLantern } from '../testing/demo.ts';
import { startSite, until, type Site } from '../testing/site.ts';
import { openBrowser, openPage } from './browser.ts';

let site: Site;
let page: Page;
let browser: Browser;
let home: string;

beforeAll(async () => {
  home = await mkdtemp(join(tmpdir(), 'relay-own-'));
  await mkdir(join(home, 'ada/Island day/A001'), { recursive: true });
  await cp(join(saltLantern, 'day-1/S009/S009C001.mov'), join(home, 'ada/Island day/A001/A001C001.mov'));
  await writeFile(join(home, 'mounts'), '');
  [site, browser] = await Promise.all([
    startSite({
      args: ['--no-demo', '--root', join(home, 'ada')],
      env: { RELAY_MOUNTS: join(home, 'mounts'), RELAY_MOUNTED_BELOW: join(home, 'media') },
    }),
    openBrowser(),
  ]);
  page = await openPage(browser);
});
afterAll(async () => {
  await browser?.close();
  await site?.stop();
  await site?.remove();
  await rm(home, { recursive: true, force: true });
});

it('from an empty site to proxies of a folder under way in six presses at most', async () => {
  let presses = 0;
  const press = async (name: string | RegExp): Promise<void> => {
    await page.getByRole('button', { name }).and(page.locator(':enabled')).click();
    presses += 1;
  };
  await page.goto(site.address);
  await press('Open a folder of footage…');
  await press('Island day');
  await press('Read this folder');
  await page.getByRole('row').filter({ hasText: 'A001C001' }).waitFor();
  // To be read it gets nothing written, not even beside it.
  expect(await readdir(join(home, 'ada'))).toEqual(['Island day']);
  await press(/^Run/);
  await press(/^Start(,|$)/);
  await page.waitForURL(/\/runs\//);
  expect(presses).toBeLessThanOrEqual(6);
  const [production] = await site.api<ProductionAnswer[]>('/productions');
  expect(production?.name).toBe('Island day');
  const proxies = join(home, 'ada/island-day');
  await until('the proxy, beside the originals', async () =>
    (await readdir(proxies, { recursive: true }).catch(() => [])).find((name) => /proxy.*A001C001\.mov$/.test(name)),
  );
  // The originals lie as they lay.
  expect(await readdir(join(home, 'ada/Island day'), { recursive: true })).toEqual(['A001', 'A001/A001C001.mov']);
});

it('a card that is put in is seen as it comes, and brought in from where it is mounted', async () => {
  const card = join(home, 'media/SALT B002');
  await mkdir(join(card, 'DCIM'), { recursive: true });
  await cp(join(saltLantern, 'day-1/S009/S009C001.mov'), join(card, 'DCIM/B002C001.mov'));
  await page.getByRole('link', { name: /^Arrivals/ }).click();
  await page.getByRole('button', { name: 'Add a folder…' }).waitFor();
  expect(await page.getByText('Card bay').count()).toBe(0);
  await writeFile(join(home, 'mounts'), `40 1 8:17 / ${card.replace(' ', '\\040')} rw - exfat /dev/sdb1 rw\n`);
  const tile = page.getByRole('listitem').filter({ hasText: 'SALT B002' });
  await tile.getByText(/^card/).waitFor();
  await tile.getByRole('button', { name: 'Bring in…' }).click();
  await page.getByText('1 file of picture or sound').waitFor();
  await page.getByLabel('Roll', { exact: true }).fill('B002');
  await page.getByRole('button', { name: 'Copy and prove' }).click();
  await until('the copy', async () =>
    (await readdir(join(home, 'ada'), { recursive: true })).find((name) => name.endsWith('B002/DCIM/B002C001.mov')),
  );
  // Nothing is ever written to a card, not even a mark.
  expect(await readdir(card, { recursive: true })).toEqual(['DCIM', 'DCIM/B002C001.mov']);
  // Pulled out, it is not offered any more.
  await writeFile(join(home, 'mounts'), '');
  await tile.waitFor({ state: 'detached' });
});
