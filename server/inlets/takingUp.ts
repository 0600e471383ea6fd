import type { InletDefinition } from '@relay/contract/inlets';
import type { KnownFiles } from '@relay/core/inlet/content';
import type { Place } from '@relay/work/disk/held';
import type PgBoss from 'pg-boss';
import type { DataSource } from 'typeorm';
import type { ReadingInto } from '../arrivals/keepRead.ts';

/** Where what is taken up is read, and into what. */
export interface TakingUp {
  db: DataSource;
  boss: PgBoss;
  cacheFolder: string;
  root: Place;
  work: ReadingInto;
  definition: InletDefinition;
  known: KnownFiles;
}
