import type { Page } from 'playwright-core';

/** Chooses from a list that is searched, as a person does: opens it, types, takes the first that is found. */
export async function choose(page: Page, label: string, typed: string): Promise<void> {
  await page.getByRole('button', { name: `${label}: ` }).click();
  await page.getByPlaceholder('Type to find').fill(typed);
  await page.getByRole('option', { name: typed }).first().click();
}
