import type { JsonBytes } from '../jsonBytes.ts';
import type { DataSource } from 'typeorm';
import type { Tools } from './tools.ts';

/**
 * What a room has done at the desk: functions by name, which are given the tools of the thread that does them. The
 * thread takes the tables of all rooms together (deskThread.ts), so that a name is used once.
 */
export type DeskTable = Readonly<Record<string, (tools: Tools, ...input: never[]) => unknown>>;

/** A function that works on the database, as a task of the desk. */
export function onDatabase<Rest extends unknown[], Made>(
  work: (db: DataSource, ...rest: Rest) => Made,
): (tools: Tools, ...rest: Rest) => Made {
  return ({ db }, ...rest) => work(db, ...rest);
}

/** What a task takes behind its tools. */
export type InputOf<Task> = Task extends (tools: never, ...input: infer Rest) => unknown ? Rest : never;
export type OutputOf<Task> = Task extends (...all: never[]) => infer Made ? Awaited<Made> : never;

/** The desk as a room uses it: with the tasks of its own table. */
export interface DeskOf<Table extends DeskTable> {
  do<Name extends keyof Table & string>(task: Name, ...input: InputOf<Table[Name]>): Promise<OutputOf<Table[Name]>>;
  /** The answer as the bytes of its JSON: where it is large, it is written there and sent on as it is. */
  json<Name extends keyof Table & string>(
    task: Name,
    ...input: InputOf<Table[Name]>
  ): Promise<JsonBytes<OutputOf<Table[Name]>>>;
  /** The same, until nobody wants it any more. */
  jsonWanted<Name extends keyof Table & string>(
    signal: AbortSignal | undefined,
    task: Name,
    ...input: InputOf<Table[Name]>
  ): Promise<JsonBytes<OutputOf<Table[Name]>>>;
}
