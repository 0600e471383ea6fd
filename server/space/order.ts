import type { RemovalOrder } from '@relay/contract/space';
import type { LegPlan } from '@relay/core/recipe/legPlan';
import { isTyped, wordsToDelete } from '@relay/core/space/mayGo';
import { In, type EntityManager } from 'typeorm';
import { removal, removalItem, type RunOfRemoval } from '../db/entities/removals.ts';
import { leg, run } from '../db/entities/runs.ts';
import type { Tools } from '../desk/tools.ts';
import { Refused } from '../http.ts';
import { removalQueue } from '../queue/boss.ts';
import type { Candidate } from './candidates.ts';
import { chosenCandidates } from './sets.ts';

/** Items that are written down at a time. */
const lot = 500;

const kindNames: Readonly<Record<Candidate['kind'], string>> = {
  intermediate: 'intermediates',
  proxy: 'proxies',
  review: 'review copies',
  pulled: 'pulled stretches',
  superseded: 'older versions',
};

/** What was chosen, in words: `12 intermediates of Day 1; 3 older versions of Day 1`. */
function sayChosen(going: readonly Candidate[]): string {
  const counts = new Map<string, number>();
  for (const { kind, runName } of going) {
    const name = `${kindNames[kind]} of ${runName}`;
    counts.set(name, (counts.get(name) ?? 0) + 1);
  }
  const says = [...counts].map(([name, count]) => `${count} ${name}`);
  return says.length > 6 ? `${says.slice(0, 6).join('; ')}; and more` : says.join('; ');
}

/** The runs that files were made in, with all that it takes to make some of them again. */
async function runsOf(tx: EntityManager, going: readonly Candidate[]): Promise<Record<string, RunOfRemoval>> {
  const rows = await tx.findBy(run, { id: In([...new Set(going.map((one) => one.run))]) });
  return Object.fromEntries(
    rows.map(({ id, name, recipe, recipeId, recipeVersion, storeId, folder, priority, pull }) => [
      id,
      {
        ...{ name, recipe, store: storeId, folder, priority, pull },
        from: recipeId === null ? null : { id: recipeId, version: recipeVersion ?? 1 },
      },
    ]),
  );
}

async function writeItems(tx: EntityManager, id: string, going: readonly Candidate[]): Promise<void> {
  for (let at = 0; at < going.length; at += lot) {
    const some = going.slice(at, at + lot);
    const legs = await tx.findBy(leg, { id: In([...new Set(some.map((one) => one.leg))]) });
    const plans = new Map(legs.map((row) => [row.id, row.plan]));
    const planOf = ({ leg: of, planned }: Candidate): LegPlan | null => {
      const plan = plans.get(of);
      return plan && planned ? { ...plan, outputs: [planned] } : null;
    };
    await tx.insert(
      removalItem,
      some.map((one, index) => ({
        removalId: id,
        place: at + index,
        kind: one.kind,
        storeId: one.store,
        folder: one.folder,
        path: one.path,
        sizeBytes: one.sizeBytes,
        xxh3: one.xxh3,
        runId: one.run,
        legId: one.leg,
        clipId: one.clip,
        plan: planOf(one),
      })),
    );
  }
}

/**
 * Writes a deletion down and has a worker begin it. Answers its id.
 * @throws Refused where nothing of it may go, or what was typed does not say how much goes now
 */
export async function orderRemoval(
  tools: Tools,
  production: string,
  order: RemovalOrder,
  who: string,
): Promise<string> {
  const { going } = await chosenCandidates(tools, production, order);
  if (going.length === 0)
    throw new Refused(409, { what: 'Nothing of this may go now', remedy: 'Look at the list again' });
  if (!isTyped(order.typed, going.length))
    throw new Refused(409, {
      what: `${going.length} ${going.length === 1 ? 'file' : 'files'} would go, and that is not what was typed`,
      remedy: `Look at what would go, then type: ${wordsToDelete(going.length)}`,
    });
  const id = await tools.db.transaction(async (tx) => {
    const row = await tx.save(removal, {
      productionId: production,
      says: sayChosen(going),
      runs: await runsOf(tx, going),
      files: going.length,
      bytes: going.reduce((sum, { sizeBytes }) => sum + sizeBytes, 0),
      who,
    });
    await writeItems(tx, row.id, going);
    return row.id;
  });
  await tools.boss.send(removalQueue, { removal: id });
  return id;
}
