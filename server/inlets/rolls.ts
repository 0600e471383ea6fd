import type { DataSource } from 'typeorm';
import { inletThing, type InletRow } from '../db/entities/inlets.ts';
import { tell } from '../live/notify.ts';
import { setting } from '../site/settings.ts';
import { beginMaking, notBefore } from './begin.ts';
import { sayBefore } from './before.ts';
import type { KeeperTools } from './oneInlet.ts';

interface ProvedRoll {
  id: string;
  name: string;
  files: number;
  bytes: string;
  clips: string[];
}

/** Where a thing lies that is a roll. */
const placeOf = (roll: string): string => `roll ${roll}`;

/** Rolls that were proved and read since an inlet was made, and that it did not take up. */
async function rollsFor(db: DataSource, { id, productionId, createdAt }: InletRow): Promise<ProvedRoll[]> {
  return db.query<ProvedRoll[]>(
    `SELECT roll.id, roll.name, roll.files, roll.bytes,
       ARRAY(
         SELECT clip.id FROM clip WHERE clip.roll_id = roll.id AND clip.description IS NOT NULL ORDER BY clip.path
       ) AS clips
     FROM roll
     WHERE roll.production_id = $1 AND roll.state = 'proved' AND roll.ended_at >= $2
       AND EXISTS (SELECT 1 FROM reading WHERE reading.roll_id = roll.id AND reading.state = 'done')
       AND NOT EXISTS (
         SELECT 1 FROM reading WHERE reading.roll_id = roll.id AND reading.state IN ('waiting', 'running')
       )
       AND NOT EXISTS (
         SELECT 1 FROM inlet_thing t WHERE t.inlet_id = $3 AND t.place = 'roll ' || roll.id::text
       )
     ORDER BY roll.ended_at
     LIMIT 20`,
    [productionId, createdAt, id],
  );
}

/** Begins what is to be made of rolls that were proved since: each once, as soon as it was read. */
export async function beginRolls(tools: KeeperTools, row: InletRow): Promise<void> {
  const { id: inletId, productionId: production, definition } = row;
  if (definition.source.kind !== 'rolls') return;
  const { db } = tools;
  for (const roll of await rollsFor(db, row)) {
    await sayBefore(db, production, definition, roll.clips);
    const at = notBefore(definition.begin, await setting(db, 'quiet'), new Date());
    await beginMaking(tools, { id: inletId, production, definition }, roll.clips, {
      open: new Map(),
      at,
      beside: async (tx, { runs, problems, waits }) => {
        await tx.save(inletThing, {
          inletId,
          place: placeOf(roll.id),
          key: roll.name,
          kind: 'roll',
          files: roll.files,
          sizeBytes: Number(roll.bytes),
          clips: roll.clips,
          runs,
          waits,
          problems,
        });
      },
    });
    await tell(db, { kind: 'changed', what: 'inlets', production });
  }
}
