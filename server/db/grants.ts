import type { DataSource } from 'typeorm';

/**
 * The roles of the database: who owns the tables, and workers, who may do their work and nothing else. Neither is a
 * superuser.
 */
export const roles = { owner: 'relay_owner', worker: 'relay_worker' } as const;

/** What workers write, table by table; they read everything, and make, change or remove no table. */
const workersMay: Readonly<Record<string, string>> = {
  clip: 'INSERT, UPDATE',
  reading: 'INSERT, UPDATE',
  roll: 'UPDATE',
  roll_copy: 'UPDATE',
  custody_event: 'INSERT',
  leg: 'UPDATE',
  output: 'INSERT, UPDATE',
  segment: 'INSERT, UPDATE, DELETE',
  reel: 'UPDATE',
  measuring: 'UPDATE',
  handoff: 'UPDATE',
  handoff_item: 'UPDATE',
  handoff_event: 'INSERT',
  original_search: 'UPDATE',
  removal: 'UPDATE',
  // What is deleted was written down by the server: a worker only says what came of it.
  removal_item: 'UPDATE (state, why)',
  worker: 'INSERT, UPDATE, DELETE',
};

/** Gives workers their rights, and takes away whatever else they had; after migrations, as the tables' owner. */
export async function grantToWorkers(db: DataSource): Promise<void> {
  const statements = [
    `REVOKE ALL ON ALL TABLES IN SCHEMA public FROM ${roles.worker}`,
    `GRANT USAGE ON SCHEMA public, pgboss TO ${roles.worker}`,
    `GRANT SELECT ON ALL TABLES IN SCHEMA public TO ${roles.worker}`,
    `GRANT USAGE ON ALL SEQUENCES IN SCHEMA public TO ${roles.worker}`,
    ...Object.entries(workersMay).map(([table, rights]) => `GRANT ${rights} ON ${table} TO ${roles.worker}`),
    // Jobs are fetched, ended and sent on; queues are the owner's.
    `GRANT SELECT, INSERT, UPDATE, DELETE ON ALL TABLES IN SCHEMA pgboss TO ${roles.worker}`,
  ];
  await db.transaction(async (tx) => {
    for (const statement of statements) await tx.query(statement);
  });
}
