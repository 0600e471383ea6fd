import type { Locator, Page } from 'playwright-core';

/** Draws one thing onto another as slowly as a hand does: the page says on the way where it would be let go. */
export async function drawOnto(page: Page, from: Locator, to: Locator): Promise<void> {
  const [start, end] = [await from.boundingBox(), await to.boundingBox()];
  if (!start || !end) throw new Error('one of the two is not on the page');
  const x = start.x + start.width / 2;
  const [y, until] = [start.y + start.height / 2, end.y + end.height / 2];
  await page.mouse.move(x, y);
  await page.mouse.down();
  for (let step = 1; step <= 8; step += 1) {
    await page.mouse.move(x, y + ((until - y) * step) / 8);
    await page.waitForTimeout(40);
  }
  await page.mouse.up();
}
