import type { InletAnswer, InletLine } from '@relay/contract/inlets';
import { chmod, copyFile, mkdir, readdir, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { Page } from 'playwright-core';
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

const inlets = (): Promise<InletLine[]> => site.api<InletLine[]>(`/productions/${production}/inlets`);
const inletCalled = async (name: string): Promise<InletAnswer> => {
  const line = (await inlets()).find(({ definition }) => definition.name === name);
  return site.api<InletAnswer>(`/inlets/${line?.id ?? ''}`);
};
const estuary = (...path: string[]): string => join(site.home, 'demo', 'estuary', ...path);

describe('an inlet', () => {
  it('is made by keyboard in under a minute, and not while something in it is half typed', async () => {
    await page.goto(`${site.address}/p/${production}/arrivals`);
    await page.getByRole('link', { name: 'Inlets' }).click();
    await page.getByRole('button', { name: /New inlet/ }).waitFor();
    await page.keyboard.press('i');
    await page.getByLabel('Name', { exact: true }).fill('Night drop');
    await page.getByText('It is not there yet: it is made with the inlet.').waitFor();
    const quiet = page.getByRole('spinbutton', { name: /Quiet for/ });
    await quiet.fill('0');
    await quiet.press('Tab');
    expect(await quiet.getAttribute('aria-invalid')).toBe('true');
    await quiet.fill('2');
    await page.getByText('More for this inlet').press('Enter');
    await page.getByPlaceholder('[name 1-4]').fill('[nme]');
    await page.getByRole('alert').filter({ hasText: 'Before' }).waitFor();
    expect(await page.getByRole('button', { name: 'Make the inlet' }).isDisabled()).toBe(true);
    await page.getByPlaceholder('[name 1-4]').fill('[name 1-4]');
    await page.getByLabel('Originals that are dealt with').selectOption({ label: 'go into done or left' });
    await page.getByLabel('A receipt beside each').selectOption({ label: 'text, for people' });
    for (const finding of ['No timecode', 'Rate varies']) {
      await page.getByRole('button', { name: /^Waits for a person all the same/ }).click();
      await page.keyboard.type(finding);
      await page.keyboard.press('Enter');
    }
    await page.getByRole('button', { name: 'Rate varies: as the others' }).click();
    await page.getByLabel('Name', { exact: true }).press('Enter');
    await page.getByRole('region', { name: 'Night drop' }).waitFor();
    expect((await inletCalled('Night drop')).definition).toMatchObject({
      quietSeconds: 2,
      before: { colour: null, squeeze: null, reel: '[name 1-4]' },
      decideRules: { noTimecode: 'wait' },
      after: { originals: 'move', receipts: ['text'] },
      source: { folders: [{ store: 'estuary-raid', folder: 'salt-lantern-inlet-2' }] },
    });
    expect(await readdir(estuary('salt-lantern-inlet-2'))).toEqual([]);
  });

  it('shows what waits and why, makes it, names what it leaves, and leads to its run', async () => {
    await mkdir(estuary('salt-lantern-inlet-2', 'half'));
    // The site has an account of its own.
    await chmod(estuary('salt-lantern-inlet-2', 'half'), 0o777);
    await writeFile(estuary('salt-lantern-inlet-2', 'half', 'broken.mov'), 'no clip, but long enough to be looked at');
    await copyFile(
      estuary('salt-lantern', 'day-1', 'S009', 'S009C001.mov'),
      estuary('salt-lantern-inlet-2', 'S009C001.mov'),
    );
    await page.getByText('S009C001.mov changed a moment ago').waitFor();
    await page.getByText(/broken\.mov (is|has|cannot|holds|ends)/).waitFor();
    await page.getByRole('img', { name: '1 proved' }).waitFor();
    await page
      .getByRole('button', { name: /Night drop/ })
      .getByText('1 made today')
      .waitFor();
    // Whatever page is open is told, and leads back to it.
    await page.getByRole('link', { name: 'Cards and rolls' }).click();
    await page.getByText('1 made, 1 left').waitFor();
    await page.getByRole('button', { name: 'Look', exact: true }).click();
    await page.getByText(/^All made, \d\d:\d\d; lies in done now$/).waitFor();
    await page.getByText(/^Not all made, \d\d:\d\d; lies in left now$/).waitFor();
    const there = await readdir(estuary('salt-lantern-inlet-2'), { recursive: true });
    expect(there.filter((name) => name.includes('.')).sort()).toEqual([
      'done/S009C001.mov',
      'done/S009C001.mov.receipt.txt',
      'left/half/broken.mov',
      'left/half/broken.mov.receipt.txt',
    ]);
    await page.getByRole('link', { name: /^Night drop \d\d:\d\d/ }).click();
    await page.getByRole('listbox', { name: 'Legs' }).waitFor();
    await page.getByText('S009C001').first().waitFor();
    const made = await readdir(join(site.home, 'demo/shuttle/salt-lantern-inlet-2-outputs'), { recursive: true });
    expect(made.filter((name) => name.endsWith('.mov')).sort()).toEqual([
      'intermediate/S009C001.mov',
      'proxy/S009C001.mov',
    ]);
  });

  it('is tried again, paused, changed and removed, and says no when it would feed itself', async () => {
    await page.goto(`${site.address}/p/${production}/arrivals/inlets`);
    await page
      .getByRole('list', { name: 'Inlets' })
      .getByRole('button', { name: /Night drop/ })
      .click();
    const broken = async () => (await inletCalled('Night drop')).things.find(({ key }) => key === 'half/broken.mov');
    const before = (await broken())?.id;
    await page.getByRole('button', { name: 'Try again' }).click();
    await until('it to be looked at again', async () => {
      const now = await broken();
      return now !== undefined && now.id !== before;
    });
    await page.keyboard.press('Space');
    await page.getByRole('button', { name: /Let it go on/ }).waitFor();
    await page.keyboard.press('e');
    await page.getByRole('form', { name: 'Change Night drop' }).waitFor();
    await page.getByLabel('Onto').selectOption({ label: 'Estuary RAID' });
    await page.getByLabel('Folder', { exact: true }).fill('salt-lantern-inlet-2/out');
    await page.getByRole('button', { name: 'Save' }).click();
    await page.getByText(/The outputs would lie among the originals/).waitFor();
    await page.keyboard.press('Escape');
    await page.getByRole('button', { name: 'Remove Night drop…' }).click();
    await page.getByRole('button', { name: 'Remove', exact: true }).click();
    await until('it to be gone', async () =>
      (await inlets()).every(({ definition }) => definition.name !== 'Night drop'),
    );
  });

  it('of the demo stands ready, paused, and a painted card is dropped into it', async () => {
    await page
      .getByRole('button', { name: /Ferry inlet/ })
      .first()
      .click();
    await page.getByText('While it is paused nothing is taken up').waitFor();
    await page.getByRole('button', { name: 'Drop a painted card' }).click();
    await page.getByText('A painted card is being copied in').waitFor();
    await page.getByRole('button', { name: /Let it go on/ }).click();
    const waits = page.getByRole('region', { name: 'What waits' });
    await waits
      .getByText(/^card-/)
      .first()
      .waitFor();
    // The card is one thing, whole before any of it is taken up.
    expect(await waits.getByRole('listitem').count()).toBe(1);
    expect((await inletCalled('Ferry inlet')).things).toEqual([]);
  });
});
