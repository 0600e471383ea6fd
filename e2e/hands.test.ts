import type { ClipsAnswer } from '@relay/contract/clips';
import { readdir } from 'node:fs/promises';
import { join } from 'node:path';
import type { Page } from 'playwright-core';
import { beforeAll, describe, expect, it } from 'vitest';
import { until, type Site } from '../testing/site.ts';
import { choose } from './choose.ts';
import { useDemoSite } from './demoSite.ts';

const demo = useDemoSite();
let site: Site;
let page: Page;
let production: string;
beforeAll(() => {
  ({ site, page, production } = demo());
});

const clipOf = async (stem: string): Promise<string> => {
  const { lines } = await site.api<ClipsAnswer>(`/productions/${production}/clips`);
  return lines.find((line) => line.stem === stem)?.id ?? '';
};

describe('numbers', () => {
  it('are kept as a person types them, key by key, and step by arrow and wheel', async () => {
    const clip = await clipOf('A001C003');
    await page.goto(`${site.address}/p/${production}/bench/${clip}`);
    await choose(page, 'Add a step', 'CDL');
    await page.getByRole('button', { name: 'Balance', exact: true }).click();
    const slope = page.getByRole('spinbutton', { name: 'Red slope' });
    await slope.click();
    await page.keyboard.press('Control+A');
    await page.keyboard.type('0.9');
    expect(await slope.inputValue()).toBe('0.9');
    const offset = page.getByRole('spinbutton', { name: 'Red offset' });
    await offset.click();
    await page.keyboard.press('Control+A');
    await page.keyboard.type('-0.05');
    expect(await offset.inputValue()).toBe('-0.05');
    await page.keyboard.press('Tab');
    expect([await slope.inputValue(), await offset.inputValue()]).toEqual(['0.9', '-0.05']);
    expect(await offset.getAttribute('aria-valuenow')).toBe('-0.05');
    await slope.focus();
    await page.keyboard.press('ArrowUp');
    expect(await slope.inputValue()).toBe('0.91');
    await slope.hover();
    await page.mouse.wheel(0, 100);
    await page.waitForFunction(
      () => document.querySelector<HTMLInputElement>('[aria-label="Red slope"]')?.value === '0.9',
    );
  });

  it('that do not fit stay, say why, and come back by Escape', async () => {
    const slope = page.getByRole('spinbutton', { name: 'Green slope' });
    await slope.click();
    await page.keyboard.press('Control+A');
    await page.keyboard.type('9');
    await page.keyboard.press('Tab');
    expect(await slope.inputValue()).toBe('9');
    expect(await slope.getAttribute('aria-invalid')).toBe('true');
    await page.getByRole('alert').filter({ hasText: 'Takes 0 to 4' }).waitFor();
    await slope.focus();
    await page.keyboard.press('Escape');
    expect(await slope.inputValue()).toBe('1');
    expect(await page.getByRole('alert').filter({ hasText: 'Takes' }).count()).toBe(0);
  });

  it('are never nothing by being emptied: a quality stays until another is typed', async () => {
    await page.goto(`${site.address}/p/${production}/recipes`);
    await page.getByRole('button', { name: /Finish and cut/ }).click();
    const quality = page.getByRole('spinbutton', { name: 'Quality of the proxy' });
    const before = await quality.inputValue();
    await quality.click();
    await page.keyboard.press('Control+A');
    await page.keyboard.press('Backspace');
    expect(await quality.inputValue()).toBe('');
    await page.keyboard.press('Tab');
    await page.getByRole('alert').filter({ hasText: 'A number is wanted' }).waitFor();
    expect(await quality.getAttribute('aria-valuenow')).toBe(before);
    await quality.focus();
    await page.keyboard.type('27');
    await page.keyboard.press('Enter');
    expect(await quality.getAttribute('aria-valuenow')).toBe('27');
  });
});

describe('a page whose server goes away', () => {
  it('keeps what it shows, says since when, and comes back by itself', async () => {
    await page.goto(`${site.address}/p/${production}/clips`);
    await page.getByRole('row').filter({ hasText: 'A001C003' }).waitFor();
    process.kill((await site.pids()).serverPid, 'SIGKILL');
    await page.getByText(/^No answer since \d\d:\d\d/).waitFor();
    expect(await page.getByRole('row').filter({ hasText: 'A001C003' }).isVisible()).toBe(true);
    await page.getByText(/^No answer since/).waitFor({ state: 'detached' });
    expect(await page.getByRole('row').filter({ hasText: 'A001C003' }).isVisible()).toBe(true);
  });

  it('asks on where the machine has no network: the server is the machine itself', async () => {
    await page.evaluate(() => window.dispatchEvent(new Event('offline')));
    await page.getByRole('link', { name: /^Runs/ }).click();
    await page.getByText('Nothing run yet').waitFor();
    await page.evaluate(() => window.dispatchEvent(new Event('online')));
  });

  it('waits for a part of itself that does not come, and goes on', async () => {
    await page.goto(`${site.address}/p/${production}/clips`);
    await page.getByRole('row').filter({ hasText: 'A001C003' }).waitFor();
    await page.route('**/*', (route) => route.abort());
    await page.getByRole('link', { name: /^Recipes/ }).click();
    await page.getByText('This page waits for its other half').waitFor();
    // The way to the other stations is there still.
    expect(await page.getByRole('link', { name: /^Clips/ }).isVisible()).toBe(true);
    await page.unroute('**/*');
    await page.getByRole('button', { name: /Play-out delivery/ }).waitFor();
  });

  it('keeps an error of one station from the others', async () => {
    await page.route('**/api/recipes', (route) => route.fulfill({ json: [{ id: 'x' }] }));
    await page.goto(`${site.address}/p/${production}/recipes`);
    await page.getByText('This page met an error of its own').waitFor();
    await page.unroute('**/api/recipes');
    await page.getByRole('link', { name: /^Clips/ }).click();
    await page.getByRole('row').filter({ hasText: 'A001C003' }).waitFor();
  });

  it('answers 404 for what is not there, not with the page', async () => {
    for (const path of ['/assets/gone.js', '/assets/page-00000000.js', '/gone.png'])
      expect((await fetch(`${site.address}${path}`)).status).toBe(404);
    const script = /src="(\/assets\/[^"]+)"/.exec(await (await fetch(site.address)).text())?.[1] ?? '';
    const { headers } = await fetch(`${site.address}${script}`, { headers: { 'accept-encoding': 'gzip' } });
    expect(headers.get('cache-control')).toContain('immutable');
    expect(headers.get('content-encoding')).toBe('gzip');
  });
});

describe('keys and focus', () => {
  const focused = (): Promise<string> =>
    page.evaluate(() => document.activeElement?.getAttribute('aria-label') ?? document.activeElement?.tagName ?? '');

  it('the focus goes to what opens, stays with who types, and comes back at closing', async () => {
    await page.goto(`${site.address}/p/${production}/clips`);
    await page.getByRole('row').filter({ hasText: 'A001C003' }).waitFor();
    await page.getByRole('grid', { name: 'Clips' }).focus();
    await page.keyboard.press('ArrowDown');
    await page.keyboard.press('R');
    await until('the form to have the focus', async () => (await focused()) === 'Run 1 clip');
    const folder = page.getByLabel('Folder', { exact: true });
    await folder.click();
    await page.keyboard.press('End');
    // The check comes back while somebody types: nothing takes the focus, and no space starts the run.
    await page.keyboard.type(' of the day', { delay: 120 });
    await page.getByRole('button', { name: /^Start(,|$)/, disabled: false }).waitFor();
    await page.keyboard.type(' it is');
    expect(await folder.inputValue()).toMatch(/ of the day it is$/);
    expect(await site.api<unknown[]>(`/productions/${production}/runs`)).toEqual([]);
    await page.keyboard.press('Escape');
    await until('the focus back on the sheet', async () => (await focused()) === 'Clips');
  });

  it('a dialog keeps keys from what lies behind it', async () => {
    await page.keyboard.press('?');
    await page.getByRole('dialog', { name: 'How and keys' }).waitFor();
    await page.keyboard.press('r');
    await page.keyboard.press('Control+k');
    await page.keyboard.press('Control+a');
    expect(await page.getByRole('dialog').count()).toBe(1);
    expect(await page.locator('[role=row][aria-selected=true]').count()).toBe(1);
    await page.keyboard.press('Escape');
    await page.getByRole('dialog').waitFor({ state: 'detached' });
    expect(await page.getByRole('button', { name: 'Not now' }).count()).toBe(0);
  });

  it('a clip is found by any of its facts in the box that goes everywhere', async () => {
    await page.keyboard.press('Control+k');
    await page.keyboard.type('c001c01');
    await page.getByRole('option', { name: /^C001C011/ }).waitFor();
    await page.getByRole('option', { name: /^C001C012/ }).click();
    await page.waitForURL(`**/clips/${await clipOf('C001C012')}`);
    await page.goBack();
    await page.getByRole('row').filter({ hasText: 'A001C003' }).waitFor();
  });

  it('letters act as they are printed, small or large, until they are turned off', async () => {
    const theme = (): Promise<string | undefined> => page.evaluate(() => document.documentElement.dataset.theme);
    const first = await theme();
    await page.keyboard.press('t');
    await page.keyboard.press('T');
    expect(await theme()).toBe(first);
    await page.getByRole('row').filter({ hasText: 'A001C003' }).click();
    await page.keyboard.press('g');
    await until('the group', async () => (await page.getByRole('row', { selected: true }).count()) > 1);
    await page.keyboard.press('?');
    await page.getByRole('tab', { name: 'Keys' }).click();
    await page.getByRole('checkbox', { name: /^Single letters/ }).uncheck();
    await page.keyboard.press('Escape');
    await page.keyboard.press('t');
    await page.keyboard.press('?');
    expect([await theme(), await page.getByRole('dialog').count()]).toEqual([first, 0]);
    await page.getByRole('button', { name: 'How, and keys' }).click();
    await page.getByRole('tab', { name: 'Keys' }).click();
    await page.getByRole('checkbox', { name: /^Single letters/ }).check();
    await page.keyboard.press('Escape');
  });

  it('letters are put elsewhere, where they are free, and buttons say so', async () => {
    await page.keyboard.press('?');
    await page.getByRole('tab', { name: 'Keys' }).click();
    const run = page.getByRole('button', { name: /^Prepare a run of the selection.*Change$/ });
    await run.click();
    await page.keyboard.press('b');
    await page.getByText('B is taken: Onto the bench').waitFor();
    await page.keyboard.press('Escape');
    expect(await page.getByRole('dialog').count()).toBe(1);
    await run.click();
    await page.keyboard.press('x');
    expect(await run.getAttribute('aria-label')).toContain(': X. Change');
    await page.keyboard.press('Escape');
    await page.getByRole('dialog').waitFor({ state: 'detached' });
    await page
      .getByRole('complementary')
      .getByRole('button', { name: /^Run 2 clips/ })
      .waitFor();
    await page.keyboard.press('r');
    expect(await page.getByRole('button', { name: 'Not now' }).count()).toBe(0);
    await page.keyboard.press('x');
    await page.getByRole('button', { name: 'Not now' }).click();
    await page.keyboard.press('?');
    await page.getByRole('tab', { name: 'Keys' }).click();
    await page.getByRole('button', { name: 'As printed' }).click();
    expect(await run.getAttribute('aria-label')).toContain(': R. Change');
    await page.keyboard.press('Escape');
  });

  it('each station says how it is used', async () => {
    for (const [path, title] of [
      ['arrivals', 'Arrivals'],
      ['cabinet', 'Bench'],
      ['handoffs', 'Hand-offs'],
    ]) {
      await page.goto(`${site.address}/p/${production}/${path}`);
      await page.getByRole('button', { name: 'How, and keys' }).click();
      await page.getByRole('dialog').getByRole('heading', { name: title, level: 2 }).waitFor();
    }
    await page.goto(`${site.address}/p/${production}/clips`);
    await page.getByRole('row').filter({ hasText: 'A001C003' }).waitFor();
  });

  it('the first Tab offers to skip to the page, and the page says its name', async () => {
    await page.goto(`${site.address}/p/${production}/recipes`);
    await page.getByRole('button', { name: /Play-out delivery/ }).waitFor();
    await page.keyboard.press('Tab');
    await page.keyboard.press('Enter');
    expect(await page.evaluate(() => document.activeElement?.id)).toBe('sheet');
    await until('the title', async () => (await page.title()) === 'Recipes · Salt Lantern · Brisk Relay');
    await page.goto(`${site.address}/p/${production}/recipes/00000000-0000-4000-8000-000000000000`);
    await page.getByText('This recipe is not there').waitFor();
  });

  it('the theme is the one that the system wishes, from the first frame, until one is chosen', async () => {
    await page.evaluate(() => localStorage.removeItem('theme'));
    await page.emulateMedia({ colorScheme: 'light' });
    await page.goto(site.address, { waitUntil: 'commit' });
    await page.waitForFunction(() => document.documentElement.dataset.theme === 'chalk');
    await page.emulateMedia({ colorScheme: 'dark' });
    await page.waitForFunction(() => document.documentElement.dataset.theme === 'dark');
  });
});

describe('files dropped anywhere on a page', () => {
  const drop = (name: string, text: string): Promise<void> =>
    page.evaluate(
      ([fileName, content]) => {
        const dataTransfer = new DataTransfer();
        dataTransfer.items.add(new File([content as string], fileName as string));
        const [target] = document.querySelectorAll('main > div');
        for (const type of ['dragover', 'drop'])
          target?.dispatchEvent(new DragEvent(type, { dataTransfer, bubbles: true, cancelable: true }));
      },
      [name, text],
    );

  it('go where they belong: a LUT into the cabinet, a list beside the clips, a cut to its rehearsal; of a clip it is said what to do', async () => {
    await page.goto(`${site.address}/p/${production}/runs`);
    await page.getByText('Nothing run yet').waitFor();
    await drop('dusk.cube', 'LUT_3D_SIZE 2\n0 0 0\n1 0 0\n0 1 0\n1 1 0\n0 0 1\n1 0 1\n0 1 1\n1 1 1\n');
    await page.waitForURL(/\/cabinet\/[0-9a-f]+$/);
    await page.getByText('dusk').first().waitFor();
    await page.getByRole('link', { name: /^Runs/ }).click();
    await drop('log.csv', 'path,scene\nday-1/A001/A001C003.mov,12\n');
    await page.getByRole('region', { name: 'CSV' }).waitFor();
    await page.getByText('A001C003').first().waitFor();
    await page.getByRole('link', { name: /^Runs/ }).click();
    await drop('night.edl', 'TITLE: NIGHT\n001 A001 V C 10:02:12:00 10:02:13:00 00:00:00:00 00:00:01:00\n');
    await page.getByRole('heading', { name: 'NIGHT', level: 1 }).waitFor();
    await page.getByRole('link', { name: /^Recipes/ }).click();
    await page.getByRole('button', { name: /Play-out delivery/ }).waitFor();
    await drop('A009C001.mov', 'x');
    await page.getByText('A page does not see where A009C001.mov lies').waitFor();
    await page.getByRole('button', { name: 'Add a folder…' }).click();
    await page.getByRole('button', { name: 'Read this folder' }).waitFor();
    await drop('broken.json', '{');
    await page.getByText('broken.json is no recipe').waitFor();
  });
});

describe('mistakes can be taken back', () => {
  const scene = (): Promise<string> => page.getByLabel('Scene', { exact: true }).inputValue();

  it('Ctrl+Z undoes the last change of identity, and says what it was', async () => {
    await page.goto(`${site.address}/p/${production}/clips`);
    await page.getByRole('row').filter({ hasText: 'A001C004' }).click();
    await page.getByLabel('Scene', { exact: true }).fill('77');
    await page.keyboard.press('Enter');
    await page.getByText('Changed on 1 clip').waitFor();
    await page.getByRole('grid', { name: 'Clips' }).focus();
    await page.keyboard.press('Control+z');
    await page.getByText('Undone').waitFor();
    await until('the scene as it was', async () => (await scene()) === '');
    await page.keyboard.press('Control+z');
    await page.getByText('Nothing to undo').waitFor();
  });

  it('a recipe that was changed and left is found again as it was left, and kept is undone', async () => {
    await page.goto(`${site.address}/p/${production}/recipes`);
    await page.getByRole('button', { name: /Finish and cut/ }).click();
    const pattern = page.getByLabel('Path pattern of the proxy');
    const before = await pattern.inputValue();
    await pattern.fill('[roll]/[stem]');
    await page.goto(`${site.address}/p/${production}/clips`);
    await page.getByRole('row').filter({ hasText: 'A001C004' }).waitFor();
    await page.goto(`${site.address}/p/${production}/recipes`);
    await page.getByRole('button', { name: /Finish and cut/ }).click();
    expect(await pattern.inputValue()).toBe('[roll]/[stem]');
    await page.getByRole('button', { name: 'Keep', exact: true }).click();
    await page.getByText('Finish and cut is kept as version 2').waitFor();
    await page.getByRole('button', { name: 'Undo', exact: true }).click();
    await until('the pattern as it was', async () => (await pattern.inputValue()) === before);
  });

  it('a chain that was tried is found again after the page was loaded anew', async () => {
    const clip = await clipOf('A001C003');
    await page.goto(`${site.address}/p/${production}/bench/${clip}`);
    await page.getByRole('button', { name: 'Mute Balance' }).waitFor();
    await page.getByText('Tried here only, not used yet').waitFor();
  });

  it('a folder read in error is removed, once it is said twice, and nothing on the disk is', async () => {
    await page.goto(`${site.address}/p/${production}/arrivals`);
    await page.getByRole('button', { name: 'Remove salt-lantern…' }).click();
    const dialog = page.getByRole('alertdialog', { name: 'Remove salt-lantern?' });
    await dialog.getByText('No file on any disk is touched').waitFor();
    await dialog.getByRole('button', { name: 'Keep it' }).click();
    expect(await page.getByRole('link', { name: /^Clips/ }).textContent()).toContain('12');
    await page.getByRole('button', { name: 'Remove salt-lantern…' }).click();
    await dialog.getByRole('button', { name: 'Remove', exact: true }).click();
    await page.getByText('salt-lantern is removed').waitFor();
    await page.getByRole('link', { name: /^Clips/ }).click();
    await page.getByText('No clips yet').waitFor();
    expect(await readdir(join(site.home, 'demo/estuary/salt-lantern'))).toContain('day-1');
  });

  it('a production is removed from the list', async () => {
    await page.goto(`${site.address}/productions`);
    await page.getByRole('button', { name: 'Remove Salt Lantern…' }).click();
    await page.getByRole('button', { name: 'Remove', exact: true }).click();
    await page.getByText('Begin with a production').waitFor();
  });
});
