import { parentPort } from 'node:worker_threads';

/** What a thread is asked, and what it answers. */
export interface Question {
  task: string;
  input: readonly unknown[];
  /** The answer as the bytes of its JSON, written there: what is large is sent on as it is. */
  asText: boolean;
}

export interface Failure {
  message: string;
  /** The database's or the system's own code of what went wrong. */
  code?: string;
  /** What the other side needs to throw it again, beside its words. */
  detail?: unknown;
}

export interface Answer {
  value?: unknown;
  failure?: Failure;
}

function failureOf(error: unknown): Failure {
  const { code, message } = error as { code?: unknown; message: string };
  return { message, ...(typeof code === 'string' ? { code } : {}) };
}

/**
 * The thread's side: takes tasks one after the other, and answers each. `work` does one, and is told when nobody wants
 * it any more; `detailOf` says what is kept of an error beside its words.
 */
export function answerQuestions(
  work: (question: Question, unwanted: AbortSignal) => unknown,
  detailOf: (error: Error) => unknown = () => undefined,
): void {
  let unwanted = new AbortController();

  async function answer(question: Question): Promise<Answer> {
    unwanted = new AbortController();
    try {
      const value = await work(question, unwanted.signal);
      return { value: question.asText ? new TextEncoder().encode(JSON.stringify(value)) : value };
    } catch (error) {
      return { failure: { ...failureOf(error), detail: detailOf(error as Error) } };
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
}
