import type { ProductionAnswer } from '@relay/contract/site';
import type { Browser, Page } from 'playwright-core';
import { afterAll, beforeAll, expect, inject } from 'vitest';
import { startSite, until, type Site } from '../testing/site.ts';
import { openBrowser, openPage } from './browser.ts';

/** A site of a test file's own with the demo production, and a page of a browser on it. */
export interface DemoSite {
  site: Site;
  page: Page;
  /** The id of the demo production. */
  production: string;
}

/**
 * Starts a site and a browser before a file's tests, and ends both after them; errors that the page throws, or that its
 * own policy stops, fail the file.
 */
export function useDemoSite(): () => DemoSite {
  let made: DemoSite | null = null;
  let browser: Browser | undefined;
  const troubles: string[] = [];
  beforeAll(async () => {
    const [site, opened] = await Promise.all([startSite({ copyOf: inject('preparedSite') }), openBrowser()]);
    browser = opened;
    const page = await openPage(opened);
    page.on('pageerror', (error) => troubles.push(error.message));
    page.on('console', (message) => {
      if (message.type() === 'error' && /Content Security/.test(message.text())) troubles.push(message.text());
    });
    const production = (await site.api<ProductionAnswer[]>('/productions'))[0]?.id as string;
    made = { site, page, production };
    await until(
      'the clips',
      async () => (await site.api<ProductionAnswer>(`/productions/${production}`)).counts.clips === 12,
    );
  });
  afterAll(async () => {
    await browser?.close();
    await made?.site.stop();
    await made?.site.remove();
    expect(troubles).toEqual([]);
  });
  return () => {
    if (!made) throw new Error('the site is not there yet');
    return made;
  };
}
