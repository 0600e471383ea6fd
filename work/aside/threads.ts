import { existsSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { Worker } from 'node:worker_threads';
import { Gate } from '@relay/media/process/gate';
import type { Answer, Failure, Question } from './answering.ts';
import { TooMuch } from './tooMuch.ts';

/** Megabytes that a thread may take; beyond it, it is ended, and only its task fails. */
const memory = 1_500;

/** A built thread: beside this file when it is built too, else where the build puts it. */
function builtThread(name: string): string | undefined {
  return [new URL(`./${name}.mjs`, import.meta.url), new URL(`../../build/${name}.mjs`, import.meta.url)]
    .map((url) => fileURLToPath(url))
    .find(existsSync);
}

export interface ThreadKind {
  /** Name of the built thread's file. */
  name: string;
  /** How many there may be. */
  most: number;
  /** What each is given at its start. */
  given?: unknown;
  env?: Record<string, string>;
  /** What is thrown here of what failed there; an Error in its words where it says nothing. */
  thrown?: (failure: Failure) => Error | null;
}

/** Threads that take tasks, each one at a time. */
export class Threads {
  private readonly idle: Worker[] = [];
  private readonly all = new Set<Worker>();
  private readonly turns: Gate;
  private readonly script: string | undefined;
  private closed = false;

  constructor(private readonly kind: ThreadKind) {
    this.turns = new Gate(kind.most);
    this.script = builtThread(kind.name);
  }

  /**
   * Has a task done, when it is its turn.
   * @throws TooMuch when it takes longer than `seconds`, or too much memory; what failed there, as the kind throws it
   */
  async ask(question: Question, seconds: number, signal?: AbortSignal): Promise<unknown> {
    return this.turns.through(this.kind.name, signal, async () => {
      const worker = this.idle.pop() ?? this.start();
      const answer = await put(worker, question, seconds, signal).catch(async (error: unknown) => {
        this.all.delete(worker);
        await worker.terminate();
        throw error;
      });
      worker.unref();
      if (this.closed) await worker.terminate();
      else this.idle.push(worker);
      if (answer.failure) throw this.kind.thrown?.(answer.failure) ?? inItsWords(answer.failure);
      return answer.value;
    });
  }

  /**
   * Starts one and has it do this, so that who asks first need not wait for it, and `laterMs` on all the others: they do
   * not hold up the start of everything else. What fails is left to who asks next.
   */
  async warm(question: Question, seconds: number, laterMs: number): Promise<void> {
    const once = (): Promise<unknown> => this.ask(question, seconds).catch(() => undefined);
    await once();
    const others = setTimeout(() => {
      if (!this.closed) for (let n = 0; n < this.kind.most; n += 1) void once();
    }, laterMs);
    others.unref();
  }

  /** How many there are by now, idle or not. */
  get started(): number {
    return this.all.size;
  }

  private start(): Worker {
    if (this.script === undefined) throw new Error(`build/${this.kind.name}.mjs is not there: build first`);
    const worker = new Worker(this.script, {
      resourceLimits: { maxOldGenerationSizeMb: memory },
      env: this.kind.env ?? {},
      workerData: this.kind.given ?? null,
    });
    this.all.add(worker);
    // What ends an idle thread is its own affair: another is started.
    worker.on('error', () => undefined);
    worker.on('exit', () => {
      this.all.delete(worker);
      const place = this.idle.indexOf(worker);
      if (place >= 0) this.idle.splice(place, 1);
    });
    return worker;
  }

  async close(): Promise<void> {
    this.closed = true;
    await Promise.all([...this.all].map((worker) => worker.terminate()));
  }
}

function inItsWords({ message, code }: Failure): Error {
  return Object.assign(new Error(message), code === undefined ? {} : { code });
}

/**
 * Buffers that are given away rather than copied: those that hold nothing but one input, a request's body above all.
 */
function transferable(input: readonly unknown[]): ArrayBuffer[] {
  return input.flatMap((one) =>
    one instanceof Uint8Array && one.byteLength === one.buffer.byteLength && one.buffer instanceof ArrayBuffer
      ? [one.buffer]
      : [],
  );
}

function put(worker: Worker, question: Question, seconds: number, signal: AbortSignal | undefined): Promise<Answer> {
  worker.ref();
  return new Promise((resolve, reject) => {
    const answered = (answer: Answer): void => over(() => resolve(answer));
    const failed = (error: NodeJS.ErrnoException): void =>
      over(() =>
        reject(
          error.code === 'ERR_WORKER_OUT_OF_MEMORY'
            ? new TooMuch('it takes more memory to read than it is given')
            : error,
        ),
      );
    const ended = (): void => over(() => reject(new TooMuch('it could not be read to its end')));
    const unwanted = (): void => worker.postMessage({ unwanted: true });
    const late = setTimeout(() => over(() => reject(new TooMuch(`it took longer than ${seconds} s`))), seconds * 1000);
    const over = (then: () => void): void => {
      clearTimeout(late);
      worker.off('message', answered).off('error', failed).off('exit', ended);
      signal?.removeEventListener('abort', unwanted);
      then();
    };
    worker.on('message', answered).on('error', failed).on('exit', ended);
    signal?.addEventListener('abort', unwanted, { once: true });
    worker.postMessage(question, transferable(question.input));
  });
}
