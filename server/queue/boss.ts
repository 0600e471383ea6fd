import { randomBytes } from 'node:crypto';
import PgBoss from 'pg-boss';

/**
 * Queues of pg-boss: legs, folders to be read, clips to be looked at closely, cards to be brought in, copies to be
 * verified, copies to be joined, outputs to be measured, hand-offs to be copied, originals to be looked for, files
 * to be deleted.
 */
export const legQueue = 'leg';
export const readingQueue = 'reading';
export const lookQueue = 'look';
export const arrivalQueue = 'arrival';
export const verifyQueue = 'verify';
export const joinedCopyQueue = 'reel';
export const measureQueue = 'measure';
export const handoffQueue = 'handoff';
export const searchQueue = 'search';
export const removalQueue = 'removal';

export interface LegJob {
  leg: string;
}
export interface ReadingJob {
  reading: string;
}
export interface LookJob {
  clip: string;
}
export interface ArrivalJob {
  roll: string;
}
export interface VerifyJob {
  copy: string;
}
export interface JoinedCopyJob {
  joinedCopy: string;
}
export interface MeasureJob {
  measuring: string;
}
export interface SearchJob {
  search: string;
}
export interface RemovalJob {
  removal: string;
}
export interface HandoffJob {
  handoff: string;
  /** Only what lies there is looked at. */
  verify?: true;
}

/**
 * pg-boss on the same database; the server's own tends the queues (`supervise`), workers only take from them. A leg's
 * own lease, not the job's, says whether it is still worked on.
 */
export async function openQueue(
  url: string,
  log: (error: Error) => void,
  supervise = true,
  connections = 4,
): Promise<PgBoss> {
  const boss = new PgBoss({
    connectionString: url,
    max: connections,
    application_name: 'relay-queue',
    migrate: false,
    supervise,
    schedule: false,
  });
  boss.on('error', log);
  await boss.start();
  return boss;
}

/**
 * Makes pg-boss's tables and our queues. One process does it before the others start: two at a time would lock each
 * other out.
 */
export async function prepareQueue(url: string): Promise<void> {
  const boss = new PgBoss({
    connectionString: url,
    max: 2,
    application_name: 'relay-queue',
    supervise: false,
    schedule: false,
  });
  boss.on('error', () => undefined);
  await boss.start();
  const queues = [
    legQueue,
    readingQueue,
    lookQueue,
    arrivalQueue,
    verifyQueue,
    joinedCopyQueue,
    measureQueue,
    handoffQueue,
    searchQueue,
    removalQueue,
  ];
  for (const name of queues)
    await boss.createQueue(name, { name, retryLimit: 0, expireInSeconds: 24 * 3600 - 1, retentionDays: 14 });
  await boss.stop({ graceful: false, wait: true });
}

/**
 * Ids that sort by time, then by place: pg-boss takes jobs of one moment in the order of their ids (layout as UUID
 * version 7, RFC 9562).
 */
function idsInOrder(count: number): string[] {
  const time = Date.now().toString(16).padStart(12, '0');
  return Array.from({ length: count }, (_, index) => {
    const place = index.toString(16).padStart(8, '0');
    const hex = `${time}7${place.slice(0, 3)}8${place.slice(3)}${randomBytes(5).toString('hex')}`;
    return [hex.slice(0, 8), hex.slice(8, 12), hex.slice(12, 16), hex.slice(16, 20), hex.slice(20, 32)].join('-');
  });
}

/** Queues jobs of one kind, in their order. */
async function queueAll(
  boss: PgBoss,
  name: string,
  jobs: readonly { data: object; priority?: number }[],
): Promise<void> {
  const ids = idsInOrder(jobs.length);
  const chunk = 2_000;
  for (let at = 0; at < jobs.length; at += chunk)
    await boss.insert(
      jobs.slice(at, at + chunk).map((job, index) => ({ id: ids[at + index] as string, name, ...job })),
    );
}

/** Queues clips to be looked at closely, in their order. */
export async function queueLooks(boss: PgBoss, clips: readonly string[]): Promise<void> {
  await queueAll(
    boss,
    lookQueue,
    clips.map((clip) => ({ data: { clip } })),
  );
}

/** Queues outputs to be measured, in their order. */
export async function queueMeasurings(boss: PgBoss, measurings: readonly string[]): Promise<void> {
  await queueAll(
    boss,
    measureQueue,
    measurings.map((measuring) => ({ data: { measuring } })),
  );
}

/**
 * Queues legs in their order: earlier ones of a run first. Those that somebody had begun already go before all others.
 */
export async function queueLegs(boss: PgBoss, legs: readonly string[], begun = false): Promise<void> {
  await queueAll(
    boss,
    legQueue,
    legs.map((leg) => ({ data: { leg }, priority: begun ? 1 : 0 })),
  );
}
