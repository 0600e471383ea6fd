import type { ChecksAnswer, MeasuringAnswer } from '@relay/contract/checks';
import type { CheckSheet } from '@relay/contract/checkSheet';
import type { ClipsAnswer } from '@relay/contract/clips';
import type { RecipeAnswer } from '@relay/contract/recipes';
import type { RunAnswer } from '@relay/contract/runs';
import type { Page } from 'playwright-core';
import { beforeAll, describe, expect, it } from 'vitest';
import { until, type Site } from '../testing/site.ts';
import { useDemoSite } from './demoSite.ts';

/** A run is gone through by its check sheet: measured, looked at, accepted, sent back, made again, handed off. */

const demo = useDemoSite();
let site: Site;
let page: Page;
let production: string;
let run: string;

beforeAll(async () => {
  ({ site, page, production } = demo());
  const { lines } = await site.api<ClipsAnswer>(`/productions/${production}/clips?filter=C001`);
  const recipes = await site.api<RecipeAnswer[]>('/recipes');
  ({ id: run } = await site.api<RunAnswer>(`/productions/${production}/runs`, {
    clips: lines.filter(({ stem }) => ['C001C011', 'C001C012', 'S009C001'].includes(stem)).map(({ id }) => id),
    recipe: recipes.find(({ definition }) => definition.name === 'Finish and cut')?.id,
    store: 'shuttle',
    folder: 'sheet',
    name: 'Sheet',
    asTheyAre: true,
  }));
  await until('the run', async () => (await site.api<RunAnswer>(`/runs/${run}`)).endedAt !== null);
});

const sheet = (): Promise<CheckSheet> => site.api<CheckSheet>(`/runs/${run}/check-sheet`);

describe('a check sheet', () => {
  it('asks for what its rule says; each change of the rule is kept', async () => {
    await page.goto(`${site.address}/p/${production}/runs/${run}`);
    await page.getByRole('link', { name: /^Check sheet \d+ of \d+/ }).click();
    await page.getByRole('heading', { name: 'Check sheet', level: 1 }).waitFor();
    await page.getByRole('checkbox', { name: 'Intermediate' }).uncheck();
    await page.getByRole('checkbox', { name: 'One of every' }).uncheck();
    await page.getByRole('checkbox', { name: 'Everything that was corrected' }).uncheck();
    await page.getByRole('checkbox', { name: 'Handed off only once it is looked at' }).check();
    await until('the rule', async () => (await sheet()).rule.handoff);
    const { rule, lines } = await sheet();
    expect(rule).toMatchObject({ deliverables: ['Proxy'], every: null, corrected: false, ends: true });
    expect(new Set(lines.map(({ deliverable }) => deliverable))).toEqual(new Set(['Proxy']));
    await page.reload();
    await until(
      'its lines',
      async () => (await page.locator('article').getByRole('listitem').count()) === lines.length,
    );
    expect(await page.getByRole('checkbox', { name: 'Intermediate' }).isChecked()).toBe(false);
    // A picture of before and after stands beside each.
    const [first] = lines;
    const pictures = page.getByRole('img', { name: new RegExp(`^${first?.stem}, `) });
    await until('both pictures', async () =>
      pictures.evaluateAll(
        (all) => all.length === 2 && all.every((one) => (one as HTMLImageElement).naturalWidth === 640),
      ),
    );
  });

  it('is measured whole, and asks for the worst', async () => {
    await page.getByRole('button', { name: 'Measure them' }).click();
    await page.getByText(/^(\d+) of \1 outputs measured$/).waitFor();
    const { lines } = await sheet();
    expect(lines.filter(({ why }) => why.includes('among the worst')).length).toBeGreaterThan(1);
  });

  it('is gone through by keys; what is sent back is made again once it is corrected', async () => {
    const { lines } = await sheet();
    await page.keyboard.press('ArrowDown');
    await page.keyboard.press('a');
    await page.getByText(`1 of ${lines.length} accepted`, { exact: false }).waitFor();
    await page.keyboard.press('ArrowDown');
    await page.keyboard.press('c');
    await page.getByRole('navigation', { name: 'Check sheet' }).getByText(`2 of ${lines.length}`).waitFor();
    await page.getByText('decoded in full depth').waitFor();
    await page.getByLabel('Note, if it is sent back').fill('The horizon leans');
    await page.getByRole('button', { name: /^Send back at/ }).click();
    await page.getByRole('button', { name: 'Make it again' }).waitFor();
    // N leads to what nobody has looked at yet.
    await page.keyboard.press('n');
    await page.getByRole('navigation', { name: 'Check sheet' }).getByText(`3 of ${lines.length}`).waitFor();
    await page.getByRole('navigation', { name: 'Check sheet' }).getByRole('link', { name: 'Check sheet' }).click();
    await page.getByText('“The horizon leans”').waitFor();
    const row = page.locator('article').getByRole('listitem').filter({ hasText: 'The horizon leans' });
    await row.getByRole('button', { name: 'Make it again' }).click();
    // Nothing was corrected since: it is said, and nothing is made.
    await page.getByText(/would come out as it is/).waitFor();
  });

  it('keeps a run from being handed off until all of it is accepted', async () => {
    await page.goto(`${site.address}/p/${production}/handoffs`);
    await page.getByText('To be looked at first: 1 of', { exact: false }).waitFor();
    expect((await fetch(`${site.address}/api/runs/${run}/relink.csv`)).status).toBe(409);
    for (const { now, look } of (await sheet()).lines) {
      if (look?.verdict === 'sent back') await site.api(`/outputs/${now.id}/look`, { verdict: 'taken back' });
      if (look?.verdict !== 'accepted') await site.api(`/outputs/${now.id}/look`, { verdict: 'accepted' });
    }
    await page.getByRole('link', { name: 'Relink sheet, CSV' }).waitFor();
    expect((await fetch(`${site.address}/api/runs/${run}/relink.csv`)).status).toBe(200);
    await page.goto(`${site.address}/p/${production}/runs/${run}`);
    await page.getByRole('link', { name: /^Looked at/ }).waitFor();
  });
});

it('a contact sheet has every clip before and after', async () => {
  // It is not printed before its pictures are there, though they come slowly.
  await page.route(/\/picture\?/, async (route) => {
    await new Promise((resolve) => setTimeout(resolve, 400));
    await route.continue();
  });
  await page.addInitScript(() => {
    window.print = () => {
      const left = [...document.querySelectorAll<HTMLImageElement>('article img')].filter(({ complete }) => !complete);
      document.documentElement.dataset.printed = String(left.length);
    };
  });
  await page.goto(`${site.address}/p/${production}/runs/${run}/contact-sheet`);
  await page.getByRole('button', { name: 'Print' }).click();
  await page.locator('html[data-printed]').waitFor({ state: 'attached' });
  expect(await page.locator('html').getAttribute('data-printed')).toBe('0');
  await page.unroute(/\/picture\?/);
  await page.getByRole('heading', { name: 'Contact sheet', level: 1 }).waitFor();
  const clips = await page.locator('article').getByRole('listitem').count();
  expect(clips).toBe((await sheet()).outputs / 2);
  await until('its pictures', async () =>
    page
      .locator('article img')
      .evaluateAll(
        (all, count) => all.length === count && all.every((one) => (one as HTMLImageElement).naturalWidth > 0),
        clips * 2,
      ),
  );
  await page.getByRole('button', { name: 'Intermediate' }).click();
  await page.getByText('then Intermediate', { exact: false }).waitFor();
});

describe('what was measured of an output', () => {
  it('is ordered, drawn, and given as a table; its worst frames lead to compare', async () => {
    const { outputs } = await site.api<ChecksAnswer>(`/productions/${production}/outputs`);
    const output = outputs.find(({ role }) => role === 'proxy');
    const path = `/outputs/${output?.id}/measuring`;
    await page.goto(`${site.address}/p/${production}/checks/${output?.id}`);
    await page.getByRole('link', { name: 'Measured along its length' }).click();
    const field = page.getByLabel('Measure one frame of every');
    await field.fill('0');
    await field.press('Enter');
    // What cannot be is not sent, and says why.
    await page.getByText('1 to 100000', { exact: false }).waitFor();
    await field.fill('6');
    await page.getByRole('button', { name: 'Measure again' }).click();
    const now = async () => (await site.api<MeasuringAnswer>(path)).measuring;
    await until('measured', async () => (await now())?.state === 'measured' && (await now())?.every === 6);
    const worst = (await now())?.worst[0];
    await page.getByText(new RegExp(`^${(await now())?.along?.ssim.length} of \\d+ frames at `)).waitFor();
    await page.locator('.js-plotly-plot').first().waitFor();
    expect(await page.locator('.js-plotly-plot').count()).toBeGreaterThan(3);
    const csv = await (await fetch(`${site.address}/api/outputs/${output?.id}/measured.csv`)).text();
    expect(csv.trim().split('\r\n')).toHaveLength(1 + ((await now())?.along?.ssim.length ?? 0));
    await page.getByRole('region', { name: 'Worst frames' }).getByRole('link').first().click();
    await page.getByText('decoded in full depth').waitFor();
    expect(Number(await page.getByLabel('Frame', { exact: true }).inputValue())).toBe(worst?.frame);
  });
});
