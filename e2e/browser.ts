import { chromium, type Browser, type Page } from 'playwright-core';

/** Debian's Chromium, without a window and without asking the network for anything. */
export function openBrowser(): Promise<Browser> {
  return chromium.launch({
    executablePath: process.env.RELAY_CHROMIUM ?? '/usr/bin/chromium',
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
}

/** A page at the size that is designed for; what it waits for has as long as a machine ten times slower needs. */
export async function openPage(browser: Browser): Promise<Page> {
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
  page.setDefaultTimeout(240_000);
  return page;
}
