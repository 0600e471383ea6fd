import type { RunAnswer, RunLine } from '@relay/contract/runs';
import { readdir } from 'node:fs/promises';
import { join } from 'node:path';
import type { Page } from 'playwright-core';
import { beforeAll, describe, expect, it } from 'vitest';
import { until, type Site } from '../testing/site.ts';
import { useDemoSite } from './demoSite.ts';
import { drawOnto } from './drawOnto.ts';

const demo = useDemoSite();
let site: Site;
let page: Page;
let production: string;
beforeAll(() => {
  ({ site, page, production } = demo());
});

const run = async (): Promise<RunAnswer> => {
  const [line] = await site.api<RunLine[]>(`/productions/${production}/runs`);
  return site.api<RunAnswer>(`/runs/${line?.id ?? ''}`);
};
/** Five light clips say what the whole demo would. */
const stems = ['A001C003', 'A001C004', 'B001C001', 'F001_r1', 'S009C001'];
const prepare = async (): Promise<void> => {
  await page.goto(`${site.address}/p/${production}/clips`);
  for (const [index, stem] of stems.entries())
    await page
      .getByRole('row')
      .filter({ hasText: stem })
      .click(index === 0 ? {} : { modifiers: ['Control'] });
  await page.keyboard.press('r');
  await page.getByText('10 outputs of 5 clips').waitFor();
};
const start = () => page.getByRole('button', { name: /^Start(,|$)/ });

describe('a run', () => {
  it('is checked on one page before it starts: what, how large, how long, by when', async () => {
    await prepare();
    await page.getByText('All together').waitFor();
    await page.getByText('told once a few clips have run here').waitFor();
    const asked = () => page.locator('dl').filter({ hasText: 'All together' });
    const before = await asked().textContent();
    await page.getByRole('button', { name: 'Sample pictures for a closer forecast' }).click();
    await page.getByText('By sampled pictures of 5 of 5 clips.').waitFor();
    expect(await asked().textContent()).not.toBe(before);
    await page.getByText(/^Ready about/).waitFor();
    await page.getByLabel('Order').selectOption('waves');
    await page.getByLabel('Begin at').fill('25:00');
    expect(await page.getByLabel('Begin at').getAttribute('aria-invalid')).toBe('true');
    // An hour that is far enough off for what follows to be seen before it.
    const later = new Date(Date.now() + 3 * 3600_000);
    await page
      .getByLabel('Begin at')
      .fill(`${String(later.getHours()).padStart(2, '0')}:${String(later.getMinutes()).padStart(2, '0')}`);
    await page.getByLabel('Wanted by').fill('07:00');
    await start().click();
    await page.waitForURL(/\/runs\//);
    await page.getByText(/^begins \d\d:\d\d/).waitFor();
    expect((await run()).legLines.map(({ wave }) => wave)).toEqual([
      ...Array<number>(5).fill(1),
      ...Array<number>(5).fill(2),
    ]);
  });

  it('is ordered by hand while it waits: held, put first, released; each by a key', async () => {
    const lane = (name: RegExp) => page.getByRole('option', { name });
    await lane(/F001_r1 Intermediate/).click();
    await page.keyboard.press('f');
    await until('the leg to be first', async () => (await run()).legLines[0]?.stem === 'F001_r1');
    // The page shows so too, and follows the leg to its place.
    const shown = async (): Promise<string[]> =>
      (
        await page
          .getByRole('listbox', { name: 'Legs' })
          .getByRole('option')
          .evaluateAll((rows) =>
            rows
              .map((row) => ({ y: row.getBoundingClientRect().y, says: row.textContent ?? '' }))
              .sort((a, b) => a.y - b.y),
          )
      ).map(({ says }) => says);
    await until('the page to show it first', async () => (await shown())[0]?.startsWith('F001_r1 Intermediate'));
    // By key and by mouse, among those of its wave.
    const proxies = async (): Promise<string[]> =>
      (await run()).legLines.filter(({ wave }) => wave === 1).map(({ stem }) => stem);
    const [before, moved] = [await proxies(), (await proxies())[3] as string];
    await lane(new RegExp(`^${moved} Proxy`)).click();
    await page.keyboard.press('-');
    await until('it to move up', async () => (await proxies())[2] === moved);
    await until('the page to show it third', async () => (await shown())[3]?.startsWith(`${moved} Proxy`));
    await drawOnto(page, lane(new RegExp(`^${moved} Proxy`)), lane(new RegExp(`^${before[0] ?? ''} Proxy`)));
    await until('it to be dragged to the front', async () => (await proxies())[0] === moved);
    expect([...(await proxies())].sort()).toEqual([...before].sort());
    await lane(/S009C001 Proxy/).click();
    await page.keyboard.press('h');
    await until('the leg to be held', async () =>
      (await run()).legLines.some(({ stem, state }) => stem === 'S009C001' && state === 'held'),
    );
    await page.getByLabel('Place among other runs').selectOption('1');
    await until('its priority', async () => (await run()).priority === 1);
    // Let it begin now, and see who was first.
    await fetch(`${site.address}/api/runs/${(await run()).id}`, {
      method: 'POST',
      headers: { 'Content-Type': 'application/json' },
      body: JSON.stringify({ notBefore: null }),
    });
    await until('the first leg to be under way', async () =>
      (await run()).legLines.some(({ startedAt }) => startedAt !== null),
    );
    const begun = (await run()).legLines
      .filter(({ startedAt }) => startedAt !== null)
      .sort((a, b) => (a.startedAt as string).localeCompare(b.startedAt as string));
    // Two lanes take theirs at one moment.
    expect(begun.slice(0, 2).map(({ stem, makes }) => [stem, makes])).toContainEqual(['F001_r1', 'Intermediate']);
    await until('all but the held to end', async () =>
      (await run()).legLines.every(({ state, stem }) =>
        stem === 'S009C001' ? true : ['proved', 'needs eyes'].includes(state),
      ),
    );
    // Proxies of everything came before intermediates of anything else.
    const lines = (await run()).legLines.filter(
      ({ startedAt, stem }) => startedAt && stem !== 'F001_r1' && stem !== 'S009C001',
    );
    const lastProxy = Math.max(
      ...lines.filter(({ wave }) => wave === 1).map(({ startedAt }) => Date.parse(startedAt as string)),
    );
    const firstIntermediate = Math.min(
      ...lines.filter(({ wave }) => wave === 2).map(({ startedAt }) => Date.parse(startedAt as string)),
    );
    expect(lastProxy).toBeLessThanOrEqual(firstIntermediate);
    await page.getByText('1 leg held', { exact: true }).waitFor();
    await page.getByRole('button', { name: 'Release 1 leg' }).click();
    await until('the run to end', async () => (await run()).endedAt !== null);
  });

  it("shows its speed along the clock, and each leg's log, one key away", async () => {
    await page.getByRole('option', { name: /A001C003 Proxy/ }).click();
    await page.keyboard.press('g');
    await page
      .getByRole('img', { name: /^Speed of the run/ })
      .locator('.trace')
      .first()
      .waitFor();
    await page.keyboard.press('l');
    await page
      .getByLabel('Log', { exact: true })
      .getByText(/ffmpeg/)
      .waitFor();
    expect(await page.getByLabel('Log', { exact: true }).textContent()).toMatch(
      /\d\d:\d\d:\d\d ffmpeg .*libx264[\s\S]*proxy\/day-1\/A001\/A001C003\.mov: proved/,
    );
  });

  it("tells how long the next will take by this site's own runs, and names what is made anew", async () => {
    const [recipe] = await site.api<
      {
        id: string;
        version: number;
        group: string;
        note: string;
        definition: { deliverables: { role: string; codec: object }[] };
      }[]
    >('/recipes');
    if (!recipe) throw new Error('no recipe');
    const definition = {
      ...recipe.definition,
      deliverables: recipe.definition.deliverables.map((one) =>
        one.role === 'proxy' ? { ...one, codec: { id: 'h264', quality: 30 } } : one,
      ),
    };
    const kept = await fetch(`${site.address}/api/recipes/${recipe.id}`, {
      method: 'PUT',
      headers: { 'Content-Type': 'application/json' },
      body: JSON.stringify({ definition, group: recipe.group, note: recipe.note, seen: recipe.version }),
    });
    expect(kept.status).toBe(200);
    await prepare();
    await page.getByText(/^Ready about/).waitFor();
    await page.getByText('5 outputs were made otherwise before').waitFor();
    await start().click();
    await page.waitForURL(/\/runs\//);
    await until('the run to end', async () => (await run()).endedAt !== null);
    const all = (await run()).legLines.flatMap(({ outputs }) => outputs);
    expect(all.filter(({ role }) => role === 'intermediate').every(({ alreadyThere }) => alreadyThere)).toBe(true);
    expect(
      all
        .filter(({ role }) => role === 'proxy')
        .every(({ alreadyThere, state }) => !alreadyThere && state !== 'failed'),
    ).toBe(true);
    const stores = await site.api<{ stores: { id: string; path: string }[] }>('/site');
    const shuttle = stores.stores.find(({ id }) => id === 'shuttle')?.path ?? '';
    expect(await readdir(join(shuttle, 'salt-lantern', 'superseded', 'proxy', 'day-1', 'A001'))).toEqual([
      'A001C003.1.mov',
      'A001C004.1.mov',
    ]);
  });
});

describe('the site', () => {
  it("shows its workers, keeps quiet hours, and how members write a store's path", async () => {
    const { id } = await run();
    await page.goto(`${site.address}/site`);
    await page.getByText('0 of 2 legs').waitFor();
    await page.getByText('Takes every codec').waitFor();
    const hour = (by: number): string => {
      const at = new Date(Date.now() + by * 3600_000);
      return `${String(at.getHours()).padStart(2, '0')}:00`;
    };
    await page.getByLabel('from').fill(hour(0));
    await page.getByLabel('until').fill(hour(2));
    await page.locator('form').filter({ hasText: 'Quiet hours' }).getByRole('button', { name: 'Keep' }).click();
    await page.getByText(`Quiet until ${hour(2)}`).waitFor();
    await page.getByRole('button', { name: 'None' }).click();
    await page.getByText(`Quiet until ${hour(2)}`).waitFor({ state: 'detached' });
    await page.getByLabel('Shuttle on Windows').fill('S:\\shuttle');
    await page
      .locator('form')
      .filter({ has: page.getByLabel('Shuttle on Windows') })
      .getByRole('button', { name: 'Keep' })
      .click();
    await until(
      'it to be kept',
      async () =>
        (await site.api<{ id: string; elsewhere: { windows?: string } }[]>('/stores')).find(
          (store) => store.id === 'shuttle',
        )?.elsewhere.windows === 'S:\\shuttle',
    );
    await page.goto(`${site.address}/p/${production}/runs/${id}`);
    await page.getByLabel('Paths as written on').selectOption('windows');
    await page.getByText('S:\\shuttle\\salt-lantern').waitFor();
  });
});
