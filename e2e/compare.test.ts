import { readFile, rename, rm, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { ChecksAnswer, Comparison } from '@relay/contract/checks';
import type { ClipsAnswer } from '@relay/contract/clips';
import type { RecipeAnswer } from '@relay/contract/recipes';
import type { RunAnswer } from '@relay/contract/runs';
import { readStrip, stripMiddle } from '@relay/demo/scene/slate';
import type { Page } from 'playwright-core';
import { beforeAll, describe, expect, it } from 'vitest';
import { until, type Site } from '../testing/site.ts';
import { useDemoSite } from './demoSite.ts';

/** An output is watched beside its original: what is read back is what is on the canvas, slate by slate. */

const demo = useDemoSite();
let site: Site;
let page: Page;
let production: string;
let output: ChecksAnswer['outputs'][number];

beforeAll(async () => {
  ({ site, page, production } = demo());
  const { lines } = await site.api<ClipsAnswer>(`/productions/${production}/clips?filter=S009C001`);
  const recipes = await site.api<RecipeAnswer[]>('/recipes');
  const run = await site.api<RunAnswer>(`/productions/${production}/runs`, {
    clips: lines.map(({ id }) => id),
    recipe: recipes.find(({ definition }) => definition.name === 'Finish and cut')?.id,
    store: 'shuttle',
    folder: 'watched',
    name: 'Watched',
    asTheyAre: true,
  });
  await until('the run', async () => (await site.api<RunAnswer>(`/runs/${run.id}`)).endedAt !== null);
  const { outputs } = await site.api<ChecksAnswer>(`/productions/${production}/outputs`);
  output = outputs.find(({ role }) => role === 'proxy') as typeof output;
  await page.goto(`${site.address}/p/${production}/checks/${output.id}`);
  await page.getByText('decoded in full depth').waitFor();
});

const canvas = () => page.getByRole('img', { name: /^Original and Proxy/ });

/** The slates' strips on both sides, and the place that the page says, read over and over for so long. */
async function watched(ms: number): Promise<{ left: number; right: number; said: number }[]> {
  const both = await site.api<Comparison>(`/outputs/${output.id}/comparison`);
  const rows = await canvas().evaluate(
    async (_, { box, middle, time }) => {
      const seen: { left: number[]; right: number[]; said: string }[] = [];
      const copy = document.createElement('canvas').getContext('2d', { willReadFrequently: true });
      if (!copy) throw new Error('no canvas');
      const end = performance.now() + time;
      while (performance.now() < end) {
        await new Promise(requestAnimationFrame);
        const up = [...document.querySelectorAll('canvas')].find((one) =>
          one.checkVisibility({ visibilityProperty: true }),
        );
        if (!up || up.width < 2) continue;
        const half = up.width / 2;
        const scale = Math.min(half / box.width, up.height / box.height) * 0.985;
        const [width, height] = [Math.floor(box.width * scale), box.height * scale];
        const y = Math.floor((up.height - height) / 2 + middle * height);
        copy.canvas.width = up.width;
        copy.canvas.height = 1;
        copy.drawImage(up, 0, y, up.width, 1, 0, 0, up.width, 1);
        const row = (left: number): number[] => {
          const { data } = copy.getImageData(Math.round(left + (half - width) / 2), 0, width, 1);
          return Array.from({ length: width }, (_, index) => data[index * 4 + 1] as number);
        };
        seen.push({
          left: row(0),
          right: row(half),
          said: document.querySelector<HTMLInputElement>('input[aria-label=Frame]')?.value ?? '',
        });
      }
      return seen;
    },
    { box: both.output.box, middle: stripMiddle, time: ms },
  );
  return rows.map(({ left, right, said }) => ({
    left: readStrip(left, left.length, 1, 16 / 9),
    right: readStrip(right, right.length, 1, 16 / 9),
    said: Number(said),
  }));
}

/**
 * Pictures that are on the canvas one after the other once it was begun. Where a busy machine drew less than `enough` of
 * them before it was over, it is begun again.
 */
async function played(enough: number, begin: () => Promise<void>): Promise<number[]> {
  let seen: number[] = [];
  await until(`${enough} pictures`, async () => {
    seen = [];
    await begin();
    for (let looks = 0; looks < 4 && seen.length < enough; looks += 1)
      for (const { left, right } of await watched(2_000)) {
        expect(left).toBe(right);
        if (!seen.includes(left)) seen.push(left);
      }
    return seen.length >= enough;
  });
  return seen;
}

describe('an output beside its original', () => {
  it('is shown at the same frame, in full depth, and says so', async () => {
    for (const frame of [0, 7, 30]) {
      await page.getByLabel('Frame', { exact: true }).fill(String(frame));
      await until(`frame ${frame}`, async () => {
        const [seen] = await watched(30);
        return seen?.left === frame && seen.right === frame && seen.said === frame;
      });
    }
    expect(await page.getByText('16:45:10;42', { exact: true }).count()).toBe(1);
  });

  it.each([
    ['l', '1', 1],
    ['l', '2', 1],
    ['j', '1', -1],
  ] as const)('%s at %s times: never a frame apart while it plays', async (key, speed, way) => {
    await page.getByRole('group', { name: 'Speed' }).getByRole('button', { name: speed, exact: true }).click();
    const frames = await played(5, async () => {
      await page.keyboard.press('k');
      await page.keyboard.press(way > 0 ? 'Home' : 'End');
      await until('where it begins', async () => (await watched(30))[0]?.left === (way > 0 ? 0 : 119));
      await page.keyboard.press(key);
      await page.getByText('made light').waitFor();
    });
    expect(frames).toEqual([...frames].sort((a, b) => (a - b) * way));
    // At its end it stands on the last one.
    if (speed === '2') for (const frame of frames) expect(frame === 119 || frame % 2 === 0).toBe(true);
    await page.keyboard.press('k');
    await page.getByText('decoded in full depth').waitFor();
    // It stands where it was stopped, in full depth.
    await until('the frame where it stopped', async () => {
      const [seen] = await watched(30);
      return seen !== undefined && seen.left === seen.said && seen.right === seen.said;
    });
  });

  it('goes round between two places', async () => {
    await page.keyboard.press('Home');
    for (let n = 0; n < 2; n += 1) await page.keyboard.press('Shift+ArrowRight');
    await page.keyboard.press('i');
    for (let n = 0; n < 3; n += 1) await page.keyboard.press('Shift+ArrowRight');
    await page.keyboard.press('o');
    await page.keyboard.press('g');
    await page.getByRole('group', { name: 'Speed' }).getByRole('button', { name: '1', exact: true }).click();
    await until('its last frame', async () => (await watched(30))[0]?.left === 50);
    await page.keyboard.press('l');
    const seen: number[] = [];
    const timesBack = (): number => seen.filter((frame, index) => frame < (seen[index - 1] ?? 0)).length;
    await until('five times round', async () => {
      seen.push(...(await watched(2_000)).map(({ left }) => left));
      return timesBack() > 4 && seen.includes(20) && seen.includes(50);
    });
    expect([Math.min(...seen), Math.max(...seen)]).toEqual([20, 50]);
    await page.keyboard.press('k');
    for (const key of ['i', 'o', 'g']) await page.keyboard.press(key);
  });

  it('stands where its stream broke off, and says so', async () => {
    await page.keyboard.press('Home');
    // What is made ends after ten frames, as it does where FFmpeg is killed.
    await page.route(/\/played\?/, (route) =>
      route.continue({ url: route.request().url().replace('to=120', 'to=10') }),
    );
    await page.keyboard.press('l');
    await page.getByText('It cannot be played from here on', { exact: false }).waitFor();
    expect(Number(await page.getByRole('slider', { name: 'Frame' }).inputValue())).toBeLessThan(11);
    await page.getByText('decoded in full depth').waitFor();
    await page.unroute(/\/played\?/);
    await page.keyboard.press('ArrowRight');
    expect(await page.getByText('It cannot be played from here on', { exact: false }).count()).toBe(0);
  });

  it('fills the whole screen by a key, and leaves it by the same', async () => {
    const whole = () => page.evaluate(() => document.fullscreenElement !== null);
    await page.keyboard.press('f');
    await until('the whole screen', whole);
    await page.keyboard.press('f');
    await until('the page', async () => !(await whole()));
  });

  it('is held against another output, and heard channel by channel', async () => {
    await page.getByLabel('Held against').selectOption({ label: 'Intermediate, Watched' });
    await page.getByRole('img', { name: /^Intermediate and Proxy/ }).waitFor();
    const asked = page.waitForRequest(/played\?.*hear=against&channel=1/);
    await page.getByRole('group', { name: 'Hear' }).getByRole('button', { name: 'Intermediate' }).click();
    await page.getByRole('group', { name: 'Channel' }).getByRole('button', { name: '2', exact: true }).click();
    await page.keyboard.press('l');
    await asked;
    await page.keyboard.press('k');
    await page.getByLabel('Held against').selectOption('original');
  });

  it('is enlarged and moved together, wiped, and held against by difference', async () => {
    await page.keyboard.press('Home');
    await page.keyboard.press('5');
    const before = await watched(50);
    expect(before.length).toBeGreaterThan(0);
    const box = await canvas().boundingBox();
    if (!box) throw new Error('no canvas');
    const shot = () => canvas().screenshot();
    await until(
      'the enlarged picture',
      async () => (await canvas().locator('..').locator('..').getAttribute('aria-busy')) === 'false',
    );
    const still = await shot();
    await page.mouse.move(box.x + 100, box.y + 200);
    await page.mouse.down();
    await page.mouse.move(box.x + 40, box.y + 150, { steps: 3 });
    await page.mouse.up();
    expect((await shot()).equals(still)).toBe(false);
    await page.keyboard.press('1');
    await page.keyboard.press('w');
    await page.getByRole('slider', { name: 'Wipe' }).fill('20');
    await page.keyboard.press('d');
    await page.getByRole('button', { name: '×64' }).click();
    await page.keyboard.press('s');
  });

  it('is drawn in the page where a browser knows no other way, and never a frame apart either', async () => {
    // As on a page without TLS, from another machine; and as where streams are not handed on piece by piece.
    await page.addInitScript(() => {
      for (const name of ['VideoFrame', 'MediaSource']) Reflect.deleteProperty(globalThis, name);
    });
    await page.reload();
    await page.getByText('decoded in full depth').waitFor();
    expect(await page.evaluate(() => 'VideoFrame' in globalThis || 'MediaSource' in globalThis)).toBe(false);
    const frames = await played(5, async () => {
      await page.keyboard.press('k');
      await page.keyboard.press('Home');
      await until('where it begins', async () => (await watched(30))[0]?.left === 0);
      await page.keyboard.press('l');
      await page.getByText('made light').waitFor();
    });
    expect(frames).toEqual([...frames].sort((a, b) => a - b));
  });

  it('goes on playing what was held where its file is replaced, and says so from then on', async () => {
    const path = join(site.home, 'demo/shuttle/watched', output.path);
    const bytes = await readFile(path);
    const warning = page.getByText('is not the file that was proved', { exact: false });
    await page.keyboard.press('k');
    await page.keyboard.press('Home');
    await until('where it begins', async () => (await watched(30))[0]?.left === 0);
    expect(await warning.count()).toBe(0);
    await page.keyboard.press('l');
    await until('a picture', async () => ((await watched(30))[0]?.left ?? 0) > 0);
    await writeFile(`${path}.other`, bytes.subarray(0, bytes.length / 2));
    await rename(`${path}.other`, path);
    await until('its last frame', async () => (await watched(30))[0]?.left === 119);
    await page.reload();
    await warning.waitFor();
    await writeFile(path, bytes);
    await page.reload();
    await page.getByText('decoded in full depth').waitFor();
    expect(await warning.count()).toBe(0);
  });

  it('says that it is gone where its file is, and goes on showing what it knows', async () => {
    await rm(join(site.home, 'demo/shuttle/watched', output.path));
    await page.reload();
    await page.getByText(`${output.path} is not there (any more)`).waitFor();
    await page.getByRole('table').waitFor();
  });
});
