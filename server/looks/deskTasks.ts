import { onDatabase, type DeskTable } from '../desk/table.ts';
import { takeIn } from './cabinet.ts';

export const lookTasks = { takeIn: onDatabase(takeIn) } satisfies DeskTable;
