import axe from 'axe-core';
import type { Page } from 'playwright-core';
import { beforeAll, describe, expect, it } from 'vitest';
import type { Site } from '../testing/site.ts';
import { useDemoSite } from './demoSite.ts';
import { everyPage, untilShown } from './everyPage.ts';

const demo = useDemoSite();
let site: Site;
let page: Page;

/** Every page, by what it is called, as its path. */
let places: Map<string, string>;

beforeAll(async () => {
  ({ site, page } = demo());
  places = await everyPage(demo());
});

/** What axe-core finds serious, critical or moderate on the page as it stands. */
async function findings(): Promise<string[]> {
  await page.evaluate(axe.source);
  const { violations } = await page.evaluate(() =>
    (window as unknown as { axe: typeof axe }).axe.run(document, { resultTypes: ['violations'] }),
  );
  return violations
    .filter((one) => one.impact !== 'minor')
    .map((one) => `${one.id}: ${one.nodes.map((node) => node.html.slice(0, 160)).join('\n   ')}`);
}

describe.each(['dark', 'chalk'])('in %s', (theme) => {
  it('axe-core finds nothing serious or moderate on any page', async () => {
    await page.evaluate((wanted) => localStorage.setItem('theme', wanted), theme);
    const found: Record<string, string[]> = {};
    for (const [name, path] of places) {
      await page.goto(site.address + path);
      await untilShown({ page });
      expect([name, await page.evaluate(() => document.documentElement.dataset.theme)]).toEqual([name, theme]);
      expect([name, await page.getByRole('heading', { level: 1 }).count()]).toEqual([name, 1]);
      const bad = await findings();
      if (bad.length > 0) found[name] = bad;
    }
    expect(found).toEqual({});
  });

  it('nor in what opens on them: dockets, panels, dialogs, correction forms', async () => {
    const found: Record<string, string[]> = {};
    const look = async (name: string): Promise<void> => {
      await page.locator('[role=status][aria-label$=loads]').first().waitFor({ state: 'detached' });
      const bad = await findings();
      if (bad.length > 0) found[name] = bad;
    };
    await page.goto(site.address + (places.get('clips') ?? ''));
    await page.getByRole('row').filter({ hasText: 'A001C003' }).click();
    await page.getByRole('heading', { name: 'Facts' }).waitFor();
    await look('a selected clip');
    await page.keyboard.press('g');
    await page.getByRole('heading', { name: '2 clips' }).waitFor();
    await look('a selected group');
    await page.keyboard.press('r');
    await page.getByRole('button', { name: /^Start(,|$)/, disabled: false }).waitFor();
    await look('a run that is prepared');
    await page.keyboard.press('Escape');
    await page.keyboard.press('p');
    await page.getByRole('group', { name: 'Pieces' }).waitFor();
    await look('identity from names');
    await page.keyboard.press('Escape');
    await page.getByRole('button', { name: /^Filters/ }).click();
    await look('filters');
    await page.keyboard.press('Escape');
    await page.keyboard.press('?');
    await page.getByRole('dialog').getByRole('heading', { name: 'Clips', level: 2, exact: true }).waitFor();
    await look('how');
    await page.getByRole('tab', { name: 'Keys' }).click();
    await look('the keys');
    await page.keyboard.press('Escape');
    await page.keyboard.press('Control+k');
    await page.getByRole('dialog').waitFor();
    await look('the box to go to');
    await page.keyboard.press('Escape');
    await page.goto(`${site.address}${places.get('a cut') ?? ''}&do=pull`);
    await page.getByText('stretches of').waitFor();
    await look('a pull that is prepared');
    for (const part of ['shape', 'time', 'sound', 'repair']) {
      await page.goto(`${site.address}${places.get('the bench') ?? ''}?part=${part}`);
      await page.getByRole('button', { name: part, exact: true, pressed: true }).waitFor();
      await look(part);
    }
    expect(found).toEqual({});
  });
});
