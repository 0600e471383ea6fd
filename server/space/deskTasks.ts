import type { DeskTable } from '../desk/table.ts';
import { orderRemoval } from './order.ts';
import { effectOf, spaceOf } from './sets.ts';

export const spaceTasks = { spaceOf, effectOf, orderRemoval } satisfies DeskTable;
