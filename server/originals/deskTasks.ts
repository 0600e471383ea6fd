import type { DeskTable } from '../desk/table.ts';
import { originalsPlaces } from './places.ts';

export const originalTasks = { originalsPlaces } satisfies DeskTable;
