import type { RecipeAnswer } from '@relay/contract/recipes';
import type { RunAnswer } from '@relay/contract/runs';
import type { ClipsAnswer } from '@relay/contract/clips';
import { writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { Locator, Page } from 'playwright-core';
import { beforeAll, describe, expect, it } from 'vitest';
import { scratchFolder } from '../testing/commands.ts';
import { until, type Site } from '../testing/site.ts';
import { useDemoSite } from './demoSite.ts';

const demo = useDemoSite();
let site: Site;
let page: Page;
let production: string;
beforeAll(() => {
  ({ site, page, production } = demo());
});

const recipes = (): Promise<RecipeAnswer[]> => site.api<RecipeAnswer[]>('/recipes');
const named = async (name: string): Promise<RecipeAnswer | undefined> =>
  (await recipes()).find(({ definition }) => definition.name === name);
/** What is done seldom with a recipe. */
const more = async (what: string): Promise<void> => {
  await page.getByRole('button', { name: 'More for this recipe' }).click();
  await page.getByRole('menuitem', { name: what }).click();
};
const paths = (on: Page): Locator => on.getByRole('list', { name: 'Paths' });

describe('recipes', () => {
  it('are there from the first day, in groups, and show what they make before anything is made', async () => {
    await page.goto(`${site.address}/p/${production}/recipes`);
    await page.getByRole('button', { name: /Play-out delivery/ }).waitFor();
    await page.getByText('Of 12 clips it makes 24 files').waitFor();
    await paths(page).getByText('proxy/day-1/A001/A001C003.mov').waitFor();
  });

  it('show what they make of the clips that are selected, and sample those', async () => {
    await page.goto(`${site.address}/p/${production}/clips`);
    await page.getByRole('row').filter({ hasText: 'A001C003' }).waitFor();
    for (const key of ['ArrowDown', 'Shift+ArrowDown', 'Shift+ArrowDown']) await page.keyboard.press(key);
    await page.getByRole('link', { name: /^Recipes/ }).click();
    await page.getByText('Of 3 clips it makes 6 files').waitFor();
    await page.getByRole('button', { name: 'Sample pictures for a closer forecast' }).click();
    await page.getByText(/^By sampled pictures of 3 of 3 clips; takes /).waitFor();
    await page.getByLabel('Clips that this is shown for').selectOption('all');
    await page.getByText('Of 12 clips it makes 24 files').waitFor();
    // The sheet has them still.
    await page.getByRole('link', { name: /^Clips/ }).click();
    await until('the selection', async () => (await page.getByRole('row', { selected: true }).count()) === 3);
    await page.goto(`${site.address}/p/${production}/recipes`);
    await page.getByText('Of 12 clips it makes 24 files').waitFor();
  });

  it('are copied and said anew: codec, size, wrapper; what cannot be together is not offered', async () => {
    await page.getByRole('button', { name: 'Copy', exact: true }).click();
    await until(
      'the copy',
      async () => (await page.getByLabel('Name of the recipe').inputValue()) === 'Finish and cut, a copy',
    );
    await page.getByLabel('Name of the recipe').fill('Night proxies');
    await page.getByRole('button', { name: 'Take the intermediate out' }).click();
    await page.getByLabel('Codec of the proxy').selectOption('hevc');
    await page.getByLabel('What is asked of the proxy').selectOption('share');
    await page.getByLabel('Share of the proxy, %').fill('30');
    expect(await page.getByLabel('Wrapper of the proxy').locator('option').allTextContents()).toEqual([
      'MOV',
      'MP4',
      'Matroska',
    ]);
    await page.getByLabel('Wrapper of the proxy').selectOption('mp4');
    expect(await page.getByLabel('Sound of the proxy').locator('option').allTextContents()).toEqual([
      'AAC, 64 kb/s a channel',
      'AAC, 96 kb/s a channel',
      'AAC, 160 kb/s a channel',
    ]);
    await page.getByText('MP4 keeps no reel').waitFor();
    await page.getByRole('button', { name: 'Keep', exact: true }).click();
    await until(
      'the recipe',
      async () => (await named('Night proxies'))?.definition.deliverables[0]?.wrapper === 'mp4',
    );
    expect((await named('Night proxies'))?.version).toBe(2);
  });

  it('say paths by pieces; a clash is named with the smallest remedy, which is one press', async () => {
    await page.getByLabel('Path pattern of the proxy').fill('[stem]');
    await page.getByText('2 paths cannot be made').waitFor();
    await page.getByRole('button', { name: 'Add the roll to the name' }).click();
    expect(await page.getByLabel('Path pattern of the proxy').inputValue()).toBe('[stem]_[roll]');
    await paths(page).getByText('proxy/C0001_D004.mp4').waitFor();
    // By hand: the roll goes to the front, with the keyboard.
    const roll = page.getByRole('button', { name: 'roll, drag to move' });
    await roll.focus();
    await page.keyboard.press('Space');
    for (let i = 0; i < 2; i += 1) {
      await page.waitForTimeout(150);
      await page.keyboard.press('ArrowLeft');
    }
    await page.waitForTimeout(150);
    await page.keyboard.press('Space');
    await until('the new order', async () =>
      (await page.getByLabel('Path pattern of the proxy').inputValue()).startsWith('[roll]'),
    );
    await page.getByLabel('Path pattern of the proxy').fill('[roll]/[stem]_[raster]');
    await page.getByRole('button', { name: 'Keep', exact: true }).click();
    await until(
      'the pattern',
      async () =>
        (await named('Night proxies'))?.definition.deliverables[0]?.path?.pattern === '[roll]/[stem]_[raster]',
    );
  });

  it('keep a path pattern by name, for another deliverable to take', async () => {
    await page.getByRole('button', { name: 'Kept patterns, for the proxy' }).click();
    await page.getByText('None is kept yet.').waitFor();
    await page.getByLabel('Name for this pattern').fill('By roll, with its raster');
    await page.getByRole('dialog', { name: 'Kept patterns' }).getByRole('button', { name: 'Keep' }).click();
    await page.getByRole('button', { name: 'Forget By roll, with its raster' }).waitFor();
    await page.keyboard.press('Escape');
    await page.getByRole('button', { name: 'Add a deliverable' }).click();
    const other = page.getByLabel('Path pattern of the deliverable 2');
    await other.fill('[stem]');
    await page.getByRole('button', { name: 'Kept patterns, for the deliverable 2' }).click();
    await page.getByRole('button', { name: /^By roll, with its raster/ }).click();
    expect(await other.inputValue()).toBe('[roll]/[stem]_[raster]');
    await page.getByRole('button', { name: 'Take the deliverable 2 out' }).click();
  });

  it('keep every version; an old run stays what it was made with', async () => {
    const before = (await named('Night proxies')) as RecipeAnswer;
    const { lines } = await site.api<ClipsAnswer>(`/productions/${production}/clips`);
    const clips = lines.filter(({ stem }) => stem === 'S009C001').map(({ id }) => id);
    const run = await site.api<RunAnswer>(`/productions/${production}/runs`, {
      clips,
      recipe: before.id,
      store: 'shuttle',
      folder: 'night',
      name: 'Night',
      asTheyAre: true,
    });
    await page.getByLabel('Path pattern of the proxy').fill('[stem]_[counter]');
    await page.getByRole('button', { name: 'Keep', exact: true }).click();
    await until('the version', async () => (await named('Night proxies'))?.version === before.version + 1);
    await until('the run', async () =>
      ['proved', 'failed', 'needs eyes'].includes(
        (await site.api<RunAnswer>(`/runs/${run.id}`)).legLines[0]?.state ?? '',
      ),
    );
    const done = await site.api<RunAnswer>(`/runs/${run.id}`);
    expect(done.legLines[0]?.state).toBe('proved');
    expect(JSON.stringify(await site.api(`/legs/${done.legLines[0]?.id ?? ''}`))).toContain(
      'proxy/S009/S009C001_960x540.mp4',
    );
    await more('Earlier versions');
    await page
      .getByRole('list', { name: 'Earlier versions' })
      .getByRole('listitem')
      .first()
      .getByRole('button', { name: 'Take it up again' })
      .click();
    expect(await page.getByLabel('Path pattern of the proxy').inputValue()).toBe('[roll]/[stem]_[raster]');
    await page.getByRole('button', { name: 'Take back' }).click();
  });

  it('are saved as files and brought in again; what is no recipe is refused with the reason', async () => {
    const [download] = await Promise.all([page.waitForEvent('download'), more('Save as a file')]);
    expect(download.suggestedFilename()).toBe('night-proxies.json');
    const file = join(await scratchFolder(), 'night-proxies.json');
    await download.saveAs(file);
    await page.getByLabel('A recipe file').setInputFiles(file);
    await until('the recipe brought in', async () => (await named('Night proxies 2'))?.group === 'Brought in');
    expect((await named('Night proxies 2'))?.definition.deliverables).toEqual(
      (await named('Night proxies'))?.definition.deliverables,
    );
    await writeFile(file, '{"version": 1, "name": "x", "deliverables": []}');
    await page.getByLabel('A recipe file').setInputFiles(file);
    await page.getByText('night-proxies.json is no recipe').waitFor();
    await more('Remove');
    await until('its removal', async () => (await named('Night proxies 2')) === undefined);
  });

  it("cannot be said anew over somebody else's words", async () => {
    const one = (await named('Archive')) as RecipeAnswer;
    const put = (seen: number): Promise<Response> =>
      fetch(`${site.address}/api/recipes/${one.id}`, {
        method: 'PUT',
        headers: { 'Content-Type': 'application/json' },
        body: JSON.stringify({
          definition: { ...one.definition, name: 'Archive' },
          group: one.group,
          note: `seen ${seen}`,
          seen,
        }),
      });
    expect((await put(one.version)).status).toBe(200);
    expect((await put(one.version + 7)).status).toBe(409);
  });
});
