import { parentPort, workerData } from 'node:worker_threads';
import { refusalOf } from '../http.ts';
import { deskTasks } from './deskTasks.ts';
import { tasks } from './tasks.ts';
import type { Answer, Question } from './threads.ts';
import { openTools, type DeskSettings } from './tools.ts';

/** The thread's side: takes tasks one after the other, and answers each. */

type AnyTask = (...input: readonly unknown[]) => unknown;

const tools = openTools(workerData as DeskSettings | null);
let unwanted = new AbortController();

async function answer({ table, task, input, asText }: Question): Promise<Answer> {
  unwanted = new AbortController();
  try {
    const value =
      table === 'pure'
        ? (tasks as unknown as Record<string, AnyTask>)[task]?.(...input)
        : await (deskTasks as unknown as Record<string, AnyTask>)[task]?.(
            { ...(await tools()), signal: unwanted.signal },
            ...input,
          );
    return { value: asText ? new TextEncoder().encode(JSON.stringify(value)) : value };
  } catch (error) {
    const refused = refusalOf(error as Error);
    if (refused) return { refused: { status: refused.status, problem: refused.problem } };
    const { code, message } = error as { code?: unknown; message: string };
    return { error: message, ...(typeof code === 'string' ? { code } : {}) };
  }
}

parentPort?.on('message', (message: Question | { unwanted: true }) => {
  if ('unwanted' in message) unwanted.abort();
  else
    void answer(message).then((answered) =>
      parentPort?.postMessage(
        answered,
        answered.value instanceof Uint8Array ? [answered.value.buffer as ArrayBuffer] : [],
      ),
    );
});
