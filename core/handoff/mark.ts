import { fail, ok, type Result } from '../result.ts';

/** The small file on a drive that says whose hand-offs are on it, so that it is known when it comes back. */
export const markName = '.relay-handoff';

/** What a drive says of itself. */
export interface HandoffMark {
  /** The receiver's id in the site that sent it; empty where the command line did. */
  receiver: string;
  /** What it is called to people. */
  called: string;
  /** The hand-offs that are on it, the newest last. */
  handoffs: { id: string; name: string; at: string }[];
}

const most = { letters: 200_000, handoffs: 500, words: 200 } as const;

export function writeMark(mark: HandoffMark): string {
  return `${JSON.stringify({ version: 1, ...mark, handoffs: mark.handoffs.slice(-most.handoffs) }, null, 2)}\n`;
}

/** Reads a mark that anybody may have written. */
export function readMark(text: string): Result<HandoffMark> {
  const refused = fail('The drive’s mark is not one of ours', 'Look at what is on it as at any other drive');
  if (text.length > most.letters) return refused;
  let json: unknown;
  try {
    json = JSON.parse(text);
  } catch {
    return refused;
  }
  const { version, receiver, called, handoffs } = (typeof json === 'object' && json !== null ? json : {}) as Record<
    string,
    unknown
  >;
  const word = (value: unknown): string => (typeof value === 'string' ? value.slice(0, most.words) : '');
  if (version !== 1 || typeof receiver !== 'string' || !Array.isArray(handoffs)) return refused;
  return ok({
    receiver: word(receiver),
    called: word(called),
    handoffs: handoffs.slice(-most.handoffs).flatMap((one: unknown) => {
      const { id, name, at } = (typeof one === 'object' && one !== null ? one : {}) as Record<string, unknown>;
      return typeof id === 'string' ? [{ id: word(id), name: word(name), at: word(at) }] : [];
    }),
  });
}

/** A mark with one more hand-off on it. */
export function markedAlso(mark: HandoffMark | null, of: HandoffMark): HandoffMark {
  const before = mark?.receiver === of.receiver ? mark.handoffs : [];
  const fresh = new Set(of.handoffs.map(({ id }) => id));
  return { ...of, handoffs: [...before.filter(({ id }) => !fresh.has(id)), ...of.handoffs] };
}
