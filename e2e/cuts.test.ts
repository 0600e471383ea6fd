import { rename, rm } from 'node:fs/promises';
import { join } from 'node:path';
import type { ChangesAnswer, CutLine, CutVersion, RehearsalAnswer, SwapProof } from '@relay/contract/cuts';
import type { RunAnswer } from '@relay/contract/runs';
import type { ClipsAnswer } from '@relay/contract/clips';
import { demoCuts } from '@relay/demo/cuts';
import type { Locator, Page } from 'playwright-core';
import { beforeAll, describe, expect, it } from 'vitest';
import { ffmpegMakes } from '../testing/commands.ts';
import { until, type Site } from '../testing/site.ts';
import { useDemoSite } from './demoSite.ts';

const demo = useDemoSite();
let site: Site;
let page: Page;
let production: string;
beforeAll(() => {
  ({ site, page, production } = demo());
});

/** Brings a list in as a page does: its bytes as they are. */
async function bring(text: string, query: Record<string, string>): Promise<Response> {
  return fetch(`${site.address}/api/productions/${production}/cuts?${new URLSearchParams(query)}`, {
    method: 'POST',
    headers: { 'content-type': 'application/octet-stream' },
    body: text,
  });
}
const [first, second] = demoCuts.map(({ content }) => content()) as [string, string];
const tried = (version: string): Promise<RehearsalAnswer> =>
  site.api<RehearsalAnswer>(`/cut-versions/${version}/rehearsal`);
const grades = ({ events }: RehearsalAnswer): string[] =>
  events.map(
    ({ grade, original, frames }) =>
      `${grade} ${original?.stem ?? '-'} ${frames ? `${frames.from}-${frames.to}` : '-'}`,
  );

describe('a cut', () => {
  let one: CutVersion;

  it('of the demo is there from the first day, in two versions', async () => {
    const [known] = await cuts();
    expect(known).toMatchObject({ name: 'SALT LANTERN 1', versions: [{ number: 2 }, { number: 1 }] });
    await fetch(`${site.address}/api/cuts/${known?.id}`, { method: 'DELETE' });
  });

  it('is brought in, kept as it came, and tried against the originals', async () => {
    const answer = await bring(first, { name: 'salt-lantern-1.edl' });
    expect(answer.status).toBe(201);
    one = (await answer.json()) as CutVersion;
    expect(one).toMatchObject({ number: 1, form: 'edl', events: 6 });
    const rehearsal = await tried(one.id);
    expect(rehearsal.rate).toBe('23.976');
    expect(grades(rehearsal)).toEqual([
      'exact A001C003 12-52',
      'exact A001C004 6-36',
      'nearly B001C001 4-28',
      'exact C001C011 6-30',
      'none - -',
      'exact C001C012 2-22',
    ]);
    const list = await fetch(`${site.address}/api/cut-versions/${one.id}/list`);
    expect(await list.text()).toBe(first);
  });

  it('is answered by a person; the answer holds for its next version, and is taken back', async () => {
    const { lines } = await site.api<ClipsAnswer>(`/productions/${production}/clips`);
    const ferry = lines.find(({ stem }) => stem === 'A001C003')?.id as string;
    await site.api(`/cut-versions/${one.id}/answer`, { event: 4, clip: ferry, at: 20 });
    expect(grades(await tried(one.id))[4]).toBe('said A001C003 20-56');
    const two = (await (
      await bring(second, { name: 'salt-lantern-2.otio', cut: (await cuts())[0]?.id ?? '' })
    ).json()) as CutVersion;
    expect(two).toMatchObject({ number: 2, form: 'otio' });
    expect(grades(await tried(two.id))[5]).toBe('said A001C003 20-56');
    const { changes, newSeconds } = await site.api<ChangesAnswer>(`/cut-versions/${two.id}/changes`);
    expect(changes.map(({ kind }) => kind)).toContain('trimmed');
    expect(newSeconds).toBeGreaterThan(0.5);
    expect(await site.api(`/cut-versions/${one.id}/changes`)).toBeNull();
    await site.api(`/cut-versions/${two.id}/answer`, { event: 5, clip: null, at: null });
    expect(grades(await tried(one.id))[4]).toBe('none - -');
  });

  it('says what is missing as a table and as a text, and is written in other forms', async () => {
    const get = async (path: string): Promise<string> =>
      (await fetch(`${site.address}/api/cut-versions/${one.id}/${path}`)).text();
    expect(await get('missing?to=text')).toContain('E001\n  17:31:04:00 to 17:31:05:12, E001C007 (event 005)');
    expect((await get('missing?to=csv')).split('\r\n')[1]).toMatch(/^B001C00,,,10:04:27:06/);
    expect(JSON.parse(await get('rewritten?to=otio'))).toMatchObject({ OTIO_SCHEMA: 'Timeline.1' });
    expect(await get('rewritten?to=edl')).toContain('TITLE: SALT LANTERN 1');
  });

  it('is refused in words where it is none, or not this rate, or of another production', async () => {
    const refusals = [
      await bring('no list at all', { name: 'letter.txt' }),
      await bring(first, { name: 'a.edl', rate: 'fast' }),
      await bring(first, { name: 'a.edl', cut: crypto.randomUUID() }),
    ];
    expect(refusals.map(({ status }) => status)).toEqual([400, 400, 404]);
    for (const one of refusals)
      expect(((await one.json()) as { error: { what: string } }).error.what.length).toBeGreaterThan(10);
    expect(await cuts()).toHaveLength(1);
  });

  it('is called by its letters alone', async () => {
    const answer = await bring(first.replace('SALT LANTERN 1', 'SALT\u0000LANTERN'), { name: 'night.edl' });
    expect(answer.status).toBe(201);
    const [made] = await cuts();
    expect(made).toMatchObject({ name: 'SALT LANTERN', versions: [{ fileName: 'night.edl' }] });
    expect((await tried(made?.versions[0]?.id ?? '')).counts.exact).toBe(4);
    await fetch(`${site.address}/api/cuts/${made?.id}`, { method: 'DELETE' });
  });

  it('shows originals at a frame, and is forgotten with all its versions', async () => {
    const { lines } = await site.api<ClipsAnswer>(`/productions/${production}/clips`);
    const picture = await fetch(`${site.address}/api/clips/${lines[0]?.id}/picture?frame=9`);
    expect(picture.headers.get('content-type')).toBe('image/jpeg');
    const [only] = await cuts();
    await fetch(`${site.address}/api/cuts/${only?.id}`, { method: 'DELETE' });
    expect(await cuts()).toEqual([]);
  });
});

const cuts = (): Promise<CutLine[]> => site.api<CutLine[]>(`/productions/${production}/cuts`);

describe('the page of a cut', () => {
  const row = (number: string): Locator => page.getByRole('option').filter({ hasText: number });

  it('opens on the list that is brought in, and shows every event in its grade', async () => {
    await page.goto(`${site.address}/p/${production}/handoffs`);
    await page.getByText('When an edit list comes back').waitFor();
    await page.getByLabel('Edit list').setInputFiles({
      name: 'salt-lantern-1.edl',
      mimeType: 'text/plain',
      buffer: Buffer.from(first),
    });
    await page.getByRole('heading', { name: 'SALT LANTERN 1', level: 1 }).waitFor();
    await page
      .getByRole('img', { name: 'The cut against its record: 4 found, 1 nearly, 0 several, 1 not found' })
      .waitFor();
    await row('005').getByText('not found').waitFor();
    await page.getByRole('button', { name: '1 nearly' }).click();
    expect(await page.getByRole('option').count()).toBe(1);
    await page.getByRole('button', { name: /^All/ }).click();
  });

  it('is gone through by keys, and an event is answered', async () => {
    await page.keyboard.press(']');
    const docket = page.getByRole('complementary', { name: 'Event' });
    await docket.getByText('Its reel B001C001 is cut to B001C00 in the list').waitFor();
    await until('its pictures', async () =>
      page.evaluate(() =>
        [...document.querySelectorAll<HTMLImageElement>('aside img')].every((one) => one.naturalWidth > 0),
      ),
    );
    await docket.getByRole('button', { name: 'It is B001C001' }).click();
    await row('003').getByText('as somebody said').waitFor();
    await page.keyboard.press(']');
    await docket.getByText('No original here has the reel E001').waitFor();
    await docket.getByLabel('Original, by its name').fill('C0012');
    await docket.getByText('No original is called so').waitFor();
    await docket.getByLabel('Original, by its name').fill('C001C012');
    await docket.getByRole('radio').click();
    await docket.getByLabel('Frame of the original that the event begins with').fill('999');
    await docket.getByRole('button', { name: 'It is this one' }).click();
    await page.getByText('C001C012.mov has 36 frames').waitFor();
    await docket.getByLabel('Frame of the original that the event begins with').fill('4');
    await docket.getByRole('button', { name: 'It is this one' }).click();
    await row('005').getByText('as somebody said').waitFor();
    await docket.getByRole('button', { name: 'Take the answer back' }).click();
    await row('005').getByText('not found').waitFor();
    await page.getByRole('button', { name: '5 found' }).waitFor();
  });

  it('is printed with all that asks for somebody, and nothing else', async () => {
    const paper = page.getByRole('region', { name: 'Rehearsal on paper' });
    expect(await paper.isVisible()).toBe(false);
    await page.emulateMedia({ media: 'print' });
    await paper.getByText('5 found, 0 nearly, 0 several, 1 not found.').waitFor();
    expect(await paper.getByRole('row').allTextContents()).toHaveLength(2);
    expect(await page.getByRole('listbox', { name: 'Events' }).isVisible()).toBe(false);
    expect(await page.getByRole('complementary', { name: 'Event' }).isVisible()).toBe(false);
    await page.emulateMedia({ media: 'screen' });
  });

  it('holds the next version against it, with what was said carried over', async () => {
    await page.goto(`${site.address}/p/${production}/handoffs`);
    await page.getByRole('button', { name: 'Next version of SALT LANTERN 1…' }).click();
    await page.getByLabel('Edit list').setInputFiles({
      name: 'salt-lantern-2.otio',
      mimeType: 'application/json',
      buffer: Buffer.from(second),
    });
    await page.getByRole('navigation', { name: 'Versions' }).getByText('Version 2').waitFor();
    await page.getByText(/changes since version 1; .* s of originals are newly needed/).click();
    await page.getByRole('list', { name: 'Changes' }).getByText('P000_0007 is new').waitFor();
    await row('004').getByText('as somebody said').waitFor();
  });

  it('takes its next version from a store too', async () => {
    await page.goto(`${site.address}/p/${production}/handoffs`);
    await page.getByRole('button', { name: 'From a store…' }).click();
    await page.getByLabel('Brought in as').selectOption('next version of SALT LANTERN 1');
    await page.getByRole('button', { name: 'cuts', exact: true }).click();
    await page.getByLabel('File in this folder').fill('salt-lantern-1.edl');
    await page.getByRole('button', { name: 'Bring in', exact: true }).click();
    await page.getByRole('navigation', { name: 'Versions' }).getByText('Version 3').waitFor();
  });
});

describe('a pull', () => {
  let version: string;
  let run: string;

  it('says before it starts what it takes, and is a run of stretches', async () => {
    [version = ''] = (await cuts())[0]?.versions.filter(({ number }) => number === 1).map(({ id }) => id) ?? [];
    await page.goto(`${site.address}/p/${production}/handoffs/cuts/${version}`);
    await page.getByRole('button', { name: 'Pull…' }).click();
    const docket = page.getByRole('complementary', { name: 'Pull' });
    await docket.getByText('5 stretches of').waitFor();
    await docket.getByLabel('Handles').fill('6');
    // 12 to 52, 6 to 36, 4 to 28, 6 to 30 and 2 to 22, six more on each side where there are so many.
    await docket.getByText('5 stretches of 192 frames in all').waitFor();
    await docket.getByText('1 event of no clip here').waitFor();
    await docket.getByLabel('Name').fill('Pull at night');
    await docket.getByRole('button', { name: /^Start/ }).click();
    await page.waitForURL(/\/runs\//);
    run = page.url().split('/').at(-1) ?? '';
    const answer = (): Promise<RunAnswer> => site.api<RunAnswer>(`/runs/${run}`);
    await until('the pull to end', async () => (await answer()).endedAt);
    const { legs, legLines, pull } = await answer();
    expect(legs).toEqual({ proved: 5 });
    expect(pull).toEqual({ version, cut: 'SALT LANTERN 1', number: 1 });
    expect(legLines.flatMap(({ outputs }) => outputs.map(({ path }) => path)).sort()).toContain(
      'intermediate/day-1/A001/A001C003_10021114.mov',
    );
    // What is run next is proposed by what was run whole.
    expect(await site.api(`/productions/${production}/last-choice`)).toBeNull();
  });

  it('is swapped into the cut: lists on the new files, whose pictures are the originals’', async () => {
    await page.getByRole('link', { name: 'Swap into the cut' }).click();
    await page.getByRole('complementary', { name: 'Swap' }).getByRole('button', { name: 'Close' }).click();
    await page.getByRole('button', { name: 'Swap…' }).click();
    const docket = page.getByRole('complementary', { name: 'Swap' });
    await docket.getByText('5 of 6 events are on pulled files').waitFor();
    const link = await docket.getByRole('link', { name: 'EDL' }).getAttribute('href');
    const edl = await (await fetch(`${site.address}${link ?? ''}`)).text();
    expect(edl).toContain('A001     AA/V  C        10:02:11:20 10:02:13:04 01:00:00:00 01:00:01:08');
    expect(edl).toContain('/intermediate/day-1/A001/A001C003_10021114.mov');
    const paths = await (await fetch(`${site.address}/api/runs/${run}/swap/list?to=paths&deliverable=Proxy`)).text();
    expect(paths).toContain('/proxy/day-1/C001/C001C012_14224001.mov,day-1/C001/C001C012.mov');
    await docket.getByRole('button', { name: 'Prove the swap' }).click();
    await docket.getByText('5 of 5 pictures agree').waitFor();
    await docket.getByLabel('Made of').selectOption('Proxy');
    await docket.getByRole('button', { name: 'Prove the swap' }).click();
    await docket.getByText('5 of 5 pictures agree').waitFor();
  });

  it('is not proved where a file shows another frame, or is gone', async () => {
    const { folder, legLines } = await site.api<RunAnswer>(`/runs/${run}`);
    const pathOf = (name: string): string =>
      join(
        site.home,
        'demo/shuttle',
        folder,
        legLines.flatMap(({ outputs }) => outputs).find(({ path }) => path.includes(`proxy/day-1/A001/${name}`))
          ?.path ?? '',
      );
    const [shifted, gone] = [pathOf('A001C003'), pathOf('A001C004')];
    // Begins two frames later than it was made.
    const later = ['-vf', 'trim=start_frame=2,setpts=PTS-STARTPTS', '-an', '-c:v', 'prores_ks', '-profile:v', '0'];
    await ffmpegMakes('-i', shifted, ...later, `${shifted}.mov`);
    await rename(`${shifted}.mov`, shifted);
    await rm(gone);
    const proof = await site.api<SwapProof>(`/runs/${run}/swap/proof?deliverable=Proxy`);
    expect(proof.agree).toBe(3);
    expect(proof.events.filter(({ agrees }) => !agrees).map(({ number, why }) => `${number} ${why}`)).toEqual([
      '001 it shows the original’s frame 14, not 12',
      expect.stringMatching(/^002 .* has no picture at frame 6/),
    ]);
  });
});
