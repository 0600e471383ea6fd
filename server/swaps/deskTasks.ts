import type { DeskTable } from '../desk/table.ts';
import { swapAnswer, swapWritten } from './swap.ts';

export const swapTasks = { swapAnswer, swapWritten } satisfies DeskTable;
