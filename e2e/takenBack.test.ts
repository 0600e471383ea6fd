import { mkdir, rename, stat } from 'node:fs/promises';
import { join } from 'node:path';
import type { ClipsAnswer } from '@relay/contract/clips';
import type { OriginalsAnswer } from '@relay/contract/originals';
import type { RecipeAnswer } from '@relay/contract/recipes';
import type { RunAnswer } from '@relay/contract/runs';
import type { StoreAnswer } from '@relay/contract/site';
import type { RemovalAnswer, RemovalLine } from '@relay/contract/space';
import { hashFile } from '@relay/work/disk/hash';
import type { Page } from 'playwright-core';
import { beforeAll, describe, expect, it } from 'vitest';
import { until, type Site } from '../testing/site.ts';
import { useDemoSite } from './demoSite.ts';

/** Space comes back and what went is made again; originals that moved are taken over. */

const demo = useDemoSite();
let site: Site;
let page: Page;
let production: string;
let stores: Map<string, string>;

beforeAll(async () => {
  ({ site, page, production } = demo());
  stores = new Map((await site.api<StoreAnswer[]>('/stores')).map(({ id, path }) => [id, path]));
});

const pathIn = (store: string, ...names: string[]): string => join(stores.get(store) ?? '', ...names);
const docket = () => page.getByRole('complementary', { name: 'Docket' });

async function ran(stems: readonly string[]): Promise<void> {
  const { lines } = await site.api<ClipsAnswer>(`/productions/${production}/clips?filter=C001`);
  const recipes = await site.api<RecipeAnswer[]>('/recipes');
  const { id } = await site.api<RunAnswer>(`/productions/${production}/runs`, {
    clips: lines.filter(({ stem }) => stems.includes(stem)).map((line) => line.id),
    recipe: recipes.find(({ definition }) => definition.name === 'Finish and cut')?.id,
    ...{ store: 'shuttle', folder: 'made', name: 'First night', asTheyAre: true },
  });
  await until('the run', async () => (await site.api<RunAnswer>(`/runs/${id}`)).endedAt !== null);
}

describe('the space that intermediates take', () => {
  it('comes back once somebody typed how much, and what went is made again to the byte', async () => {
    await ran(['C001C011', 'C001C012']);
    const space = `${site.address}/p/${production}/handoffs/space`;
    await page.goto(space);
    const intermediates = page.getByRole('listitem').filter({ hasText: 'Intermediates' });
    await intermediates.getByText('None of 2 may go').waitFor();
    await intermediates.getByText('its original is there in 1 proved copy, 2 are asked for').waitFor();
    expect(await intermediates.getByRole('checkbox').isDisabled()).toBe(true);

    // What the production asks is said by a person.
    await site.api(`/productions/${production}`, { copyRule: { copies: 1, stores: 1, oneDisk: true } });
    await page.reload();
    await intermediates.getByText('2 files').waitFor();
    await intermediates.getByRole('checkbox').check();
    const form = page.getByRole('form', { name: 'What would go' });
    await form.getByText('Clips that lose').waitFor();
    const remove = form.getByRole('button', { name: /^Delete 2 files, / });
    expect(await remove.isDisabled()).toBe(true);
    await form.getByLabel('Type: delete 2').fill('delete 20');
    expect(await remove.isDisabled()).toBe(true);
    await form.getByLabel('Type: delete 2').fill('delete 2');
    const one = pathIn('shuttle', 'made/intermediate/day-1/C001/C001C012.mov');
    const before = await hashFile(one);
    await remove.click();
    await docket().getByText('2 files gone', { exact: false }).waitFor();
    await expect(stat(one)).rejects.toThrow('ENOENT');
    expect(await stat(pathIn('shuttle', 'made/proxy/day-1/C001/C001C012.mov'))).toBeTruthy();

    await docket().getByRole('button', { name: 'Make 2 files again' }).click();
    await docket().getByText('made again: same to the byte').nth(1).waitFor();
    expect(await hashFile(one)).toBe(before);
    const [line] = await site.api<RemovalLine[]>(`/productions/${production}/removals`);
    const { items } = await site.api<RemovalAnswer>(`/removals/${line?.id}`);
    expect(items.map(({ back }) => back)).toEqual(['same to the byte', 'same to the byte']);
  });
});

describe('originals that moved', () => {
  it('are looked for where somebody says, taken over, and put back', async () => {
    await mkdir(pathIn('estuary-raid', 'archive'));
    await rename(pathIn('estuary-raid', 'salt-lantern/day-1'), pathIn('estuary-raid', 'archive/day-1'));
    const places = async () =>
      (await site.api<OriginalsAnswer>(`/productions/${production}/originals`)).places.filter(({ gone }) => gone > 0);
    await page.goto(`${site.address}/p/${production}/arrivals/originals`);
    await page.getByText('are not where they were', { exact: false }).waitFor();
    await page.getByRole('button', { name: 'Look for 4 rolls…' }).click();
    await docket().getByRole('button', { name: 'archive' }).click();
    await docket().getByRole('button', { name: 'Look here' }).click();
    await docket().getByRole('button', { name: 'Take 6 files over' }).click();
    await docket().getByText('6 files taken over').waitFor();
    expect(await places()).toEqual([]);
    // A clip plays, and is run, from there.
    await page.getByText('All of them are where they were read', { exact: false }).waitFor();
    await docket().getByRole('button', { name: 'Know all 6 at the place before again' }).click();
    await page.getByRole('button', { name: 'Look for 4 rolls…' }).waitFor();
    expect(await places()).toHaveLength(4);
    await rename(pathIn('estuary-raid', 'archive/day-1'), pathIn('estuary-raid', 'salt-lantern/day-1'));
  });
});
