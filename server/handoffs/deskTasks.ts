import type { DeskTable } from '../desk/table.ts';
import { checkHandoff } from './check.ts';
import { orderHandoff } from './order.ts';

export const handoffTasks = { checkHandoff, orderHandoff } satisfies DeskTable;
