import { chromium } from 'playwright-core';
import { tell } from '@relay/server/live/notify';
import { claimForemost, endLeg, renewLease } from '@relay/server/runs/claims';
import type { DataSource } from 'typeorm';
import { secondsSince } from '../numbers.ts';

/** The run's page in headless Chromium: until its lanes stand, and frames while it is scrolled and legs come and go. */
export async function runPageSmoothness(db: DataSource, at: string, production: string, run: string): Promise<void> {
  const browser = await chromium.launch({ executablePath: '/usr/bin/chromium', args: ['--no-sandbox'] });
  try {
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
    const from = performance.now();
    await page.goto(`${at}/p/${production}/runs/${run}`);
    await page.getByRole('listbox', { name: 'Legs' }).getByRole('option').first().waitFor();
    console.log(`lanes stand after ${secondsSince(from).toFixed(2)} s`);
    for (const busy of [false, true]) {
      let going = busy;
      let ended = 0;
      // A farm that ends a leg every half second, and tells of its progress in between.
      const farm = (async (): Promise<void> => {
        while (going) {
          const leg = await claimForemost(db, 'farm');
          if (!leg) return;
          for (const framesDone of [30, 60, 90]) {
            await renewLease(db, leg.id, 'farm', { state: 'running', framesDone, framesTotal: 100, speed: 1 });
            await tell(db, { kind: 'leg', run, leg: leg.id, state: 'running', framesDone, framesTotal: 100, speed: 1 });
            await new Promise((resolve) => setTimeout(resolve, 150));
          }
          await endLeg(db, leg.id, 'farm', { state: 'proved', problem: null, outputs: [] });
          await tell(db, {
            kind: 'leg',
            run,
            leg: leg.id,
            state: 'proved',
            framesDone: 100,
            framesTotal: 100,
            speed: null,
          });
          ended += 1;
        }
      })();
      await page.evaluate(() => {
        const seen: number[] = [];
        Object.assign(globalThis, { seen });
        let last = performance.now();
        const each = (now: number): void => {
          seen.push(now - last);
          last = now;
          requestAnimationFrame(each);
        };
        requestAnimationFrame(each);
      });
      await page.getByRole('listbox', { name: 'Legs' }).hover();
      let blank = 0;
      for (let step = 0; step < 60; step += 1) {
        await page.mouse.wheel(0, 400);
        await page.waitForTimeout(100);
        if ((await page.getByRole('listbox', { name: 'Legs' }).getByRole('option').count()) === 0) blank += 1;
      }
      const gaps = (await page.evaluate(() => (globalThis as unknown as { seen: number[] }).seen)).sort(
        (a, b) => a - b,
      );
      going = false;
      await farm;
      console.log(
        `${busy ? `while ${ended} legs end` : 'while nothing runs'}: ${gaps.length} frames, 95 % within ${gaps[Math.floor(gaps.length * 0.95)]?.toFixed(0)} ms, longest ${gaps.at(-1)?.toFixed(0)} ms; ${blank} of 60 looks found no row`,
      );
    }
  } finally {
    await browser.close();
  }
}
