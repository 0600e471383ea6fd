import type { Answers, Question } from './messages.ts';

let worker: Worker | null = null;
let last = 0;
const waiting = new Map<number, { resolve: (answer: never) => void; reject: (error: Error) => void }>();

/** Asks core, in a worker of its own so that the page stays at hand. */
export function ask<Kind extends Question['kind']>(
  question: Extract<Question, { kind: Kind }>,
): Promise<Answers[Kind]> {
  if (!worker) {
    worker = new Worker(new URL('./worker.ts', import.meta.url), { type: 'module' });
    worker.onmessage = ({ data }: MessageEvent<{ id: number; answer: never; failed?: string }>) => {
      const asked = waiting.get(data.id);
      waiting.delete(data.id);
      if (data.failed === undefined) asked?.resolve(data.answer);
      else asked?.reject(new Error(data.failed));
    };
  }
  last += 1;
  const id = last;
  return new Promise((resolve, reject) => {
    waiting.set(id, { resolve, reject });
    worker?.postMessage({ id, question });
  });
}
