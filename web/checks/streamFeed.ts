import { streamType } from './streamType.ts';

/** Seconds of a stream that are fetched ahead of what is seen; the server makes no more until they are wanted. */
const mostAhead = 90;
/** Seconds behind what is seen that are kept when there is no more room. */
const keptBehind = 5;

/** What has come of a stream. */
export interface Feed {
  /** The second up to which it has come. */
  end: () => number;
  /** Whether more will come, before any of it is played. */
  comes: () => boolean;
}

/** Waits for one event of something, or for the end of it all. */
function once(target: EventTarget, event: string, signal: AbortSignal): Promise<void> {
  return new Promise((resolve) => {
    const over = (): void => {
      target.removeEventListener(event, over);
      signal.removeEventListener('abort', over);
      resolve();
    };
    target.addEventListener(event, over);
    signal.addEventListener('abort', over);
    if (signal.aborted) over();
  });
}

/** Whether the browser takes no more for now. */
interface Room {
  full: boolean;
}

/** One piece after the other; where there is no room, what was seen makes some. */
async function append(
  buffer: SourceBuffer,
  piece: Uint8Array,
  { video, room, signal }: { video: HTMLVideoElement; room: Room; signal: AbortSignal },
): Promise<void> {
  while (!signal.aborted)
    try {
      buffer.appendBuffer(piece as Uint8Array<ArrayBuffer>);
      room.full = false;
      await once(buffer, 'updateend', signal);
      return;
    } catch (error) {
      if (!(error instanceof DOMException) || error.name !== 'QuotaExceededError') throw error;
      const until = video.currentTime - keptBehind;
      if (buffer.buffered.length > 0 && until > buffer.buffered.start(0)) {
        buffer.remove(0, until);
        await once(buffer, 'updateend', signal);
      } else {
        room.full = true;
        await once(video, 'timeupdate', signal);
      }
    }
}

const endOf = ({ buffered }: HTMLVideoElement): number => (buffered.length > 0 ? buffered.end(buffered.length - 1) : 0);

async function handOn(
  source: MediaSource,
  address: string,
  to: { video: HTMLVideoElement; room: Room; signal: AbortSignal },
): Promise<void> {
  const { video, signal } = to;
  if (source.readyState !== 'open') await once(source, 'sourceopen', signal);
  const response = await fetch(address, { signal });
  if (!response.ok || !response.body) throw new Error(`the server answered ${response.status}`);
  const reader = response.body.getReader();
  let buffer: SourceBuffer | null = null;
  let begin = new Uint8Array(0);
  for (;;) {
    while (!signal.aborted && endOf(video) - video.currentTime > mostAhead) await once(video, 'timeupdate', signal);
    const { value, done } = await reader.read();
    if (done || signal.aborted) break;
    if (buffer) {
      await append(buffer, value, to);
      continue;
    }
    const longer = new Uint8Array(begin.length + value.length);
    longer.set(begin);
    longer.set(value, begin.length);
    begin = longer;
    const type = streamType(begin);
    if (type === null) continue;
    buffer = source.addSourceBuffer(type);
    await append(buffer, begin, to);
  }
  if (!signal.aborted && source.readyState === 'open') source.endOfStream(buffer ? undefined : 'decode');
}

/**
 * Gives an element a stream, and says how far it has come. A browser that fetches it by itself keeps a few seconds of it
 * ahead and says of fewer: what comes slowly could not be gathered. One without media sources does so all the same.
 */
export function feed(video: HTMLVideoElement, address: string, signal: AbortSignal): Feed {
  if (!('MediaSource' in window)) {
    video.src = address;
    return { end: () => endOf(video), comes: () => video.networkState === video.NETWORK_LOADING };
  }
  const source = new MediaSource();
  const held = URL.createObjectURL(source);
  video.src = held;
  let comes = true;
  const room: Room = { full: false };
  signal.addEventListener('abort', () => URL.revokeObjectURL(held), { once: true });
  handOn(source, address, { video, room, signal })
    .catch(() => {
      if (!signal.aborted && source.readyState === 'open') source.endOfStream('network');
    })
    .finally(() => {
      comes = false;
    });
  return { end: () => endOf(video), comes: () => comes && !room.full };
}
