import type { BenchAnswer } from '@relay/contract/bench';
import type { LutLine } from '@relay/contract/colour';
import type { ClipsAnswer } from '@relay/contract/clips';
import type { Page } from 'playwright-core';
import { beforeAll, describe, expect, it } from 'vitest';
import type { Site } from '../testing/site.ts';
import { choose } from './choose.ts';
import { useDemoSite } from './demoSite.ts';

const demo = useDemoSite();
let site: Site;
let page: Page;
let production: string;
beforeAll(() => {
  ({ site, page, production } = demo());
});

const benchOf = async (stem: string): Promise<BenchAnswer> => {
  const { lines } = await site.api<ClipsAnswer>(`/productions/${production}/clips`);
  return site.api<BenchAnswer>(`/clips/${lines.find((line) => line.stem === stem)?.id ?? ''}/bench`);
};
const canvas = () => page.getByRole('img', { name: 'The picture before and after its chain' });
/** Bytes of what is drawn, for telling whether it changed. */
const drawn = async (): Promise<string> => (await canvas().screenshot()).toString('base64');

describe('the bench', () => {
  it('shows a log clip through its chain, drawn by the card as core computes it, to one code of 1023', async () => {
    await page.goto(`${site.address}/p/${production}/bench`);
    await page.getByRole('link', { name: /1920×1080 · 23.976p/ }).click();
    await canvas().waitFor();
    const before = await drawn();
    await choose(page, 'As the camera recorded', 'S-Log3, S-Gamut3.Cine');
    await choose(page, 'As it is looked at', 'BT.709');
    await page.getByLabel(/scene light shown/).check();
    await page.getByText('put in by itself').waitFor();
    await page.getByText(/^65³,/).waitFor();
    // The docket says how far the card lies from core; software GL computes in full floats.
    const differs = Number((await page.getByText(/of 1023 from core/).textContent())?.match(/([\d.]+) of 1023/)?.[1]);
    expect(differs).toBeLessThan(1);
    expect(await canvas().getAttribute('data-computed-by')).toBe('card');
    expect(await drawn()).not.toBe(before);
    expect(await page.getByText('Tried here only, not used yet').isVisible()).toBe(true);
  });

  it('measures both pictures and names codes under the pointer', async () => {
    const box = await canvas().boundingBox();
    // A place in the left picture's chart and the same one in the right: both panes give one sample.
    await page.mouse.move((box?.x ?? 0) + 150, (box?.y ?? 0) + 200);
    await page.getByText(/^\d+, \d+$/).waitFor();
    const left = await page.getByText(/^\d+, \d+$/).textContent();
    await page.mouse.move((box?.x ?? 0) + 150 + Math.floor((box?.width ?? 0) / 2), (box?.y ?? 0) + 200);
    expect(await page.getByText(/^\d+, \d+$/).textContent()).toBe(left);
    for (const kind of ['R G B', 'Colour', 'Counts', 'Luma']) {
      await page.getByRole('button', { name: kind, exact: true }).click();
      await page.getByRole('img', { name: /^Corrected: luma from \d+ to \d+/ }).waitFor();
    }
  });

  it('steps by keys and goes to a timecode', async () => {
    await page.getByText('frame 29 of 72').waitFor();
    await page.keyboard.press('ArrowRight');
    await page.keyboard.press('Shift+ArrowRight');
    await page.getByText('frame 40 of 72').waitFor();
    await page.keyboard.press('g');
    await page.keyboard.type('10021120');
    await page.keyboard.press('Enter');
    await page.getByText('10:02:11:20', { exact: true }).waitFor();
    await page.getByText('frame 13 of 72').waitFor();
    await page.keyboard.press('g');
    await page.keyboard.type('11:00:00:00');
    await page.keyboard.press('Enter');
    await page.getByText('that is not in this clip').waitFor();
    await page.keyboard.press('Escape');
  });

  it('draws the same by core alone', async () => {
    await page.mouse.move(2, 2);
    await page.getByRole('button', { name: 'after', exact: true }).click();
    await page.getByRole('button', { name: '200 %' }).click();
    const shot = async (): Promise<Buffer> => {
      // The frame asked for is there and drawn.
      await page.locator('[aria-busy=false]').filter({ has: canvas() }).waitFor();
      await page.waitForTimeout(1500);
      return canvas().screenshot();
    };
    const byCard = await shot();
    await page.getByRole('button', { name: 'use core' }).click();
    await page.getByText('core: asked for').waitFor();
    const byCore = await shot();
    const apart = await page.evaluate(
      async ([a, b]) => {
        const pixels = async (data: string): Promise<Uint8ClampedArray> => {
          const image = new Image();
          image.src = `data:image/png;base64,${data}`;
          await image.decode();
          const target = document.createElement('canvas');
          [target.width, target.height] = [image.width, image.height];
          const context = target.getContext('2d') as CanvasRenderingContext2D;
          context.drawImage(image, 0, 0);
          return context.getImageData(0, 0, image.width, image.height).data;
        };
        const [one, other] = [await pixels(a as string), await pixels(b as string)];
        let sum = 0;
        for (let i = 0; i < one.length; i += 1) sum += Math.abs((one[i] as number) - (other[i] as number));
        return sum / one.length;
      },
      [byCard.toString('base64'), byCore.toString('base64')],
    );
    expect(apart).toBeLessThan(1.5);
    await page.getByRole('button', { name: 'try the card' }).click();
    await page.getByRole('button', { name: 'side by side' }).click();
    await page.getByRole('button', { name: 'fit' }).click();
  });

  it('takes steps from the cabinet, moves and mutes them, and uses the chain on the group with an undo', async () => {
    await choose(page, 'Add a step', 'evening-balance');
    await page.getByRole('button', { name: 'Mute evening-balance' }).waitFor();
    await choose(page, 'Add a step', 'estuary-night');
    await page.getByText(/33-point cube, full range in and out/).waitFor();
    await page.getByRole('button', { name: 'estuary-night earlier' }).click();
    await page.getByRole('button', { name: 'estuary-night later' }).click();
    await page.getByRole('button', { name: 'Mute evening-balance' }).click();
    await page.getByRole('button', { name: 'Use on 2 clips' }).click();
    await page.getByText('Used on 2 clips').waitFor();
    expect(await benchOf('A001C004')).toMatchObject({
      from: { scope: 'group' },
      chain: {
        input: 'slog3-sgamut3cine',
        steps: [
          { name: 'evening-balance', muted: true },
          { name: 'estuary-night', muted: false },
        ],
      },
    });
    // What is tried next begins with what was used, and taking it back leaves that.
    await choose(page, 'Add a step', 'CDL');
    await page.getByRole('button', { name: 'Mute Balance' }).waitFor();
    await page.getByRole('button', { name: 'Mute estuary-night' }).waitFor({ timeout: 3_000 });
    await page.getByRole('button', { name: 'Take back' }).click();
    await page.getByRole('button', { name: 'Mute Balance' }).waitFor({ state: 'detached' });
    await page.getByRole('button', { name: 'Mute estuary-night' }).waitFor({ timeout: 3_000 });
    await page.getByRole('button', { name: 'Undo' }).click();
    await page.getByText('Undone').waitFor();
    expect((await benchOf('A001C004')).chain).toBeNull();
  });

  it('shows every clip of the group on a contact sheet', async () => {
    await page.getByRole('button', { name: 'Contact sheet' }).click();
    await page.getByRole('img', { name: 'A001C004 with this chain' }).waitFor();
    await page.getByLabel('Clips of').selectOption('production');
    await page.getByText('12 clips with this chain').waitFor();
    await page.getByRole('button', { name: 'Back to the clip' }).click();
  });
});

describe('the cabinet', () => {
  it('takes files in, names what is wrong with one, and shows what was found', async () => {
    await page.goto(`${site.address}/p/${production}/cabinet`);
    await page.getByRole('link', { name: /wharf-test/ }).click();
    await page.getByRole('button', { name: /Brighter greys come out darker/ }).click();
    await page.getByRole('img', { name: 'Response of greys and of each channel' }).waitFor();
    await page.getByLabel('LUT and CDL files').setInputFiles([
      { name: 'broken.cube', mimeType: 'text/plain', buffer: Buffer.from('LUT_1D_SIZE 2\n0 0 0\n0,5 0,5 0,5\n') },
      {
        name: 'lamp.cube',
        mimeType: 'text/plain',
        buffer: Buffer.from('TITLE "Night lamp"\nLUT_1D_SIZE 3\n0 0 0\n0.4 0.4 0.4\n1 1 1\n'),
      },
    ]);
    await page.getByText('broken.cube: line 3: 0,5 is written with a comma').waitFor();
    await page.getByRole('article', { name: 'lamp' }).waitFor();
    await page.getByLabel('Tags, with commas').fill('test, lamp');
    await page.getByRole('button', { name: 'Keep name and tags' }).click();
    await page.getByText('table of 3, titled Night lamp · test, lamp').waitFor();
    expect((await site.api<LutLine[]>('/luts')).find((lut) => lut.name === 'lamp')).toMatchObject({
      tags: ['test', 'lamp'],
    });
  });

  it('says in the recipe what becomes of the chain', async () => {
    await page.goto(`${site.address}/p/${production}/recipes`);
    await page.getByLabel('Colour of the intermediate').selectOption('brought');
    await page.getByRole('button', { name: 'Brought to: ' }).waitFor();
    await page.getByRole('button', { name: 'Keep', exact: true }).click();
    await page.getByText('version 2').first().waitFor();
    expect((await site.api<object[]>('/recipes'))[0]).toMatchObject({
      definition: { deliverables: [{ colour: { kind: 'brought', state: 'acescct' } }, { colour: { kind: 'baked' } }] },
    });
  });
});
