import { answerQuestions } from './answering.ts';
import { tasks } from './tasks.ts';

/** The thread in which what strangers made is read. */
answerQuestions(({ task, input }) =>
  (tasks as unknown as Record<string, (...input: unknown[]) => unknown>)[task]?.(...input),
);
