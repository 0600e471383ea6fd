import { onDatabase, type DeskTable } from '../desk/table.ts';
import { takeIn } from './cabinet.ts';

export const cabinetTasks = { takeIn: onDatabase(takeIn) } satisfies DeskTable;
