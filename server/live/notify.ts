import type { LiveMessage } from '@relay/contract/live';
import type { DataSource } from 'typeorm';

/** Worker and server talk over PostgreSQL's own notifications; this is the channel's name. */
export const channel = 'relay_live';

export async function tell(db: DataSource, message: LiveMessage): Promise<void> {
  await db.query('SELECT pg_notify($1, $2)', [channel, JSON.stringify(message)]);
}
