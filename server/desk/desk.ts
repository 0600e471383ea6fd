import type { Failure } from '@relay/work/aside/answering';
import { Threads } from '@relay/work/aside/threads';
import { JsonBytes } from '../jsonBytes.ts';
import { Refused } from '../http.ts';
import type { DeskOf, DeskTable } from './table.ts';
import type { DeskSettings } from './tools.ts';

/** Seconds that anything at the desk may take: a run of ten thousand clips takes ten. */
const patience = 180;

/** When all desks but the first are opened: a server that starts has pages to answer before. */
const restOfDesksMs = 15_000;

/** A task that does nothing, and so only has the tools opened. */
export const readyTask = 'ready';

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
    this.threads = new Threads({ name: 'desk', most: 3, given: settings, env, thrown: refusedThere });
    void this.threads.warm({ task: readyTask, input: [], asText: false }, patience, restOfDesksMs);
  }

  /** The desk for a room that has these tasks. */
  of<Table extends DeskTable>(): DeskOf<Table> {
    const json = async (task: string, input: readonly unknown[], signal?: AbortSignal): Promise<JsonBytes<never>> => {
      const bytes = (await this.threads.ask({ task, input, asText: true }, patience, signal)) as Uint8Array;
      return new JsonBytes(Buffer.from(bytes.buffer, bytes.byteOffset, bytes.byteLength));
    };
    return {
      do: async (task, ...input) => (await this.threads.ask({ task, input, asText: false }, patience)) as never,
      json: (task, ...input) => json(task, input),
      jsonWanted: (signal, task, ...input) => json(task, input, signal),
    };
  }

  close(): Promise<void> {
    return this.threads.close();
  }
}

/** What a thread refused is refused here. */
function refusedThere({ detail }: Failure): Refused | null {
  const said = detail as Pick<Refused, 'status' | 'problem'> | undefined;
  return said ? new Refused(said.status, said.problem) : null;
}
