import type { RunAnswer } from '@relay/contract/runs';
import type { RelinkRow } from '@relay/core/relink/sheet';
import { copyFile, mkdir, readFile, readdir } from 'node:fs/promises';
import { join } from 'node:path';
import type { Locator, Page } from 'playwright-core';
import { beforeAll, describe, expect, it } from 'vitest';
import { until, type Site } from '../testing/site.ts';
import { useDemoSite } from './demoSite.ts';

const demo = useDemoSite();
let site: Site;
let page: Page;
let production: string;
beforeAll(() => {
  ({ site, page, production } = demo());
});

const toClips = async (): Promise<void> => {
  await page.getByRole('link', { name: /^Clips/ }).click();
  await page.getByRole('row').filter({ hasText: 'S009C001' }).click();
};
const run = async (): Promise<RunAnswer> => {
  const [last] = await site.api<RunAnswer[]>(`/productions/${production}/runs`);
  return site.api<RunAnswer>(`/runs/${last?.id ?? ''}`);
};
const rowsIn = async (folder: string): Promise<string[]> => {
  const text = await readFile(join(site.home, 'demo', folder, 'relink.json'), 'utf8').catch(() => '{"rows":[]}');
  return (JSON.parse(text) as { rows: RelinkRow[] }).rows.map(({ output }) => output);
};

describe('deliverables of one run', () => {
  it('go to places of their own, each with its relink sheet, from one decode', async () => {
    await page.goto(`${site.address}/p/${production}/clips`);
    await toClips();
    await page.keyboard.press('r');
    await page.getByLabel('Where the proxy goes').selectOption({ label: 'Estuary RAID' });
    await page.getByLabel('Folder of the proxy').fill('for-the-cut');
    await page.getByText('Free on Estuary RAID').waitFor();
    await page.getByText('Free on Shuttle').waitFor();
    await page.getByRole('button', { name: /^Start(,|$)/ }).click();
    await page.getByRole('listbox', { name: 'Legs' }).waitFor();
    for (const folder of ['/demo/shuttle/salt-lantern', '/demo/estuary/for-the-cut'])
      await page.getByText(join(site.home, folder)).waitFor();
    await until('the leg', async () => (await run()).legLines.every(({ state }) => state === 'proved'));
    expect((await run()).legLines).toHaveLength(1);
    await until('both sheets', async () => (await rowsIn('estuary/for-the-cut')).length === 1);
    expect(await rowsIn('estuary/for-the-cut')).toEqual(['proxy/day-1/S009/S009C001.mov']);
    await until('the other', async () => (await rowsIn('shuttle/salt-lantern')).length === 1);
    expect(await rowsIn('shuttle/salt-lantern')).toEqual(['intermediate/day-1/S009/S009C001.mov']);
    expect(await readdir(join(site.home, 'demo/estuary/for-the-cut'))).toEqual(['proxy', 'relink.csv', 'relink.json']);
  });

  it('stand in one sheet, each line with its place', async () => {
    await page.getByRole('link', { name: /^Hand-offs/ }).click();
    await page.getByText(join(site.home, 'demo/estuary/for-the-cut')).waitFor();
    const href = await page.getByRole('link', { name: 'JSON' }).getAttribute('href');
    const sheet = (await (await fetch(new URL(href ?? '', site.address))).json()) as { rows: RelinkRow[] };
    expect(sheet.rows.map(({ role, place }) => [role, place])).toEqual([
      ['proxy', join(site.home, 'demo/estuary/for-the-cut')],
      ['intermediate', join(site.home, 'demo/shuttle/salt-lantern')],
    ]);
  });

  it('are proposed the places they had, the next time', async () => {
    await toClips();
    await page.keyboard.press('r');
    await until(
      'what was run last',
      async () =>
        (await page
          .getByLabel('Folder of the proxy')
          .inputValue()
          .catch(() => '')) === 'for-the-cut',
    );
    await page.getByText('2 names are taken already').waitFor();
    await page.getByLabel('Where the proxy goes').selectOption('with the rest');
    await page.getByText('1 name is taken already').waitFor();
    await page.keyboard.press('Escape');
  });

  it('have a place in the recipe, which its file keeps', async () => {
    await page.getByRole('link', { name: /^Recipes/ }).click();
    await page.getByLabel('Where the intermediate goes').selectOption({ label: 'Shuttle' });
    await page.getByLabel('Folder that the intermediate lies below').fill('../up');
    await page.getByText('a folder may not lead upwards').waitFor();
    expect(await page.getByRole('button', { name: 'Keep', exact: true }).isDisabled()).toBe(true);
    await page.getByLabel('Folder that the intermediate lies below').fill('to-finish');
    await page.getByRole('button', { name: 'Keep', exact: true }).click();
    await page.getByText('is kept as version 2').waitFor();
    const [recipe] = await site.api<{ definition: { deliverables: { place?: unknown }[] } }[]>('/recipes');
    expect(recipe?.definition.deliverables.map(({ place }) => place)).toEqual([
      { store: 'shuttle', folder: 'to-finish' },
      undefined,
    ]);
  });
});

describe('what is new since the last run', () => {
  const filter = async (words: string, listed: string): Promise<void> => {
    await page.getByRole('textbox', { name: 'Filter the clips' }).fill(words);
    await page.getByText(listed).waitFor();
  };

  it('is found by filters: what was not run, what was and with what, and what changed since', async () => {
    await toClips();
    await filter('[not run]', '11 of 12 clips');
    await filter('-[not run]', '1 of 12 clips');
    await filter('[run with finish and cut]', '1 of 12 clips');
    await filter('-[run with finish and cut] a001', '2 of 12 clips');
    await filter('[changed since]', '0 of 12 clips');
    await filter('', '12 clips');
    await page.getByRole('row').filter({ hasText: 'S009C001' }).click();
    await page.getByLabel('Reel').fill('S010');
    await page.keyboard.press('Enter');
    await page.getByText('Changed on 1 clip').waitFor();
    await filter('[changed since]', '1 of 12 clips');
    await filter('-[changed since] -[not run]', '0 of 12 clips');
    await page.getByRole('button', { name: 'Filters' }).click();
    await page.getByRole('button', { name: 'Run with Finish and cut' }).click();
    await page.getByText('1 of 12 clips').waitFor();
    await filter('', '12 clips');
  });

  it('in the next batch of a folder is under way in three presses', async () => {
    const day = join(site.home, 'demo/estuary/salt-lantern/day-2/S011');
    await mkdir(day);
    await copyFile(join(site.home, 'demo/estuary/salt-lantern/day-1/S009/S009C001.mov'), join(day, 'S011C001.mov'));
    await page.getByRole('link', { name: /^Arrivals/ }).click();
    let presses = 0;
    const press = async (what: Locator): Promise<void> => {
      presses += 1;
      await what.click();
    };
    await press(page.getByRole('button', { name: 'Read again' }));
    await page.getByText('1 new').waitFor();
    await press(page.getByRole('link', { name: 'Run what is new…' }));
    // Eleven that were never run, the one that came, and the one whose reel is another now.
    await page.getByRole('heading', { name: 'Run 13 clips' }).waitFor();
    await page.getByText('1 clip changed since the last run').waitFor();
    const start = page.getByRole('button', { name: /^Start(,|$)/ });
    await until('the check', async () => start.isEnabled());
    await press(start);
    await page.getByRole('listbox', { name: 'Legs' }).waitFor();
    expect(presses).toBeLessThanOrEqual(3);
    await page.getByRole('button', { name: 'Stop the run' }).click();
    expect((await run()).legLines.map(({ stem }) => stem)).toContain('S011C001');
    await page.getByRole('link', { name: /^Arrivals/ }).click();
    await page.getByRole('button', { name: 'Read again' }).click();
    await page.getByText('nothing new').waitFor();
  });
});
