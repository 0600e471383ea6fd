import { rm } from 'node:fs/promises';
import type { ClipsAnswer } from '@relay/contract/clips';
import type { ProductionAnswer } from '@relay/contract/site';
import type { TestProject } from 'vitest/node';
import { startSite, until } from './site.ts';
import { setup as paint } from './setup.ts';

declare module 'vitest' {
  export interface ProvidedContext {
    /** Home of a stopped site with the demo in it, every clip looked at closely. */
    preparedSite: string;
  }
}

/** Two groups of tests want it: it is made once. */
const shared = globalThis as { preparedSite?: Promise<string> };

async function prepare(): Promise<string> {
  const site = await startSite();
  const [production] = await site.api<ProductionAnswer[]>('/productions');
  await until('every clip to be looked at', async () => {
    const { lines } = await site.api<ClipsAnswer>(`/productions/${production?.id ?? ''}/clips`);
    return lines.length > 0 && lines.every((line) => line.looked);
  });
  await site.stop();
  return site.home;
}

/** Makes a site that browser tests take copies of, so that not each of them reads and looks at the demo anew. */
export async function setup({ provide }: TestProject): Promise<() => Promise<void>> {
  await paint();
  shared.preparedSite ??= prepare();
  const home = await shared.preparedSite;
  provide('preparedSite', home);
  return () => rm(home, { recursive: true, force: true });
}
