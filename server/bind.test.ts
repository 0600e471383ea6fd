import express from 'express';
import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { file, json, made, nothing, row } from '@relay/contract/routes/route';
import { z } from 'zod';
import { bind, gone } from './bind.ts';
import { JsonBytes, orNotThere } from './jsonBytes.ts';
import { answerErrors } from './http.ts';

const rows = {
  one: row({
    method: 'GET',
    path: '/things/:thing',
    who: 'assistant',
    query: z.object({ times: z.coerce.number().default(1) }),
    answer: json(z.strictObject({ thing: z.string(), times: z.number() })),
  }),
  add: row({
    method: 'POST',
    path: '/things',
    who: 'assistant',
    body: z.strictObject({ name: z.string().min(1) }),
    answer: made(z.strictObject({ name: z.string() })),
  }),
  drop: row({ method: 'DELETE', path: '/things/:thing', who: 'assistant', answer: nothing }),
  bytes: row({
    method: 'POST',
    path: '/bytes',
    who: 'assistant',
    answer: json(z.strictObject({ bytes: z.number() })),
    carries: { bytes: 10 },
  }),
  written: row({ method: 'GET', path: '/written', who: 'assistant', answer: file }),
  asBytes: row({ method: 'GET', path: '/as-bytes', who: 'assistant', answer: json(z.strictObject({ a: z.number() })) }),
  wrong: row({ method: 'GET', path: '/wrong', who: 'assistant', answer: json(z.strictObject({ at: z.string() })) }),
  more: row({ method: 'GET', path: '/more', who: 'assistant', answer: json(z.strictObject({ a: z.number() })) }),
  absent: row({ method: 'GET', path: '/absent', who: 'assistant', answer: json(z.strictObject({ a: z.number() })) }),
};
const thing = '0b9a3c1e-4d5f-4a6b-8c7d-9e0f1a2b3c4d';
const unforeseen: string[] = [];
let server: Server;
let address: string;

beforeAll(async () => {
  const router = express.Router();
  bind(router, rows, {
    one: async ({ params, query }) => ({ thing: params.thing, times: query.times }),
    add: async ({ body }) => body,
    drop: async () => undefined,
    bytes: async ({ body }) => ({ bytes: body.length }),
    written: async ({ response }) => void response.type('text').send('by hand'),
    asBytes: async () => new JsonBytes<{ a: number }>(Buffer.from('{"a":1}')),
    // As a database gives a time that nobody made text: JSON makes it one, and the row is held to what goes out.
    wrong: async () => ({ at: 7 }) as unknown as { at: string },
    more: async () => new JsonBytes<{ a: number }>(Buffer.from('{"a":1,"secret":2}')),
    absent: async () => orNotThere(new JsonBytes<{ a: number } | null>(Buffer.from('null')), 'The thing'),
  });
  const app = express();
  app.use(router);
  app.use(answerErrors((error) => unforeseen.push(error.message)));
  server = createServer(app);
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
  address = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
});
afterAll(() => server.close());

async function ask(path: string, init?: RequestInit): Promise<{ status: number; body: unknown }> {
  const response = await fetch(address + path, init);
  const text = await response.text();
  return { status: response.status, body: text.startsWith('{') ? JSON.parse(text) : text };
}
const post = (body: string | Uint8Array): RequestInit => ({
  method: 'POST',
  headers: { 'Content-Type': 'application/json' },
  body: body as BodyInit,
});

describe('what is bound to a row', () => {
  it('is given what was asked, checked, and answers as the row says', async () => {
    expect(await ask(`/things/${thing}?times=3`)).toEqual({ status: 200, body: { thing, times: 3 } });
    expect(await ask('/things', post('{"name":"a"}'))).toEqual({ status: 201, body: { name: 'a' } });
    expect(await ask(`/things/${thing}`, { method: 'DELETE' })).toEqual({ status: 204, body: '' });
    expect(await ask('/written')).toEqual({ status: 200, body: 'by hand' });
    expect(await ask('/as-bytes')).toEqual({ status: 200, body: { a: 1 } });
    expect(await ask('/bytes', post('12345'))).toEqual({ status: 200, body: { bytes: 5 } });
  });

  it('never sees what is not as the row says', async () => {
    expect((await ask('/things/raid')).status).toBe(404);
    expect((await ask(`/things/${thing}?times=x`)).status).toBe(400);
    expect((await ask('/things', post('{"name":""}'))).status).toBe(400);
    expect((await ask('/things', post('{"name":"a","also":1}'))).status).toBe(400);
    expect((await ask('/things', post('{"name":"a\\u0000"}'))).status).toBe(400);
    expect((await ask('/bytes', post(''))).status).toBe(400);
    expect((await ask('/bytes', post('12345678901'))).status).toBe(413);
    expect((await ask('/things', post(JSON.stringify({ name: 'a'.repeat(200_000) })))).status).toBe(413);
    expect((await ask('/absent')).body).toEqual({ error: expect.objectContaining({ what: expect.any(String) }) });
    expect((await ask('/absent')).status).toBe(404);
    expect(unforeseen).toEqual([]);
  });

  it('is found out in tests where it answers otherwise than its row says', async () => {
    expect((await ask('/wrong')).status).toBe(500);
    expect((await ask('/more')).status).toBe(500);
    expect(unforeseen).toEqual([
      expect.stringMatching(/^GET \/wrong is answered otherwise than its row says: at: /),
      expect.stringMatching(/^GET \/more is answered otherwise than its row says: : .*secret/),
    ]);
  });
});

it('what nobody waits for is not answered', async () => {
  const router = express.Router();
  bind(router, { one: rows.asBytes }, { one: async (): Promise<typeof gone> => gone });
  const app = express();
  app.use(router);
  const silent = createServer(app);
  await new Promise<void>((resolve) => silent.listen(0, '127.0.0.1', resolve));
  const { port } = silent.address() as AddressInfo;
  const asked = fetch(`http://127.0.0.1:${port}/as-bytes`, { signal: AbortSignal.timeout(400) });
  await expect(asked).rejects.toThrow();
  silent.closeAllConnections();
  silent.close();
});
