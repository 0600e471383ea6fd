import { patience, type TaskName, type Tasks } from './tasks.ts';
import { Threads } from './threads.ts';

/** Threads of a process for what strangers made: one may be held up by something large while another answers. */
const threads = new Threads({ name: 'aside', most: 2 });

/**
 * Does a task in a thread of its own, so that nothing else waits for it.
 * @throws TooMuch when it takes too long or too much memory
 */
export async function aside<Name extends TaskName>(
  task: Name,
  input: Parameters<Tasks[Name]>[0],
): Promise<ReturnType<Tasks[Name]>> {
  return (await threads.ask({ task, input: [input], asText: false }, patience[task])) as ReturnType<Tasks[Name]>;
}
