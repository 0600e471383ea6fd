import type { Page } from 'playwright-core';
import { beforeAll, describe, expect, it } from 'vitest';
import { until, type Site } from '../testing/site.ts';
import { useDemoSite } from './demoSite.ts';
import { everyPage, untilShown } from './everyPage.ts';
import { whatIsCut } from './whatIsCut.ts';

const demo = useDemoSite();
let site: Site;
let page: Page;
let places: Map<string, string>;
beforeAll(async () => {
  ({ site, page } = demo());
  places = await everyPage(demo());
});

const address = (): URLSearchParams => new URL(page.url()).searchParams;
const row = (stem: string) => page.getByRole('row').filter({ hasText: stem });
const sheet = async (said = ''): Promise<void> => {
  await page.goto(`${site.address}${places.get('clips') ?? ''}${said}`);
  await row('A001C003').waitFor();
};
const headOf = (name: string) => page.getByRole('columnheader', { name, exact: true });
const heads = async (): Promise<string[]> =>
  (await page.getByRole('columnheader').allInnerTexts()).map((text) => text.replace(/ [↑↓]$/, ''));

/** The first is 1440 × 900 enlarged to 200 %. */
const windows = [
  [720, 450],
  [1024, 640],
  [1280, 800],
  [1920, 1080],
  [3840, 2160],
] as const;

it('every page is whole in every window: nothing cut off, nothing on top of something', async () => {
  const found: Record<string, string[]> = {};
  for (const [name, path] of places) {
    await page.goto(site.address + path);
    for (const [width, height] of windows) {
      await page.setViewportSize({ width, height });
      await untilShown({ page });
      // What is laid out by its own measure is so a frame later.
      await page.evaluate(() => new Promise((done) => requestAnimationFrame(() => requestAnimationFrame(done))));
      const bad = await whatIsCut(page);
      if (bad.length > 0) found[`${name} in ${width} × ${height}`] = bad;
    }
  }
  expect(found).toEqual({});
});

it('what is cut is seen: a control that something lies on, one outside, words cut off', async () => {
  await page.setContent(`<!doctype html><style>body{margin:0} button{position:absolute;top:0}</style>
    <button style="left:0;width:100px">Under</button><i style="position:absolute;left:0;top:0;width:100px;height:40px">over</i>
    <button style="left:-60px;width:50px;top:90px">Outside</button>
    <button style="left:200px;width:40px;overflow:hidden;white-space:nowrap">Words that are cut</button>
    <b style="position:absolute;left:0;top:200px;width:5000px;height:1px"></b>`);
  expect(await whatIsCut(page)).toEqual([
    expect.stringMatching(/px wider than its window/),
    expect.stringMatching(/"over" lies on button "Under"/),
    'button "Outside" stays outside of the window',
    'the words of button "Words that are cut" are cut off',
  ]);
});

describe('the sheet', () => {
  it('is found again from its address: columns, order and widths, sorting, filter and selection', async () => {
    await page.setViewportSize({ width: 1920, height: 1080 });
    await sheet();
    await headOf('Clip').getByRole('button').click();
    await headOf('Clip').getByRole('button').click();
    await row('A001C004').click();
    await row('A001C003').click({ modifiers: ['Control'] });
    await page.getByRole('button', { name: 'Columns' }).click();
    await page.getByRole('checkbox', { name: 'Note' }).check();
    await page.getByRole('checkbox', { name: 'Depth' }).uncheck();
    await page.getByRole('button', { name: 'Roll further right' }).click();
    await page.getByRole('button', { name: 'Starts wider' }).click();
    await page.keyboard.press('Escape');
    await page.getByLabel('Filter the clips').fill('a001');
    await until('the address to rest', async () => {
      const said = address();
      return said.get('filter') === 'a001' && said.has('columns') && said.get('clips') === 'all';
    });
    const [said, shown] = [new URL(page.url()).search, await heads()];
    expect(address().get('sort')).toBe('-name');
    expect(shown).not.toContain('Depth');
    expect(shown.indexOf('Roll')).toBe(shown.indexOf('Scene') + 1);
    const width = (await headOf('Starts').boundingBox())?.width;
    // Somebody else's browser: nothing is kept there.
    await page.evaluate(() => localStorage.clear());
    await sheet(said);
    await until('the selection', async () => (await page.getByRole('row', { selected: true }).count()) === 2);
    expect(await heads()).toEqual(shown);
    expect((await headOf('Starts').boundingBox())?.width).toBe(width);
    expect(await page.getByLabel('Filter the clips').inputValue()).toBe('a001');
    expect(await headOf('Clip').getAttribute('aria-sort')).toBe('descending');
    await until('it to be kept', () => page.evaluate(() => localStorage.getItem('columns of clips') !== null));
    // Kept for the next visit, whose address says nothing; and put back.
    await sheet();
    expect(await heads()).toEqual(shown);
    await page.getByRole('button', { name: 'Columns' }).click();
    await page.getByRole('button', { name: 'As usual' }).click();
    await page.keyboard.press('Escape');
    await until('the usual columns', async () => (await heads()).includes('Depth'));
    await until('the address without them', async () => address().get('columns') === null);
  });

  it('has its columns drawn wider and moved by mouse, and a press still sorts', async () => {
    await sheet();
    const drawn = async (name: string): Promise<{ x: number; y: number; width: number }> => {
      const box = await headOf(name).boundingBox();
      return box ?? { x: 0, y: 0, width: 0 };
    };
    const before = await drawn('Clip');
    const edge = await page.locator('[data-draws=clip]').boundingBox();
    await page.mouse.move((edge?.x ?? 0) + 6, before.y + 8);
    await page.mouse.down();
    await page.mouse.move((edge?.x ?? 0) - 54, before.y + 8, { steps: 4 });
    await page.mouse.up();
    expect(Math.abs((await drawn('Clip')).width - (before.width - 60))).toBeLessThanOrEqual(1);
    await page.locator('[data-draws=clip]').dblclick();
    await until('its own width', async () => Math.abs((await drawn('Clip')).width - before.width) <= 1);
    const [roll, length] = [await drawn('Roll'), await drawn('Length')];
    await page.mouse.move(roll.x + 10, roll.y + 8);
    await page.mouse.down();
    await page.mouse.move(length.x + 20, length.y + 8, { steps: 10 });
    await page.mouse.up();
    await until('the roll where it was put', async () => {
      const now = await heads();
      return now.indexOf('Roll') === now.indexOf('Length') + 1;
    });
    expect(await headOf('Roll').getAttribute('aria-sort')).toBeNull();
    await headOf('Roll').getByRole('button').click();
    await until('its sorting', async () => (await headOf('Roll').getAttribute('aria-sort')) === 'ascending');
  });

  it('offers by the other button what the docket does, for the clip below it', async () => {
    await sheet();
    await row('A001C003').click();
    await row('C001C011').click({ button: 'right' });
    const menu = page.getByRole('menu');
    await menu.getByRole('menuitem', { name: 'Run 1 clip…' }).waitFor();
    expect(await page.locator('[aria-selected=true]').allInnerTexts()).toEqual([expect.stringContaining('C001C011')]);
    await menu.getByRole('menuitem', { name: 'Onto the bench' }).click();
    await page.waitForURL(/\/bench\//);
    await sheet();
    await row('A001C003').click({ button: 'right' });
    await menu.getByRole('menuitem', { name: 'Select its group' }).click();
    await until('the group', async () => (await page.getByRole('row', { selected: true }).count()) === 2);
  });

  it('is read cell by cell with the arrows, and keeps its sorting while one is elsewhere', async () => {
    await page.evaluate(() => localStorage.clear());
    await sheet('?sort=length');
    await row('A001C003').click();
    const grid = page.getByRole('grid', { name: 'Clips' });
    const at = (): Promise<string | null> => grid.getAttribute('aria-activedescendant');
    const whole = await at();
    for (const column of ['picture', 'clip', 'roll']) {
      await page.keyboard.press('ArrowRight');
      expect(await at()).toBe(`${whole}-${column}`);
    }
    expect(await page.locator(`[id="${await at()}"]`).innerText()).toBe('A001');
    await page.keyboard.press('ArrowDown');
    expect(await at()).toMatch(/-roll$/);
    for (let step = 0; step < 3; step += 1) await page.keyboard.press('ArrowLeft');
    expect(await at()).not.toMatch(/-(picture|clip|roll)$/);
    await page.getByRole('link', { name: /^Recipes/ }).click();
    await page.getByRole('navigation', { name: 'Recipes' }).waitFor();
    await page.getByRole('link', { name: /^Clips/ }).click();
    await until('the sorting', async () => (await headOf('Length').getAttribute('aria-sort')) === 'ascending');
    expect(address().get('sort')).toBe('length');
  });
});
