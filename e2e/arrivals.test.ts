import { mkdir, readFile, readdir, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { RollLine } from '@relay/contract/arrivals';
import type { ProductionAnswer } from '@relay/contract/site';
import type { ClipsAnswer } from '@relay/contract/clips';
import type { Browser, Page } from 'playwright-core';
import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest';
import { pause, startSite, until, type Site } from '../testing/site.ts';
import { openBrowser, openPage } from './browser.ts';

let site: Site;
let browser: Browser;
let page: Page;
let production: ProductionAnswer;
const troubles: string[] = [];

beforeAll(async () => {
  [site, browser] = await Promise.all([startSite({ copyOf: inject('preparedSite') }), openBrowser()]);
  page = await openPage(browser);
  page.on('pageerror', (error) => troubles.push(error.message));
  production = (await site.api<ProductionAnswer[]>('/productions'))[0] as ProductionAnswer;
});
afterAll(async () => {
  await browser?.close();
  await site?.stop();
  await site?.remove();
  expect(troubles).toEqual([]);
});

const rolls = (): Promise<RollLine[]> => site.api<RollLine[]>(`/productions/${production.id}/rolls`);
const sheet = (filter = ''): Promise<ClipsAnswer> =>
  site.api<ClipsAnswer>(`/productions/${production.id}/clips?filter=${encodeURIComponent(filter)}`);

describe('a page that is quicker than its answers', () => {
  it('opens the folders of the first store once stores are known, though it was asked before', async () => {
    let known = (): void => undefined;
    const asked = new Promise<void>((resolve) => (known = resolve));
    await page.route(/\/api\/stores$/, async (route) => {
      await asked;
      await route.continue();
    });
    await page.goto(`${site.address}/p/${production.id}/arrivals`);
    await page.getByRole('button', { name: 'Add a folder…' }).click();
    expect(await page.getByRole('button', { name: 'Read this folder' }).isDisabled()).toBe(true);
    known();
    await page.getByRole('button', { name: 'salt-lantern', exact: true }).waitFor();
    await page.unroute(/\/api\/stores$/);
  });

  it('puts two cards into two slots, one right after the other', async () => {
    await page.route(/\/api\/bay$/, async (route) => {
      await pause(500);
      await route.continue();
    });
    await page.goto(`${site.address}/p/${production.id}/arrivals`);
    await page.getByRole('button', { name: 'Put in card-R-1' }).click();
    await page.getByRole('button', { name: 'Put in card-V-1' }).click();
    await until('both', async () => (await page.getByRole('button', { name: 'Pull out' }).count()) === 2);
    await page.unroute(/\/api\/bay$/);
    for (const left of [1, 0]) {
      await page.getByRole('button', { name: 'Pull out' }).first().click();
      await until('it to be out', async () => (await page.getByRole('button', { name: 'Pull out' }).count()) === left);
    }
  });
});

describe('a card, from the bay to the sheet', () => {
  it('is put in, brought in with the name that is proposed, and says when it may be cleared', async () => {
    await page.goto(`${site.address}/p/${production.id}/arrivals`);
    await page.getByRole('button', { name: 'Put in card-A-2' }).click();
    await page.getByRole('button', { name: 'Bring in…', exact: true }).click();
    await page.getByText('8 files, 6.3 MB').waitFor();
    expect(await page.getByRole('textbox', { name: 'Roll' }).inputValue()).toBe('A002');
    await until(
      'the day to be proposed',
      async () => (await page.getByLabel('Day', { exact: true }).inputValue()) === 'day-2',
    );
    await page.getByRole('button', { name: 'Copy and prove' }).click();
    await page
      .getByText(
        "The card may be cleared: 8 files proved in 2 copies on 2 stores, which by the production's rule may be one disk.",
      )
      .waitFor();
    await page.getByText('3 clips').first().waitFor();
    await page.getByRole('button', { name: 'Verify again' }).click();
    await page.getByText('as stated', { exact: false }).first().waitFor();
    await page.getByRole('button', { name: 'Bring in…', exact: true }).click();
    await page.getByText('This card came in before as A002, with the very same 8 files.').waitFor();
    expect(await page.getByRole('textbox', { name: 'Roll' }).inputValue()).toBe('A003');
    await page.keyboard.press('Escape');
  });

  it('when the worker is killed in the middle goes on by itself and ends proved', async () => {
    const card = join(site.home, 'demo/bay/slot-2/card-B-9');
    await mkdir(card, { recursive: true });
    for (let index = 0; index < 120; index += 1)
      await writeFile(join(card, `B009C${index}.bin`), Buffer.alloc(5_000_000, index + 1));
    await site.api(`/productions/${production.id}/rolls`, {
      card: { store: 'card-bay', folder: 'slot-2/card-B-9' },
      day: 'day-2',
      name: 'B009',
      destinations: [
        { store: 'estuary-raid', folder: 'x' },
        { store: 'shuttle', folder: 'x' },
      ],
    });
    const journals = join(site.home, 'journals');
    const written = async (): Promise<string> =>
      (
        await Promise.all(
          (await readdir(journals)).map((name) => readFile(join(journals, name), 'utf8').catch(() => '')),
        )
      ).join('');
    await until('some files proved', async () => (await written()).split('\n').length > 10);
    process.kill((await site.pids()).workerPid, 'SIGKILL');
    const b009 = await until('the roll', async () =>
      (await rolls()).find((roll) => roll.name === 'B009' && roll.state === 'proved'),
    );
    expect(b009).toMatchObject({ files: 120, clearing: { clear: true } });
  });
});

describe('the clips that came', () => {
  it('are known by their sidecars, found by filters, and named for a whole selection at once, with an undo', async () => {
    await until('clips looked at', async () => (await sheet('a002')).lines.every((line) => line.looked));
    await page.goto(`${site.address}/p/${production.id}/clips?filter=a002c`);
    await page.getByText('3 of 15 clips').waitFor();
    await page.getByRole('row').filter({ hasText: 'A002C001' }).getByText('14·3').waitFor();
    await page.keyboard.press('Control+a');
    await page.getByRole('heading', { name: '3 clips' }).waitFor();
    expect(await page.getByLabel('Scene').getAttribute('placeholder')).toBe('mixed');
    await page.getByLabel('Camera').fill('A-main');
    await page.keyboard.press('Enter');
    await page.getByText('Changed on 3 clips').waitFor();
    await until('the change', async () =>
      (await sheet('a002c')).lines.every((line) => line.identity.camera === 'A-main'),
    );
    await page.getByRole('button', { name: 'Undo' }).click();
    await until('the undo', async () => (await sheet('a002c')).lines.every((line) => line.identity.camera === 'A'));
    // By a pattern, every result shown before.
    await page.getByRole('button', { name: /From names/ }).click();
    await page.getByLabel('Sets').selectOption('take');
    await page.getByLabel('From', { exact: true }).fill('[name number 2]');
    await page.getByRole('cell', { name: '004', exact: true }).waitFor();
    await page.getByRole('button', { name: 'Set on 3 clips' }).click();
    await until(
      'the takes',
      async () => (await sheet('a002c')).lines.map((line) => line.identity.take).join() === '001,002,004',
    );
    await page.getByRole('button', { name: 'Filters' }).click();
    await page.getByLabel('Name for this filter').fill('Second A card');
    await page.getByRole('button', { name: 'Keep', exact: true }).click();
    await page.getByRole('button', { name: 'Forget Second A card' }).waitFor();
    await page.keyboard.press('Escape');
  });

  it('are decided on for many at once, and one is left out', async () => {
    await page.goto(`${site.address}/p/${production.id}/clips?filter=a002c`);
    await page.getByRole('row').filter({ hasText: 'A002C001' }).click();
    await page.getByLabel('Why').fill('shot in log');
    await page.getByRole('button', { name: 'Run it as it is' }).click();
    await page.getByText('Runs as it is, says assistant: shot in log').waitFor();
    await page.getByRole('row').filter({ hasText: 'A002C002' }).click();
    await page.getByRole('button', { name: 'Leave it out' }).click();
    await page.getByText('Left out of runs, says assistant').waitFor();
    await page.keyboard.press('Escape');
    await page.keyboard.press('r');
    await page.getByText('1 clip is kept out').waitFor();
    await page.getByText('To decide on 1 clip').waitFor();
  });

  it('play with sound, frame by frame, each channel alone', async () => {
    await page.goto(`${site.address}/p/${production.id}/clips?filter=a002c`);
    await page.getByRole('row').filter({ hasText: 'A002C001' }).dblclick();
    await page.getByRole('slider', { name: 'Place in the clip' }).waitFor();
    const video = page.locator('video');
    await page.keyboard.press(' ');
    await until('playing', () => video.evaluate((element: HTMLVideoElement) => element.currentTime > 0.3));
    expect(
      await video.evaluate((element: HTMLVideoElement) => [
        element.videoWidth,
        element.videoHeight,
        (element as unknown as { webkitAudioDecodedByteCount: number }).webkitAudioDecodedByteCount > 0,
      ]),
    ).toEqual([960, 540, true]);
    await page.keyboard.press('k');
    await page.keyboard.press('Home');
    const player = page.getByRole('region', { name: 'Player' });
    await player.getByText('20:31:04:00').waitFor();
    await page.keyboard.press('ArrowRight');
    await player.getByText('20:31:04:01').waitFor();
    await page.keyboard.press('2');
    expect(await video.getAttribute('src')).toContain('channel=1');
    expect(await page.getByRole('button', { name: '2', exact: true }).getAttribute('aria-pressed')).toBe('true');
    await page.getByRole('img', { name: 'Size of each of 36 pictures' }).waitFor();
    await page.getByRole('img', { name: 'Sound of 6 channels' }).waitFor();
  });

  it('stand in the day report', async () => {
    await page.goto(`${site.address}/p/${production.id}/arrivals/report`);
    await page.getByRole('region', { name: 'Roll A002' }).getByText('missing A002C003').waitFor();
    await page
      .getByRole('region', { name: 'Roll A002' })
      .getByText('The card may be cleared', { exact: false })
      .waitFor();
    expect(await page.getByRole('link', { name: 'CSV' }).getAttribute('href')).toContain('report.csv?day=day-2');
  });
});
