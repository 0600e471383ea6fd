import type { HandoffOrder } from '@relay/contract/handoffs';
import type { DataSource, EntityManager } from 'typeorm';
import type { Tools } from '../desk/tools.ts';
import { handoff, handoffEvent, receiver } from '../db/entities/handoffs.ts';
import { mayBeHandedOn } from '../checks/checkSheet.ts';
import { notThere, Refused } from '../http.ts';
import { handoffQueue } from '../queue/boss.ts';
import { runsOf, workOut, type WorkedOut } from './check.ts';

/** Items that are written down at a time. */
const lot = 1_000;

/** Writes down something that happened to a hand-off. */
export async function noteHandoff(
  db: DataSource | EntityManager,
  id: string,
  who: string,
  what: string,
): Promise<void> {
  await ('manager' in db ? db.manager : db).insert(handoffEvent, { handoffId: id, who, what });
}

/** The receiver of a name, known from before or from now on, with what was said of their drives last. */
async function receiverOf(tx: EntityManager, production: string, order: HandoffOrder): Promise<string> {
  const [row] = await tx.query<{ id: string }[]>(
    `INSERT INTO receiver (production_id, name, file_system, roots)
     VALUES ($1, $2, $3, $4)
     ON CONFLICT (production_id, lower(name)) DO UPDATE
     SET file_system = excluded.file_system, roots = excluded.roots
     RETURNING id`,
    [production, order.receiver, order.fileSystem, JSON.stringify(order.roots)],
  );
  if (!row) throw notThere('The receiver');
  return row.id;
}

async function writeItems(tx: EntityManager, id: string, { sent, held }: WorkedOut): Promise<void> {
  const before = new Map(held.map(({ path, xxh3 }) => [path, xxh3]));
  for (let at = 0; at < sent.length; at += lot) {
    const rows = sent.slice(at, at + lot).map((item, index) => ({
      place: at + index,
      path: item.path,
      kind: item.kind,
      key: item.key,
      size: item.sizeBytes,
      xxh3: item.xxh3,
      store: item.store,
      source: item.source,
      output: item.output,
      clip: item.clip,
      roll: item.roll,
      replaces: before.get(item.path) ?? null,
      relink: item.relink,
    }));
    await tx.query(
      `INSERT INTO handoff_item (
         handoff_id, place, path, kind, key, size_bytes, xxh3, store_id, source, output_id, clip_id, roll, replaces, relink
       )
       SELECT $1, place, path, kind, key, size, xxh3, store, source, output, clip, roll, replaces, relink
       FROM json_to_recordset($2::json) AS item(
         place int, path text, kind text, key text, size bigint, xxh3 text, store text, source text, output uuid,
         clip uuid, roll text, replaces text, relink json
       )`,
      [id, JSON.stringify(rows)],
    );
  }
}

/** What the database says where two are to be copied to one folder at once (PostgreSQL, appendix A: unique_violation). */
export function asBusy(error: unknown): never {
  const { code, constraint } = (error as { driverError?: { code?: string; constraint?: string } }).driverError ?? {};
  if (code === '23505' && constraint === 'handoff_busy')
    throw new Refused(409, {
      what: 'Another hand-off is being copied to this folder',
      remedy: 'Wait until it is done, or choose another',
    });
  throw error;
}

/** Writes a hand-off down and has it copied; answers its id. @throws Refused where it cannot be */
export async function orderHandoff(
  tools: Tools,
  production: string,
  order: HandoffOrder,
  who: string,
): Promise<string> {
  const { db, boss, stores } = tools;
  const found = await workOut(tools, production, order);
  if (found.place) throw new Refused(409, found.place);
  if (found.sent.length === 0)
    throw new Refused(409, {
      what:
        found.since.held.length > 0
          ? `${order.receiver} holds all of it already`
          : 'Nothing that was made is chosen by this',
      remedy: 'Choose otherwise',
    });
  for (const { id } of await runsOf(db, found.sent)) await mayBeHandedOn(db, id);
  if (found.store) await stores.markFirst(found.store);
  const id = await db
    .transaction(async (tx) => {
      const receiverId = await receiverOf(tx, production, order);
      const [row] = (
        await tx.insert(handoff, {
          productionId: production,
          receiverId,
          name: order.name,
          choice: order.choice,
          storeId: order.to.store,
          folder: order.to.folder,
          files: found.sent.length,
          bytes: found.sent.reduce((sum, { sizeBytes }) => sum + sizeBytes, 0),
          toDelete: found.since.toDelete.map(({ path, sizeBytes, xxh3, key }) => ({ path, sizeBytes, xxh3, key })),
          who,
        })
      ).identifiers as { id: string }[];
      if (!row) throw notThere('The hand-off');
      await writeItems(tx, row.id, found);
      await noteHandoff(tx, row.id, who, `Ordered for ${order.receiver}: ${found.sent.length} items`);
      if (found.hindrances.length > 0)
        await noteHandoff(tx, row.id, who, `Left out, as their system does not take them: ${found.hindrances.length}`);
      return row.id;
    })
    .catch(asBusy);
  await boss.send(handoffQueue, { handoff: id });
  return id;
}

/** Whoever a production's hand-offs are for. */
export async function receiversOf(db: DataSource, production: string) {
  return db.manager.find(receiver, { where: { productionId: production }, order: { name: 'ASC' } });
}
