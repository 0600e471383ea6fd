import { afterEach, expect, it, vi } from 'vitest';
import { feed } from './streamFeed.ts';

/** A stream is handed on to an element whose browser has little room: each byte behind the beginning is a second. */

const letters = (text: string): number[] => [...text].map((one) => one.charCodeAt(0));
const box = (kind: string, held: number[]): number[] => [0, 0, 0, 8 + held.length, ...letters(kind), ...held];
const begin = box('moov', box('avcC', [1, 0x42, 0xc0, 0x28]));

/** Stretches of time that are there, as elements tell of them. */
const ranges = (from: number, to: number) => ({ length: to > from ? 1 : 0, start: () => from, end: () => to });

class Held extends EventTarget {
  from = 0;
  to = 0;
  begun = false;
  constructor(private readonly room: number) {
    super();
  }
  get buffered() {
    return ranges(this.from, this.to);
  }
  appendBuffer(piece: Uint8Array): void {
    const seconds = this.begun ? piece.length : 0;
    if (this.to + seconds - this.from > this.room) throw new DOMException('full', 'QuotaExceededError');
    this.begun = true;
    this.to += seconds;
    queueMicrotask(() => this.dispatchEvent(new Event('updateend')));
  }
  remove(_: number, to: number): void {
    this.from = to;
    queueMicrotask(() => this.dispatchEvent(new Event('updateend')));
  }
}

/** A browser with room for so many seconds, and a server that answers with these pieces. */
function browser(room: number, pieces: number[][], status = 200) {
  const buffer = new Held(room);
  let ended: string | undefined | null = null;
  class Source extends EventTarget {
    readyState = 'open';
    addSourceBuffer = (): Held => buffer;
    endOfStream = (why?: string): void => {
      ended = why;
      this.readyState = 'ended';
    };
  }
  vi.stubGlobal('window', { MediaSource: Source });
  vi.stubGlobal('MediaSource', Source);
  vi.stubGlobal('URL', { createObjectURL: () => 'blob:one', revokeObjectURL: () => undefined });
  vi.stubGlobal('fetch', async () => {
    const body = new ReadableStream({
      start: (to) => {
        for (const piece of pieces) to.enqueue(Uint8Array.from(piece));
        to.close();
      },
    });
    return new Response(body, { status });
  });
  const video = Object.assign(new EventTarget(), { currentTime: 0, src: '' });
  Object.defineProperty(video, 'buffered', { get: () => buffer.buffered });
  const over = new AbortController();
  const come = feed(video as unknown as HTMLVideoElement, '/played', over.signal);
  const seenUpTo = (second: number): void => {
    video.currentTime = second;
    video.dispatchEvent(new Event('timeupdate'));
  };
  return { buffer, come, over, seenUpTo, video, ended: () => ended };
}

const until = (look: () => boolean) => vi.waitUntil(look, { timeout: 60_000, interval: 5 });
afterEach(() => vi.unstubAllGlobals());
const seconds = (count: number): number[][] => Array.from({ length: count }, () => [0]);

it('hands on all of a stream, and says when nothing more comes', async () => {
  const { come, ended, video } = browser(100, [begin.slice(0, 9), begin.slice(9), ...seconds(12)]);
  expect(video.src).toBe('blob:one');
  expect(come.comes()).toBe(true);
  await until(() => ended() === undefined && !come.comes());
  expect(come.end()).toBe(12);
});

it('where the browser is full what has come is played, and what was seen makes room for the rest', async () => {
  const { buffer, come, ended, seenUpTo } = browser(10, [begin, ...seconds(16)]);
  await until(() => come.end() === 10 && !come.comes());
  expect(ended()).toBe(null);
  // Nothing that could be gone yet: five seconds behind what is seen are kept.
  seenUpTo(4);
  expect(buffer.from).toBe(0);
  seenUpTo(8);
  await until(() => come.end() === 13);
  expect(buffer.from).toBe(3);
  seenUpTo(11);
  await until(() => ended() === undefined);
  expect([buffer.from, buffer.to]).toEqual([6, 16]);
});

it('fetches a minute and a half ahead of what is seen, and no more', async () => {
  const { come, seenUpTo, ended } = browser(1000, [begin, ...seconds(200)]);
  await until(() => come.end() === 91);
  await new Promise((resolve) => setTimeout(resolve, 50));
  expect([come.end(), ended()]).toEqual([91, null]);
  seenUpTo(20);
  await until(() => come.end() === 111);
});

it('a refusal is the end of the stream by the network', async () => {
  const { ended } = browser(10, [letters('{"error":{}}')], 404);
  await until(() => ended() === 'network');
});

it('what nobody watches is fetched no longer', async () => {
  const { come, over, ended } = browser(10, [begin, ...seconds(16)]);
  await until(() => come.end() === 10);
  over.abort();
  await until(() => !come.comes());
  expect([come.end(), ended()]).toEqual([10, null]);
});
