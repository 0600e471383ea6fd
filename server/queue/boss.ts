import PgBoss from 'pg-boss';

/** Queues of pg-boss: one for legs, one for folders to be read. */
export const legQueue = 'leg';
export const readingQueue = 'reading';

export interface LegJob {
  leg: string;
}
export interface ReadingJob {
  reading: string;
}

/** pg-boss on the same database. A leg's own lease, not the job's, says whether it is still worked on. */
export async function openQueue(url: string, log: (error: Error) => void): Promise<PgBoss> {
  const boss = new PgBoss({ connectionString: url, max: 4, application_name: 'relay-queue' });
  boss.on('error', log);
  await boss.start();
  const queue = { retryLimit: 0, expireInSeconds: 24 * 3600 - 1, retentionDays: 14 };
  await boss.createQueue(legQueue, { name: legQueue, ...queue });
  await boss.createQueue(readingQueue, { name: readingQueue, ...queue });
  return boss;
}

/** Queues legs in their order: earlier ones of a run first. */
export async function queueLegs(boss: PgBoss, legs: readonly string[]): Promise<void> {
  const chunk = 2_000;
  for (let at = 0; at < legs.length; at += chunk) {
    await boss.insert(legs.slice(at, at + chunk).map((leg) => ({ name: legQueue, data: { leg } })));
  }
}
