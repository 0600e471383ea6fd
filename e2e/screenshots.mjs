// Takes the pictures in docs/screenshots from a fresh site: node e2e/screenshots.mjs
// It starts a Brisk Relay of its own, runs the demo and removes it again.
import { spawn } from 'node:child_process';
import { chmodSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { chromium } from 'playwright-core';

const here = join(import.meta.dirname, '..');
const home = mkdtempSync(join(tmpdir(), 'relay-shots-'));
chmodSync(home, 0o755);
const site = spawn(process.execPath, [join(here, 'build', 'relay.mjs'), 'start', '--port', '0'], {
  env: { ...process.env, RELAY_HOME: home, RELAY_DEMO: join(here, '.relay', 'painted') },
});
const address = await new Promise((resolve) =>
  site.stdout.on('data', (chunk) => {
    const found = /ready at (\S+)/.exec(String(chunk));
    if (found) resolve(found[1]);
  }),
);

const browser = await chromium.launch({
  executablePath: '/usr/bin/chromium',
  args: [
    '--no-sandbox',
    '--disable-gpu',
    '--disable-quic',
    '--no-first-run',
    '--disable-background-networking',
    '--disable-component-update',
    '--disable-sync',
  ],
});
const page = await browser.newPage({ viewport: { width: 1280, height: 800 }, colorScheme: 'dark' });
/** Waits until every picture of the page is there. */
const pictured = () =>
  page.waitForFunction(() => [...document.images].every((one) => one.complete && one.naturalWidth > 0), null, {
    timeout: 60_000,
  });
const shot = async (name) => {
  await page.waitForTimeout(700);
  await page.screenshot({ path: join(here, 'docs', 'screenshots', `${name}.png`) });
};

await page.goto(address);
await page.getByRole('grid').waitFor();
await page.getByText('not looked at yet').first().waitFor({ state: 'detached', timeout: 120_000 });
await page.getByRole('row').filter({ hasText: 'C001C012' }).click();
await shot('clips');
const bench = await browser.newPage({ viewport: { width: 1280, height: 800 }, colorScheme: 'dark' });
const benchShot = (name) => bench.screenshot({ path: join(here, 'docs', 'screenshots', `${name}.png`) });
await bench.goto(page.url().replace(/\/clips.*/, '/bench'));
await bench.getByRole('link', { name: /1920×1080 · 23.976p/ }).click();
await bench.getByRole('img', { name: /^Corrected/ }).waitFor();
for (const [label, typed] of [
  ['As the camera recorded', 'S-Log3, S-Gamut3.Cine'],
  ['Add a step', 'ferry-technical'],
  ['Add a step', 'estuary-night'],
]) {
  await bench.getByRole('button', { name: `${label}: ` }).click();
  await bench.getByPlaceholder('Type to find').fill(typed);
  await bench.getByRole('option', { name: typed }).first().click();
}
await bench.getByText(/^65³,/).waitFor();
await bench.waitForTimeout(1_500);
await benchShot('bench');
await bench.getByRole('button', { name: 'Use on 2 clips' }).click();
await bench.getByRole('button', { name: 'Contact sheet' }).click();
await bench.getByLabel('Clips of').selectOption('production');
await bench.waitForTimeout(1_000);
await bench.goto(page.url().replace(/\/clips.*/, '/bench'));
await bench.getByRole('link', { name: /1280×720/ }).click();
await bench.getByRole('button', { name: 'time', exact: true }).click();
await bench.getByRole('combobox', { name: 'What becomes of the frames' }).selectOption('relabel');
await bench.waitForTimeout(2_500);
await benchShot('time');
await bench.goto(page.url().replace(/\/clips.*/, '/recipes'));
await bench.getByRole('button', { name: /Viewing copies/ }).click();
await bench.getByRole('link', { name: 'Lay out' }).click();
await bench.waitForTimeout(3_000);
await benchShot('burn');
await bench.goto(page.url().replace(/\/clips.*/, '/bench'));
await bench.getByRole('link', { name: 'Cabinet' }).click();
await bench.getByRole('link', { name: /wharf-test/ }).click();
await bench.getByRole('button', { name: /Brighter greys/ }).click();
await bench.waitForTimeout(1_500);
await benchShot('cabinet');
await bench.close();
await page.keyboard.press('Escape');
await page.keyboard.press('r');
await page.getByText('24 outputs of 12 clips').waitFor();
await shot('prepare');
await page.keyboard.press('Enter');
await page.waitForURL(/\/runs\//);
await page
  .getByRole('option', { name: /proved/ })
  .nth(2)
  .waitFor({ timeout: 120_000 });
await page
  .getByRole('option', { name: /running/ })
  .first()
  .click();
await shot('run');
await page.getByText('Ended', { exact: true }).waitFor({ timeout: 240_000 });
await page.getByRole('option', { name: /needs eyes/ }).click();
await shot('run-done');
await page.getByRole('option', { name: /B001C001/ }).click();
await page.getByRole('link', { name: 'Play beside the original' }).nth(1).click();
await page.getByRole('img', { name: /^Original and Proxy/ }).waitFor({ timeout: 60_000 });
await page.keyboard.press('Shift+ArrowRight');
await page.waitForTimeout(3_000);
await shot('compare');
await page.getByRole('link', { name: 'Measured along its length' }).click();
await page.getByRole('button', { name: 'Measure', exact: true }).click();
await page.getByRole('heading', { name: /^Worst frames/ }).waitFor({ timeout: 60_000 });
await pictured();
await page.waitForTimeout(1_500);
await shot('along');
await page.goBack();
await page.getByRole('link', { name: 'To its run' }).click();
await page.getByRole('link', { name: /^Check sheet/ }).click();
await page.locator('article li').first().waitFor();
await page.keyboard.press('ArrowDown');
await page.keyboard.press('ArrowDown');
await page.keyboard.press('a');
await page.getByText(/1 of \d+ accepted/).waitFor();
await page.waitForTimeout(4_000);
await shot('check-sheet');
await page.getByRole('link', { name: 'Arrivals' }).click();
await page.getByRole('button', { name: 'Put in card-V-1' }).click();
await page.getByRole('button', { name: 'Put in card-A-2' }).click();
await page.getByRole('button', { name: 'Bring in…', exact: true }).nth(1).waitFor();
for (const slot of [0, 1]) {
  await page.getByRole('button', { name: 'Bring in…', exact: true }).nth(slot).click();
  await page.getByText(/\d files, /).waitFor();
  await page.getByRole('button', { name: 'Copy and prove' }).click();
  await page
    .getByRole('complementary')
    .getByText(/The card may be cleared/)
    .first()
    .waitFor({ timeout: 60_000 });
}
await page.getByText('3 clips').first().waitFor({ timeout: 60_000 });
await page.waitForTimeout(6_000);
await shot('arrivals');
await page.getByRole('link', { name: 'Its clips' }).click();
await page.getByRole('row').filter({ hasText: 'A002C004' }).waitFor();
await page.getByRole('row').filter({ hasText: 'A002C001' }).dblclick();
await page.getByRole('img', { name: /Sound of 6/ }).waitFor({ timeout: 60_000 });
await page.keyboard.press('Shift+ArrowRight');
await page.waitForTimeout(1_500);
await shot('clip');
await page.getByRole('link', { name: 'Recipes' }).click();
await page.getByText(/^Of \d+ clips it makes/).waitFor();
await shot('recipes');
await page.getByRole('link', { name: /^Arrivals/ }).click();
await page.getByRole('link', { name: 'Inlets' }).click();
await page
  .getByRole('button', { name: /Ferry inlet/ })
  .first()
  .click();
await page.getByRole('button', { name: /Let it go on/ }).click();
await page.getByRole('button', { name: 'Drop a painted card' }).click();
await page.getByRole('img', { name: /proved/ }).waitFor({ timeout: 120_000 });
await page.getByRole('button', { name: 'Drop a painted card' }).click();
await page.getByRole('region', { name: 'What waits' }).waitFor();
await shot('inlets');
await page.goto(`${address}/productions`);
await page.getByLabel('Another production').fill('Second Tide');
await page.getByRole('button', { name: 'Begin' }).click();
await page.getByRole('heading', { name: 'Cards and rolls' }).waitFor();
await page.goto(`${address}/productions`);
await page.getByRole('link', { name: 'Site' }).click();
await page.getByText('Takes every codec').waitFor();
await shot('site');
await page.goto(`${address}/productions`);
await page.getByRole('link', { name: /Salt Lantern/ }).click();
await page.getByRole('link', { name: /Hand-offs/ }).click();
const handOff = async (receiver) => {
  await page.getByRole('button', { name: 'Hand off…', exact: true }).click();
  await page.getByRole('form').getByLabel('For').fill(receiver);
  await page.getByText('Will go').waitFor();
  await page.waitForTimeout(1_500);
};
await handOff('The edit');
await page.getByRole('button', { name: /^Copy \d+ files/ }).click();
await page.getByText(/files proved/).waitFor({ timeout: 60_000 });
await page.getByRole('link', { name: /Hand-offs/ }).click();
await handOff('The online');
await shot('handoffs');
await page.keyboard.press('Escape');
await page.getByRole('link', { name: /Checks/ }).click();
await page.keyboard.press('t');
await shot('checks-chalk');
await page.getByRole('link', { name: /Hand-offs/ }).click();
await page.getByRole('link', { name: 'SALT LANTERN 1' }).click();
await page.getByRole('listbox', { name: 'Events' }).waitFor();
await page.keyboard.press(']');
await page.getByRole('img', { name: /last frame that is needed/ }).waitFor();
await pictured();
await shot('cut-chalk');

await browser.close();
site.kill('SIGINT');
await new Promise((resolve) => site.once('close', resolve));
rmSync(home, { recursive: true, force: true });
