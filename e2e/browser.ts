import { chromium, type Browser } from 'playwright-core';

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
