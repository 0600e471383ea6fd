import type { ClipsAnswer } from '@relay/contract/clips';
import type { BenchAnswer } from '@relay/contract/bench';
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

const held = async (stem: string): Promise<BenchAnswer['inForce']['fields']> => {
  const { lines } = await site.api<ClipsAnswer>(`/productions/${production}/clips`);
  return (await site.api<BenchAnswer>(`/clips/${lines.find((line) => line.stem === stem)?.id ?? ''}/bench`)).inForce
    .fields;
};
const choice = (name: string): Locator => page.getByRole('combobox', { name, exact: true });
const willDo = (text: string | RegExp): Promise<void> => page.getByText(text).first().waitFor();
const openPart = async (part: 'shape' | 'time' | 'sound' | 'repair', group: RegExp): Promise<void> => {
  await page.goto(`${site.address}/p/${production}/bench`);
  await page.getByRole('link', { name: group }).first().click();
  await page.getByRole('button', { name: part, exact: true }).click();
};

describe('corrections on the bench', () => {
  it('time: slow motion is said in a sentence, drawn as two strips with the map, used on the group, and taken back', async () => {
    await openPart('time', /1280×720/);
    await choice('What becomes of the frames').selectOption('relabel');
    await willDo(/59\.94 played at 23\.976, 2\.5× slower/);
    expect(
      await page.getByRole('img', { name: 'Which original frames each output frame shows' }).locator('line').count(),
    ).toBe(8);
    await page.getByText('2.002 s → 5.005 s').waitFor();
    await page.getByRole('button', { name: 'Use on 1 clip' }).click();
    await until('the rule', async () => (await held('S009C001')).time?.kind === 'relabel');
    await page.getByRole('button', { name: 'Undo' }).first().click();
    await until('its undoing', async () => !(await held('S009C001')).time);
  });

  it('shape: a squeeze is undone by widening, the whole way stands in a table', async () => {
    await openPart('shape', /1440×1080 · 24/);
    await page.getByRole('button', { name: '1.33', exact: true }).click();
    await willDo(/1440×1080 becomes 1920×1080/);
    await page.getByRole('button', { name: 'Circle test' }).click();
    await page.getByRole('button', { name: 'Use on 1 clip' }).click();
    await until('the rule', async () => (await held('C001C011')).squeeze?.num === 4);
  });

  it('sound: channels are picked in the matrix and measured beside it', async () => {
    await openPart('sound', /1920×1080 · 23\.976p/);
    await page.getByText(/LUFS/).nth(1).waitFor();
    await choice('Channels').selectOption('pick');
    for (const silent of ['1', '3', '4', '6'])
      await page
        .getByRole('group', { name: /^Channels/ })
        .getByRole('button', { name: silent, exact: true })
        .click();
    await willDo(/channels 2 and 5 kept/i);
    await page.getByRole('button', { name: 'Use on 2 clips' }).click();
    await until('the rule', async () => (await held('A001C004')).sound?.kind === 'pick');
  });

  it('repair: is tried on a few seconds beside the original, and plays', async () => {
    await openPart('repair', /1280×720/);
    await choice('A shaken camera').selectOption('2');
    await willDo(/The middle 1174×661 is kept/);
    const video = page.locator('video');
    // A few seconds are repaired and encoded first: on a machine that tests more beside, for longer than a minute.
    await video.waitFor();
    await until(
      'the preview to play',
      async () => (await video.evaluate((one: HTMLVideoElement) => one.readyState)) >= 2,
    );
    expect(await video.evaluate((one: HTMLVideoElement) => [one.videoWidth, one.error])).toEqual([1280, null]);
    expect((await held('S009C001')).repair ?? null).toBeNull();
  });
});

describe('corrections of a selection in the sheet', () => {
  it('say mixed where clips differ, and change only what is touched', async () => {
    await page.goto(`${site.address}/p/${production}/clips`);
    await page.getByRole('row').filter({ hasText: 'C001C011' }).click();
    await page
      .getByRole('row')
      .filter({ hasText: 'C001C012' })
      .click({ modifiers: ['Control'] });
    await page
      .getByText(/^mixed/)
      .first()
      .waitFor();
    await page.getByRole('group', { name: 'Correct' }).getByRole('button', { name: 'time' }).click();
    await choice('What becomes of the frames').selectOption('relabel');
    await page.getByRole('combobox', { name: 'To', exact: true }).selectOption({ label: '25.000' });
    await page.getByRole('button', { name: 'Use on 2 clips' }).click();
    await until(
      'both',
      async () =>
        (await held('C001C011')).time?.kind === 'relabel' && (await held('C001C012')).time?.kind === 'relabel',
    );
    // What was not touched stays as each had it.
    expect([(await held('C001C011')).squeeze?.num, (await held('C001C012')).squeeze ?? null]).toEqual([4, null]);
  });
});

describe('burn-in', () => {
  it('is laid out on a clip, kept in the recipe, and planned', async () => {
    await page.goto(`${site.address}/p/${production}/recipes`);
    await page.getByRole('button', { name: /Viewing copies/ }).click();
    await page.getByRole('link', { name: 'Lay out' }).click();
    await choice('Size of text').selectOption({ index: 2 });
    await page.getByRole('button', { name: /^Keep/ }).click();
    await page.getByRole('button', { name: 'Kept' }).waitFor();
    const recipes = await site.api<{ definition?: { deliverables: { burn?: unknown }[] } }[]>('/recipes');
    expect(JSON.stringify(recipes)).toContain('"burn"');
  });
});
