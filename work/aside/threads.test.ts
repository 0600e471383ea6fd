import { afterAll, expect, it } from 'vitest';
import { pause, until } from '../../testing/site.ts';
import { Threads } from './threads.ts';

const nothing = { task: 'nothing', input: [], asText: false };
const threads = new Threads({ name: 'aside', most: 3 });
afterAll(() => threads.close());

it('one thread is started at once, and the others later, each once', async () => {
  await threads.warm(nothing, 60, 1_000);
  expect(threads.started).toBe(1);
  await until('the others', async () => threads.started === 3);
  await pause(300);
  expect(threads.started).toBe(3);
});

it('what is closed before starts no more', async () => {
  const closed = new Threads({ name: 'aside', most: 3 });
  await closed.warm(nothing, 60, 200);
  await closed.close();
  await pause(500);
  expect(closed.started).toBe(0);
});
