import { createServer } from 'node:net';
import { expect, it } from 'vitest';
import { freePort } from './postgres.ts';

it('a port that is taken is passed over, a free one is the one that is wanted', async () => {
  const taken = createServer();
  await new Promise<void>((resolve) => taken.listen(0, '127.0.0.1', resolve));
  const { port } = taken.address() as { port: number };
  const other = await freePort(port);
  expect(other).not.toBe(port);
  expect(other).toBeGreaterThan(0);
  await new Promise((resolve) => taken.close(resolve));
  expect(await freePort(port)).toBe(port);
});
