import { readdir } from 'node:fs/promises';
import { join } from 'node:path';
import type { ClipsAnswer } from '@relay/contract/clips';
import type { RecipeAnswer } from '@relay/contract/recipes';
import type { RunAnswer, RunLine } from '@relay/contract/runs';
import type { ProductionAnswer } from '@relay/contract/site';
import type { Browser, Page } from 'playwright-core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { call } from '../testing/commands.ts';
import { pause, startSite, until, type Site } from '../testing/site.ts';
import { openBrowser, openPage } from './browser.ts';

let site: Site;
let browser: Browser;
let page: Page;
let production: ProductionAnswer;
const troubles: string[] = [];

beforeAll(async () => {
  [site, browser] = await Promise.all([startSite(), openBrowser()]);
  page = await openPage(browser);
  page.on('pageerror', (error) => troubles.push(error.message));
  page.on('response', (response) => {
    if (response.status() >= 500 && response.status() !== 503) troubles.push(`${response.status()} ${response.url()}`);
  });
  production = (await site.api<ProductionAnswer[]>('/productions'))[0] as ProductionAnswer;
});
afterAll(async () => {
  await browser?.close();
  const code = await site?.stop();
  await site?.remove();
  expect(troubles).toEqual([]);
  expect(code).toBe(0);
});

async function finalFiles(folder: string): Promise<string[]> {
  const names = await readdir(join(site.home, 'demo/shuttle', folder), { recursive: true, withFileTypes: true }).catch(
    () => [],
  );
  return names.filter((entry) => entry.isFile()).map((entry) => entry.name);
}

describe('the first ten minutes', () => {
  it('opens on the demo production with its clips read and nothing run yet', async () => {
    await page.goto(site.address);
    await page.getByRole('grid', { name: 'Clips' }).waitFor();
    expect(await page.getByText('12 clips', { exact: true }).count()).toBe(1);
    expect(await page.getByRole('row', { selected: false }).count()).toBeGreaterThan(8);
    await until('all clips looked at', async () =>
      (await site.api<ClipsAnswer>(`/productions/${production.id}/clips`)).lines.every((line) => line.looked),
    );
    expect((await site.api<RunLine[]>(`/productions/${production.id}/runs`)).length).toBe(0);
  });

  it('filters, selects by mouse and keyboard, and says what a run will do', async () => {
    await page.keyboard.press('/');
    await page.keyboard.type('C001C012');
    await page.getByText('1 of 12 clips').waitFor();
    await page.keyboard.press('Escape');
    await page.getByText('12 clips', { exact: true }).waitFor();
    await page.keyboard.press('ArrowDown');
    await page.keyboard.press('Shift+ArrowDown');
    await page.getByRole('heading', { name: '2 clips' }).waitFor();
    expect(await page.getByRole('row', { selected: true }).count()).toBe(2);
    await page.getByRole('row').filter({ hasText: 'C001C012' }).click();
    await page.getByText('Pixels of 4:3 made square: 1440×1080 becomes 1920×1080', { exact: false }).waitFor();
    await page.keyboard.press('Escape');
    await page.getByRole('columnheader', { name: 'Size' }).getByRole('button').click();
    await until('the sorted sheet', async () => (await page.getByRole('row').nth(1).innerText()).includes('P000_0008'));
    await page.getByRole('button', { name: 'Back to groups' }).click();
    await page.keyboard.press('Escape');
  });

  it('runs everything from the keyboard, goes on when worker, database and server are killed, and proves it all', async () => {
    await page.keyboard.press('r');
    await page.getByText('24 outputs of 12 clips').waitFor();
    await page.getByText('To decide on 8 clips').waitFor();
    await page.getByRole('button', { name: 'Start, with them as they are' }).waitFor();
    await page.keyboard.press('Enter');
    await page.waitForURL(/\/runs\/[0-9a-f-]{36}$/);
    const id = page.url().split('/').at(-1) as string;
    const run = (): Promise<RunAnswer> => site.api<RunAnswer>(`/runs/${id}`);
    const running = (): Promise<RunAnswer['legLines'][number] | undefined> =>
      run().then((now) => now.legLines.find((leg) => leg.state === 'running' && leg.framesDone > 0));
    const kill = async (which: 'workerPid' | 'databasePid' | 'serverPid'): Promise<void> => {
      const pid = (await site.pids())[which];
      process.kill(pid, 'SIGKILL');
      await until(`another ${which}`, async () => (await site.pids())[which] !== pid);
    };

    const first = await until('a leg under way', running);
    await kill('workerPid');
    await until('the killed leg taken up again', async () =>
      (await run()).legLines.find(
        (leg) =>
          leg.id === first.id &&
          ['running', 'proving', 'proved'].includes(leg.state) &&
          leg.startedAt !== first.startedAt,
      ),
    );

    await until('a leg under way', running);
    await kill('databasePid');
    await until('legs going on', running);
    await kill('serverPid');

    await until('the end of the run', async () => (await run()).endedAt);
    const ended = await run();
    expect(ended.legs).toEqual({ proved: 11, 'needs eyes': 1 });
    // The page was open all along and shows the end without being loaded again.
    await page.getByText('Ended', { exact: true }).waitFor();
    expect(await page.getByRole('option', { name: /proved/ }).count()).toBe(11);
    const files = await until('relink sheets', async () => {
      const names = await finalFiles('salt-lantern');
      return names.includes('relink.csv') ? names : null;
    });
    expect(files.filter((name) => name.endsWith('.mov'))).toHaveLength(24);
    // A sheet may be written at this very moment; nothing hidden stays.
    await until('nothing hidden left', async () =>
      (await finalFiles('salt-lantern')).every((name) => !name.startsWith('.')),
    );
    // No FFmpeg outlives the worker that started it.
    expect((await call('pgrep', ['-f', `${site.home}/demo/shuttle`])).stdout).toBe('');
  });

  it('shows proofs, and an output beside its original at the same frame', async () => {
    await page.getByRole('option', { name: /A001C003/ }).click();
    await page.getByRole('link', { name: 'Play beside the original' }).first().click();
    await page.getByRole('img', { name: 'Original and Intermediate, side by side' }).waitFor();
    await page.getByText('10:02:11:08').first().waitFor();
    await page.keyboard.press('ArrowRight');
    await page.getByText('2 of 72').waitFor();
    await page.getByText('10:02:11:09').first().waitFor();
    expect(await page.getByText('1920×1080 · ').count()).toBe(2);
    await page.getByRole('link', { name: 'Checks' }).click();
    await page.getByRole('button', { name: 'needs eyes 2' }).click();
    expect(await page.getByRole('row').filter({ hasText: 'P000_0008' }).count()).toBe(2);
    // One is accepted by its key, the other sent back at the frame that is seen, and that taken back again.
    const [first, second] = await page.getByRole('link', { name: 'P000_0008' }).all();
    const other = (await second?.getAttribute('href')) ?? '';
    await first?.click();
    await page.getByRole('button', { name: /^Accept/ }).waitFor();
    await page.keyboard.press('a');
    await page.getByText(/^Accepted by assistant/).waitFor();
    await page.goto(site.address + other);
    await page.getByRole('button', { name: /^Send back at/ }).waitFor();
    expect(await page.getByRole('button', { name: /^Send back at/ }).isDisabled()).toBe(true);
    await page.getByLabel('Note, if it is sent back').fill('too dark');
    await page.getByRole('slider', { name: 'Frame' }).press('ArrowRight');
    await page.getByRole('button', { name: 'Send back at frame 2' }).click();
    await page.getByText(/^Sent back by assistant/).waitFor();
    await page.getByRole('button', { name: 'At frame 2' }).waitFor();
    await page.keyboard.press('r');
    await page.getByText(/would come out as it is: nothing of P000_0008 was corrected since/).waitFor();
    await page.getByRole('link', { name: 'Checks' }).getByText('1 to look at').waitFor();
    await page.getByRole('button', { name: 'Take back' }).click();
    await page.getByRole('button', { name: /^Accept/ }).waitFor();
    await page.getByRole('link', { name: 'Checks' }).click();
    await page.getByRole('button', { name: 'accepted 1' }).waitFor();
    await page.getByRole('button', { name: 'needs eyes 1' }).waitFor();
    await page.getByRole('link', { name: 'Hand-offs' }).click();
    await page.getByRole('link', { name: 'Relink sheet, CSV' }).waitFor();
  });

  it('runs the same again: nothing is made twice, what is there is proved again', async () => {
    const recipe = (await site.api<RecipeAnswer[]>('/recipes'))[0] as RecipeAnswer;
    const { ids } = await site.api<ClipsAnswer>(`/productions/${production.id}/clips?filter=S009`);
    const choice = { clips: ids, recipe: recipe.id, store: 'shuttle', folder: 'salt-lantern', name: 'Again' };
    const { id } = await site.api<RunAnswer>(`/productions/${production.id}/runs`, choice);
    await until('the end', async () => (await site.api<RunAnswer>(`/runs/${id}`)).endedAt);
    const { legLines } = await site.api<RunAnswer>(`/runs/${id}`);
    expect(legLines[0]).toMatchObject({ state: 'proved', outputs: [{ alreadyThere: true }, { alreadyThere: true }] });
  });

  it('stops a run and retries it', async () => {
    const recipe = (await site.api<RecipeAnswer[]>('/recipes'))[0] as RecipeAnswer;
    const { ids } = await site.api<ClipsAnswer>(`/productions/${production.id}/clips?filter=A001`);
    const { id } = await site.api<RunAnswer>(`/productions/${production.id}/runs`, {
      clips: ids,
      recipe: recipe.id,
      store: 'shuttle',
      folder: 'stopped',
      name: 'Stopped',
      asTheyAre: true,
    });
    await page.goto(`${site.address}/p/${production.id}/runs/${id}`);
    await until('a leg under way', async () =>
      (await site.api<RunAnswer>(`/runs/${id}`)).legLines.find((leg) => leg.framesDone > 0),
    );
    await page.getByRole('button', { name: 'Stop the run' }).click();
    await page
      .getByRole('option', { name: /stopped/ })
      .nth(1)
      .waitFor();
    expect(await finalFiles('stopped')).toEqual([]);
    await page.getByRole('button', { name: 'Retry 2 legs' }).click();
    await until('the end', async () => (await site.api<RunAnswer>(`/runs/${id}`)).legs.proved === 2);
    expect((await finalFiles('stopped')).filter((name) => name.endsWith('.mov'))).toHaveLength(4);
  });

  it('begins another production, reads a folder through the page, and lists what was left aside', async () => {
    await page.goto(`${site.address}/productions`);
    await page.getByLabel('Another production').fill('Second Tide');
    await page.getByRole('button', { name: 'Begin' }).click();
    await page.getByRole('button', { name: 'Add a folder…' }).click();
    await page.getByRole('button', { name: 'salt-lantern', exact: true }).click();
    await page.getByRole('button', { name: 'day-2' }).click();
    await page.getByRole('button', { name: 'P000' }).click();
    await page.getByRole('button', { name: 'Read this folder' }).click();
    await page.getByRole('link', { name: 'See the clips' }).waitFor();
    await page.getByText('is no video or sound that can be recognised').waitFor();
    await page.getByRole('link', { name: 'See the clips' }).click();
    await page.getByText('2 clips', { exact: true }).waitFor();
  });
});

describe('what the server refuses', () => {
  const ask = async (path: string, init: RequestInit = {}): Promise<number> =>
    (await fetch(`${site.address}/api${path}`, init)).status;
  const post = (body: unknown, headers: Record<string, string> = {}): RequestInit => ({
    method: 'POST',
    body: typeof body === 'string' ? body : JSON.stringify(body),
    headers: { 'Content-Type': 'application/json', ...headers },
  });

  it('folders outside a store, ids that are none, bad bodies, names twice, pages from elsewhere', async () => {
    expect(await ask('/stores/estuary-raid/folders?folder=../..')).toBe(404);
    expect(await ask('/stores/nowhere/folders')).toBe(404);
    expect(await ask('/runs/1%27%3Bdrop')).toBe(404);
    expect(await ask('/clips/00000000-0000-4000-8000-000000000000/frame')).toBe(404);
    expect(await ask('/productions', post('{'))).toBe(400);
    expect(await ask('/productions', post({ name: ' ' }))).toBe(400);
    expect(await ask('/productions', post({ name: 'salt lantern' }))).toBe(409);
    expect(await ask('/productions', post({ name: 'x' }, { Origin: 'http://elsewhere.example' }))).toBe(403);
    const recipe = (await site.api<RecipeAnswer[]>('/recipes'))[0] as RecipeAnswer;
    const { ids } = await site.api<ClipsAnswer>(`/productions/${production.id}/clips`);
    const choice = { clips: ids, recipe: recipe.id, name: 'x' };
    expect(
      await ask(`/productions/${production.id}/runs`, post({ ...choice, store: 'shuttle', folder: '../../..' })),
    ).toBe(400);
    expect(
      await ask(
        `/productions/${production.id}/runs`,
        post({ ...choice, store: 'estuary-raid', folder: 'salt-lantern/out' }),
      ),
    ).toBe(400);
  });
});

describe('stopping and starting', () => {
  it('Ctrl-C ends everything cleanly, a second start is quick and finds all as it was', async () => {
    const { home } = site;
    const pids = await site.pids();
    const asked = Date.now();
    expect(await site.stop()).toBe(0);
    expect((Date.now() - asked) / 1000).toBeLessThan(10);
    await pause(300);
    for (const pid of [pids.databasePid, pids.serverPid, pids.workerPid]) expect(() => process.kill(pid, 0)).toThrow();
    const from = Date.now();
    site = await startSite({ home });
    expect((Date.now() - from) / 1000).toBeLessThan(10);
    expect((await site.api<ProductionAnswer[]>('/productions')).map((one) => one.name).sort()).toEqual([
      'Salt Lantern',
      'Second Tide',
    ]);
  });
});
