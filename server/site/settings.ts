import type { QuietHours } from '@relay/core/site/quietHours';
import type { DataSource } from 'typeorm';
import { setting as settingRow } from '../db/entities/site.ts';

/** What is set for the whole site, by its key. */
interface Settings {
  quiet: QuietHours | null;
}

const unset: Settings = { quiet: null };

export async function setting<Key extends keyof Settings>(db: DataSource, key: Key): Promise<Settings[Key]> {
  const row = await db.manager.findOneBy(settingRow, { key });
  return row ? (row.value as Settings[Key]) : unset[key];
}

export async function keepSetting<Key extends keyof Settings>(
  db: DataSource,
  key: Key,
  value: Settings[Key],
): Promise<void> {
  // Nothing, on purpose, is JSON's null.
  await db.query(
    'INSERT INTO setting (key, value) VALUES ($1, $2) ON CONFLICT (key) DO UPDATE SET value = excluded.value',
    [key, JSON.stringify(value)],
  );
}

/** How far this machine's clock is ahead of UTC, in minutes. */
export function clockOffset(now = new Date()): number {
  return -now.getTimezoneOffset();
}
