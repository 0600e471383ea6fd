import type { DeskTaskName, DeskTasks } from './deskTasks.ts';
import { Threads } from './threads.ts';
import type { DeskSettings } from './tools.ts';

/** Seconds that anything at the desk may take: a run of ten thousand clips takes ten. */
const patience = 180;

type Input<Name extends DeskTaskName> = DeskTasks[Name] extends (tools: never, ...input: infer Rest) => unknown
  ? Rest
  : never;
type Output<Name extends DeskTaskName> = Awaited<ReturnType<DeskTasks[Name]>>;

/**
 * What goes through a whole production (thousands of descriptions, plans, findings) is done at a desk aside, in threads
 * with connections of their own: the server answers everybody else meanwhile.
 */
export class Desk {
  private readonly threads: Threads;

  constructor(settings: DeskSettings) {
    // FFmpeg that is started from here is kept as apart as any other.
    const env = Object.fromEntries(
      Object.entries(process.env).filter(
        ([name, value]) => value !== undefined && (name.startsWith('RELAY_') || name === 'PATH'),
      ),
    ) as Record<string, string>;
    this.threads = new Threads(3, settings, env);
    void this.threads.warm({ table: 'desk', task: 'ready' satisfies DeskTaskName, input: [], asText: false }, patience);
  }

  async do<Name extends DeskTaskName>(task: Name, ...input: Input<Name>): Promise<Output<Name>> {
    return (await this.threads.ask({ table: 'desk', task, input, asText: false }, patience)) as Output<Name>;
  }

  /** The answer as the bytes of its JSON: where it is large, it is written there and sent on as it is. */
  async json(task: DeskTaskName, ...input: readonly unknown[]): Promise<Buffer> {
    return this.jsonWanted(undefined, task, ...input);
  }

  /** The same, until nobody wants it any more. */
  async jsonWanted(signal: AbortSignal | undefined, task: DeskTaskName, ...input: readonly unknown[]): Promise<Buffer> {
    const bytes = (await this.threads.ask(
      { table: 'desk', task, input, asText: true },
      patience,
      signal,
    )) as Uint8Array;
    return Buffer.from(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  }

  close(): Promise<void> {
    return this.threads.close();
  }
}
