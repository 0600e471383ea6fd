import { readdir, readFile, rename, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { HandedAnswer, HandedLine } from '@relay/contract/handoffs';
import type { ClipsAnswer } from '@relay/contract/clips';
import type { RecipeAnswer } from '@relay/contract/recipes';
import type { RunAnswer } from '@relay/contract/runs';
import type { StoreAnswer } from '@relay/contract/site';
import { verifyFolder } from '@relay/work/custody/verify';
import type { Page } from 'playwright-core';
import { beforeAll, describe, expect, it } from 'vitest';
import { hashFile } from '@relay/work/disk/hash';
import { call, scratchFolder } from '../testing/commands.ts';
import { until, type Site } from '../testing/site.ts';
import { useDemoSite } from './demoSite.ts';

/** A run is handed to somebody: chosen, checked, copied, and what they hold is known the next time. */

const demo = useDemoSite();
let site: Site;
let page: Page;
let production: string;
let shuttle: string;

async function ran(name: string, stems: readonly string[]): Promise<void> {
  const { lines } = await site.api<ClipsAnswer>(`/productions/${production}/clips?filter=C001`);
  const recipes = await site.api<RecipeAnswer[]>('/recipes');
  const { id } = await site.api<RunAnswer>(`/productions/${production}/runs`, {
    clips: lines.filter(({ stem }) => stems.includes(stem)).map((line) => line.id),
    recipe: recipes.find(({ definition }) => definition.name === 'Finish and cut')?.id,
    store: 'shuttle',
    folder: 'made',
    name,
    asTheyAre: true,
  });
  await until('the run', async () => (await site.api<RunAnswer>(`/runs/${id}`)).endedAt !== null);
}

beforeAll(async () => {
  ({ site, page, production } = demo());
  shuttle = (await site.api<StoreAnswer[]>('/stores')).find(({ id }) => id === 'shuttle')?.path ?? '';
  await ran('First night', ['C001C012']);
});

const docket = () => page.getByRole('form', { name: 'Hand off' });

/** The docket of a new hand-off for somebody, once it says what it comes to. */
async function opened(receiver: string): Promise<void> {
  await page.goto(`${site.address}/p/${production}/handoffs`);
  await page.getByRole('button', { name: 'Hand off…', exact: true }).click();
  await docket().getByLabel('For').fill(receiver);
  await docket().getByText('Will go').waitFor();
}

describe('a hand-off', () => {
  it('shows what it comes to, is copied and proved, and says the two folders to exchange on their machines', async () => {
    await opened('The edit');
    await docket().getByText('1 of 1 pairs of proxy and intermediate swap by path').waitFor();
    await docket().getByText('Where the drive lies on their machines').click();
    await docket().getByLabel('Windows').fill('E:\\');
    expect(await docket().getByLabel('Called').inputValue()).toBe('The edit 1');
    expect(await docket().getByLabel('Folder').inputValue()).toBe('hand-offs/the-edit');
    await docket()
      .getByRole('button', { name: /^Copy 2 files, / })
      .click();
    await page.getByText('2 files proved', { exact: false }).waitFor();
    await page.getByText('E:\\intermediate', { exact: true }).waitFor();
    const at = join(shuttle, 'hand-offs/the-edit');
    expect(await verifyFolder(at, { record: false })).toMatchObject({ verified: true, files: 6 });
    expect(await readFile(join(at, 'READ ME.txt'), 'utf8')).toContain('Salt Lantern, for The edit');
  });

  it('sends nothing again that they hold; what there is new goes, and what is lost is named and goes on', async () => {
    await opened('the edit');
    await docket().getByText('2 of what is chosen, as it is now: not sent again').waitFor();
    expect(await docket().getByRole('button', { name: 'Copy and prove' }).isDisabled()).toBe(true);
    await ran('Second night', ['C001C011']);
    const lost = join(shuttle, 'made/proxy/day-1/C001/C001C011.mov');
    await rename(lost, `${lost}.away`);
    await opened('The edit');
    await until('their next number', async () => (await docket().getByLabel('Called').inputValue()) === 'The edit 2');
    await docket()
      .getByRole('button', { name: /^Copy 2 files, / })
      .click();
    await page.getByRole('heading', { name: 'Left behind: 1' }).waitFor();
    await page.getByText('C001C011.mov is not where it was made (any more)', { exact: false }).waitFor();
    await rename(`${lost}.away`, lost);
    await page.getByRole('button', { name: 'Go on' }).click();
    await page.getByText('2 files proved', { exact: false }).waitFor();
    await page.goto(`${site.address}/p/${production}/handoffs`);
    const row = page.getByRole('row', { name: /^The edit/ });
    await row.getByText('2 of 2').waitFor();
    expect(await page.getByRole('list').getByText('2 files proved', { exact: false }).count()).toBe(2);
  });

  it('comes back with an edit list on it, which goes to the cuts in one step', async () => {
    const [first] = (await readdir(join(shuttle, 'hand-offs/the-edit/proxy/day-1/C001'))).sort();
    expect(first).toBe('C001C011.mov');
    const list = [
      'TITLE: LOCKED',
      'FCM: NON-DROP FRAME',
      '001 C001 V C 14:20:02:20 14:20:03:00 10:00:00:00 10:00:00:04',
      '',
    ];
    await writeFile(join(shuttle, 'hand-offs/the-edit/locked.edl'), list.join('\r\n'));
    await page.getByRole('link', { name: 'The edit 2' }).click();
    await page.getByRole('button', { name: 'Verify the drive' }).click();
    await page.getByText('On it, and not sent: 1').waitFor();
    await page.getByRole('heading', { name: /files as they were sent/ }).waitFor();
    await page.getByRole('button', { name: 'To the cuts: locked.edl' }).click();
    await page.waitForURL(/handoffs\/cuts\//);
    await page.getByRole('heading', { name: /LOCKED|locked/, level: 1 }).waitFor();
  });

  it('is downloaded whole, resumed where it broke off, and file by file; each time is in its history', async () => {
    const [second, first] = await site.api<HandedLine[]>(`/productions/${production}/handed`);
    const of = `${site.address}/api/handed/${first?.id ?? ''}`;
    const whole = await fetch(`${of}/all`);
    const bytes = Buffer.from(await whole.arrayBuffer());
    expect(bytes.length).toBe(Number(whole.headers.get('content-length')));
    const folder = await scratchFolder();
    const archive = join(folder, 'all.zip');
    await writeFile(archive, bytes);
    // Python's zipfile reads it, checks every sum, and finds nothing packed.
    const said = await call('python3', [
      '-c',
      'import sys, zipfile; z = zipfile.ZipFile(sys.argv[1]); assert z.testzip() is None; z.extractall(sys.argv[2]); print(*[f"{i.compress_type} {i.filename}" for i in z.infolist()], sep="\\n")',
      archive,
      folder,
    ]);
    expect(said.stdout.trim().split('\n').sort()).toEqual([
      '0 READ ME.txt',
      '0 clips.otio',
      '0 intermediate/day-1/C001/C001C012.mov',
      '0 proxy/day-1/C001/C001C012.mov',
      '0 relink.csv',
      '0 relink.json',
    ]);
    const made = join(shuttle, 'made/proxy/day-1/C001/C001C012.mov');
    expect(await hashFile(join(folder, 'proxy/day-1/C001/C001C012.mov'))).toBe(await hashFile(made));
    // Broken off in the middle, it goes on from there.
    const at = Math.floor(bytes.length / 2) + 1;
    const rest = await fetch(`${of}/all`, {
      headers: { range: `bytes=${at}-`, 'if-range': whole.headers.get('etag') ?? '' },
    });
    expect([rest.status, rest.headers.get('content-range')]).toEqual([
      206,
      `bytes ${at}-${bytes.length - 1}/${bytes.length}`,
    ]);
    expect(Buffer.from(await rest.arrayBuffer()).equals(bytes.subarray(at))).toBe(true);
    expect((await fetch(`${of}/all`, { headers: { range: `bytes=${bytes.length}-` } })).status).toBe(400);
    // What is no longer the same is sent from its beginning.
    expect((await fetch(`${of}/all`, { headers: { range: 'bytes=9-', 'if-range': '"other"' } })).status).toBe(200);

    const one = await fetch(`${of}/files/0`, { headers: { range: 'bytes=4-11' } });
    expect([one.status, (await one.arrayBuffer()).byteLength]).toEqual([206, 8]);
    // Neither what lies elsewhere, nor what is another hand-off's.
    for (const place of ['..%2F..%2Fetc%2Fpasswd', '-1', '2', '0x0', '99999999'])
      expect((await fetch(`${of}/files/${place}`)).status, place).toBe(404);
    const { events } = await site.api<HandedAnswer>(`/handed/${first?.id ?? ''}`);
    expect(events.filter(({ what }) => what === 'Downloads all of it')).toHaveLength(1);
    await page.goto(`${site.address}/p/${production}/handoffs/${second?.id ?? ''}`);
    const got = page.waitForEvent('download');
    await page.getByRole('link', { name: 'Download all' }).click();
    expect((await got).suggestedFilename()).toBe('The edit 2.zip');
    await page.getByRole('link', { name: /^Download proxy/ }).waitFor();
  });

  it('says what keeps it from a place, and from a receiver’s system', async () => {
    await opened('The client');
    await docket().getByLabel('Folder').fill('made');
    await docket().getByText('made is where the outputs lie themselves').waitFor();
    await docket().getByLabel('Folder').fill('what: this?');
    await docket()
      .getByText(/^Their system refuses/)
      .waitFor();
    await docket().getByLabel('Folder').fill('../elsewhere');
    await docket().getByText('leads out of the folder', { exact: false }).waitFor();
    expect(await docket().getByRole('button', { name: /^Copy/ }).isDisabled()).toBe(true);
    await page.keyboard.press('Escape');
    await until('closed', async () => (await docket().count()) === 0);
  });
});
