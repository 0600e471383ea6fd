import type { ClipsAnswer } from '@relay/contract/clips';
import type { Page } from 'playwright-core';
import { beforeAll, describe, expect, it } from 'vitest';
import type { Site } from '../testing/site.ts';
import { useDemoSite } from './demoSite.ts';

const demo = useDemoSite();
let site: Site;
let page: Page;
let production: string;
beforeAll(() => {
  ({ site, page, production } = demo());
});

const clipOf = async (stem: string): Promise<string> => {
  const { lines } = await site.api<ClipsAnswer>(`/productions/${production}/clips`);
  return lines.find((line) => line.stem === stem)?.id ?? '';
};

describe('numbers', () => {
  it('are kept as a person types them, key by key, and step by arrow and wheel', async () => {
    const clip = await clipOf('A001C003');
    await page.goto(`${site.address}/p/${production}/bench/${clip}`);
    await page.getByLabel('Add a step').selectOption('cdl');
    await page.getByRole('button', { name: 'Balance', exact: true }).click();
    const slope = page.getByRole('spinbutton', { name: 'Red slope' });
    await slope.click();
    await page.keyboard.press('Control+A');
    await page.keyboard.type('0.9');
    expect(await slope.inputValue()).toBe('0.9');
    const offset = page.getByRole('spinbutton', { name: 'Red offset' });
    await offset.click();
    await page.keyboard.press('Control+A');
    await page.keyboard.type('-0.05');
    expect(await offset.inputValue()).toBe('-0.05');
    await page.keyboard.press('Tab');
    expect([await slope.inputValue(), await offset.inputValue()]).toEqual(['0.9', '-0.05']);
    expect(await offset.getAttribute('aria-valuenow')).toBe('-0.05');
    await slope.focus();
    await page.keyboard.press('ArrowUp');
    expect(await slope.inputValue()).toBe('0.91');
    await slope.hover();
    await page.mouse.wheel(0, 100);
    await page.waitForFunction(
      () => document.querySelector<HTMLInputElement>('[aria-label="Red slope"]')?.value === '0.9',
    );
  });

  it('that do not fit stay, say why, and come back by Escape', async () => {
    const slope = page.getByRole('spinbutton', { name: 'Green slope' });
    await slope.click();
    await page.keyboard.press('Control+A');
    await page.keyboard.type('9');
    await page.keyboard.press('Tab');
    expect(await slope.inputValue()).toBe('9');
    expect(await slope.getAttribute('aria-invalid')).toBe('true');
    await page.getByRole('alert').filter({ hasText: 'Takes 0 to 4' }).waitFor();
    await slope.focus();
    await page.keyboard.press('Escape');
    expect(await slope.inputValue()).toBe('1');
    expect(await page.getByRole('alert').filter({ hasText: 'Takes' }).count()).toBe(0);
  });

  it('are never nothing by being emptied: a quality stays until another is typed', async () => {
    await page.goto(`${site.address}/p/${production}/recipes`);
    await page.getByRole('button', { name: /Finish and cut/ }).click();
    const quality = page.getByRole('spinbutton', { name: 'Quality of the proxy' });
    const before = await quality.inputValue();
    await quality.click();
    await page.keyboard.press('Control+A');
    await page.keyboard.press('Backspace');
    expect(await quality.inputValue()).toBe('');
    await page.keyboard.press('Tab');
    await page.getByRole('alert').filter({ hasText: 'A number is wanted' }).waitFor();
    expect(await quality.getAttribute('aria-valuenow')).toBe(before);
    await quality.focus();
    await page.keyboard.type('27');
    await page.keyboard.press('Enter');
    expect(await quality.getAttribute('aria-valuenow')).toBe('27');
  });
});
