import { clipsToRun } from '../runs/plans.ts';
import { inletThing, type InletRow } from '../db/entities/inlets.ts';
import { setting } from '../site/settings.ts';
import { beginMaking, notBefore, sortByFindings } from './begin.ts';
import type { KeeperTools } from './oneInlet.ts';

/** Begins what waited for a decision of a person, once that is taken; what was left out waits no more. */
export async function beginDecided(tools: KeeperTools, { id, productionId, definition }: InletRow): Promise<void> {
  const { db } = tools;
  const things = await db.manager
    .createQueryBuilder(inletThing, 't')
    .where(`t.inlet_id = :id AND t.waits <> '[]'`, { id })
    .orderBy('t.taken_at')
    .limit(200)
    .getMany();
  for (const thing of things) {
    const clips = await clipsToRun(
      db,
      productionId,
      thing.waits.map(({ clip }) => clip),
    );
    const { go, waits } = sortByFindings(clips, definition);
    if (waits.length === thing.waits.length) continue;
    const at = notBefore(definition.begin, await setting(db, 'quiet'), new Date());
    await beginMaking(
      tools,
      { id, production: productionId, definition },
      go.map((clip) => clip.id),
      {
        open: new Map(),
        at,
        beside: async (tx, { runs, problems }) => {
          await tx.update(
            inletThing,
            { id: thing.id },
            {
              ...{ waits, runs: [...thing.runs, ...runs], problems: [...thing.problems, ...problems] },
              ...{ ended: null, endedAt: null },
            },
          );
        },
      },
    );
  }
}
