import type { LutLine } from '@relay/contract/colour';
import type { ClipsAnswer } from '@relay/contract/clips';
import type { ChecksAnswer, MeasuringAnswer } from '@relay/contract/checks';
import type { HandedAnswer } from '@relay/contract/handoffs';
import type { CutLine } from '@relay/contract/cuts';
import type { RunAnswer, RunLine } from '@relay/contract/runs';
import type { RecipeAnswer } from '@relay/contract/recipes';
import { until } from '../testing/site.ts';
import type { DemoSite } from './demoSite.ts';

/** Makes one clip's outputs, so that every page has something to show, and says every page's path by its name. */
export async function everyPage({ site, page, production }: DemoSite): Promise<Map<string, string>> {
  const of = `/productions/${production}`;
  const { lines } = await site.api<ClipsAnswer>(`${of}/clips`);
  const clip = lines.find((line) => line.stem === 'A001C003')?.id ?? '';
  const [recipe] = await site.api<RecipeAnswer[]>('/recipes');
  const [lut] = await site.api<LutLine[]>('/luts');
  const [cut] = await site.api<CutLine[]>(`${of}/cuts`);
  await page.goto(`${site.address}/p/${production}/clips`);
  await page.getByRole('row').filter({ hasText: 'A001C003' }).click();
  await page.keyboard.press('r');
  await page.getByRole('button', { name: /^Start(,|$)/, disabled: false }).waitFor();
  await page.keyboard.press('Enter');
  const run = await until('the run', async () => (await site.api<RunLine[]>(`${of}/runs`))[0]);
  const output = await until('an output', async () => (await site.api<ChecksAnswer>(`${of}/outputs`)).outputs[0]);
  await until('the run', async () => (await site.api<RunAnswer>(`/runs/${run.id}`)).endedAt !== null);
  await site.api(`/outputs/${output.id}/measuring`, { every: 4 });
  await until('what was measured', async () => {
    const { measuring } = await site.api<MeasuringAnswer>(`/outputs/${output.id}/measuring`);
    return measuring?.state === 'measured';
  });
  const { id: handoff } = await site.api<{ id: string }>(`${of}/handed`, {
    name: 'The edit 1',
    receiver: 'The edit',
    fileSystem: 'exfat',
    roots: { windows: 'E:\\' },
    choice: {
      runs: [],
      roles: [],
      deliverables: [],
      rolls: [],
      days: [],
      circled: false,
      filter: '',
      cut: null,
      originals: false,
    },
    to: { store: 'shuttle', folder: 'for-the-edit' },
  });
  await until('the hand-off', async () => (await site.api<HandedAnswer>(`/handed/${handoff}`)).state === 'proved');
  const paths = {
    arrivals: 'arrivals',
    inlets: 'arrivals/inlets',
    originals: 'arrivals/originals',
    space: 'handoffs/space',
    clips: 'clips',
    'a selected clip': `clips?clips=${clip}`,
    'a clip': `clips/${clip}`,
    groups: 'bench',
    'the bench': `bench/${clip}`,
    cabinet: 'cabinet',
    'a LUT': `cabinet/${lut?.hash ?? ''}`,
    recipes: 'recipes',
    'a burn-in': `recipes/${recipe?.id ?? ''}/burn`,
    runs: 'runs',
    'a run': `runs/${run.id}`,
    'a check sheet': `runs/${run.id}/check-sheet`,
    'a contact sheet': `runs/${run.id}/contact-sheet`,
    checks: 'checks',
    sizes: 'checks/sizes',
    'a comparison': `checks/${output.id}`,
    'what was measured': `checks/${output.id}/along`,
    'hand-offs': 'handoffs',
    'a hand-off': `handoffs/${handoff}`,
    'a new hand-off': 'handoffs?do=new',
    'a cut': `handoffs/cuts/${cut?.versions[0]?.id ?? ''}?event=4`,
  };
  return new Map([
    ...Object.entries(paths).map(([name, path]) => [name, `/p/${production}/${path}`] as const),
    ['productions', '/productions'],
    ['the site', '/site'],
  ]);
}

/** Waits until the page that was asked for is there, and none of its parts is still coming. */
export async function untilShown({ page }: Pick<DemoSite, 'page'>): Promise<void> {
  await page.getByRole('heading', { level: 1 }).first().waitFor({ state: 'attached' });
  await page.locator('[role=status][aria-label$=loads]').first().waitFor({ state: 'detached' });
}
