import { request as ask } from 'node:http';
import { mkdir, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { sampleClip } from '@relay/core/clip/sample';
import { finishAndCut } from '@relay/core/recipe/recipe';
import { startTestServer, type TestServer } from '../testing/server.ts';
import { allRows } from '@relay/contract/routes/all';
import type { Row } from '@relay/contract/routes/route';

let server: TestServer;
beforeAll(async () => {
  server = await startTestServer();
  await mkdir(join(server.database.home, 'raid'), { recursive: true });
  await server.database.stores.put('Raid', join(server.database.home, 'raid'));
});
afterAll(() => server?.close());

/** Every row there is: none can be left out by forgetting it here. */
const routes = Object.values(allRows)
  .flatMap((rows): Row[] => Object.values(rows))
  .filter(({ path }) => path !== '/live');

/** A request as its bytes are, whatever they are: `fetch` would put them right. */
function raw(
  method: string,
  path: string,
  body: Buffer | null,
  headers: Record<string, string> = {},
): Promise<{ status: number; text: string }> {
  const { hostname, port } = new URL(server.address);
  return new Promise((resolve, reject) => {
    const sent = ask(
      {
        method,
        hostname,
        port,
        path,
        headers: {
          ...(body ? { 'Content-Type': 'application/json', 'Content-Length': String(body.length) } : {}),
          ...headers,
        },
      },
      (answer) => {
        let text = '';
        answer
          .setEncoding('utf8')
          .on('data', (chunk: string) => (text += chunk))
          .on('end', () => resolve({ status: answer.statusCode ?? 0, text }));
      },
    );
    sent.on('error', reject);
    sent.end(body ?? undefined);
  });
}

const unknown = '00000000-0000-4000-8000-000000000000';
const texts = [
  '\0',
  '\ud800',
  '../../etc/passwd',
  '/etc/passwd',
  'a/../../b',
  '\\..\\x',
  "'; DROP TABLE leg; --",
  'x'.repeat(5_000),
  'a/'.repeat(1_900),
  '＝1+1',
  '{}',
  'null',
  '-1',
  '1e999',
];
const json = (value: unknown): Buffer => Buffer.from(JSON.stringify(value));

/** What a body may be made of, whatever its route: names that routes know, with values that they do not. */
function bodies(): (Buffer | null)[] {
  const names = [
    'name',
    'store',
    'folder',
    'path',
    'clips',
    'recipe',
    'definition',
    'text',
    'change',
    'rule',
    'answer',
    'note',
    'words',
    'pattern',
    'field',
    'to',
    'chain',
    'card',
    'slot',
    'destinations',
    'quiet',
    'elsewhere',
    'legs',
    'before',
    'deliverable',
  ];
  const all = (value: unknown): Buffer => json(Object.fromEntries(names.map((name) => [name, value])));
  return [
    null,
    Buffer.from(''),
    Buffer.from('{'),
    Buffer.from('[]'),
    Buffer.from('null'),
    Buffer.from('"x"'),
    Buffer.from([0xff, 0xfe, 0x00]),
    Buffer.from('{"a":"\\u0000"}'),
    Buffer.from('{"name":"\\ud800","store":"raid","folder":"\\u0000"}'),
    Buffer.from(`${'['.repeat(5_000)}${']'.repeat(5_000)}`),
    Buffer.from('{"__proto__":{"x":1},"constructor":{}}'),
    all(null),
    all([]),
    all({}),
    all(unknown),
    all([unknown]),
    all(9e18),
    all(-1),
    ...texts.slice(2).map(all),
  ];
}

describe('whatever is asked', () => {
  it('is never answered with a fault of ours', async () => {
    const faults: string[] = [];
    let asked = 0;
    for (const { method, path } of routes) {
      const fill = (value: string): string =>
        path.replace(/:\w+/g, encodeURIComponent(value)).replace(/\.:format/, '.csv');
      const paths = [
        fill(unknown),
        fill('raid'),
        `${fill(unknown)}?folder=%00&store=raid&filter=%ED%A0%80`,
        `${fill(unknown)}?store=raid&folder=${encodeURIComponent('a/'.repeat(1_900))}`,
        `${fill(unknown)}?folder[]=1&folder[x]=2&store=a&store=b`,
        path.replace(/:\w+/g, '%'),
        path.replace(/:\w+/g, '%00'),
        path.replace(/:\w+/g, '%ED%A0%80'),
        path.replace(/:\w+/g, '..%2f..%2fetc%2fpasswd'),
      ];
      for (const one of paths) {
        for (const body of method === 'GET'
          ? [null]
          : one === paths[0] || one === paths[1]
            ? bodies()
            : [null, json({})]) {
          const { status, text } = await raw(method, `/api${one}`, body);
          asked += 1;
          if (status >= 500 || /at \w+.*\(.*:\d+:\d+\)/.test(text))
            faults.push(
              `${status} ${method} ${one.slice(0, 120)} ${body?.toString().slice(0, 80) ?? ''}: ${text.slice(0, 160)}`,
            );
        }
      }
      const odd: Record<string, string>[] = [
        { 'Content-Type': 'application/json; charset=nonsense' },
        { 'Content-Encoding': 'nonsense' },
        { 'Content-Encoding': 'gzip' },
        { Cookie: 'relay-page=%' },
      ];
      for (const headers of odd) {
        if (method === 'GET') continue;
        const { status } = await raw(method, `/api${fill(unknown)}`, json({ name: 'x' }), headers);
        asked += 1;
        if (status >= 500) faults.push(`${status} ${method} ${path} ${JSON.stringify(headers)}`);
      }
    }
    expect(faults).toEqual([]);
    // One of these requests may take a store off the list, and did.
    await server.database.stores.put('Raid', join(server.database.home, 'raid'));
    // Or nothing was tried.
    expect(asked).toBeGreaterThan(1_500);
  });

  it('more than a route takes is refused as that, and compressed answers are private', async () => {
    const large = json({ name: 'x'.repeat(3_000_000) });
    expect((await raw('POST', '/api/productions', large)).status).toBe(413);
    const answer = await fetch(`${server.address}/productions`);
    expect(answer.headers.get('cache-control')).toBe('private, no-cache');
    const policy = answer.headers.get('content-security-policy') ?? '';
    expect(policy).toContain("default-src 'none'");
    // Scripts of our own and WebAssembly, and no text that becomes a script.
    expect(policy).toMatch(/script-src 'self' 'wasm-unsafe-eval'(;|$)/);
    for (const kind of [
      'script-src',
      'style-src',
      'img-src',
      'media-src',
      'font-src',
      'connect-src',
      'worker-src',
      'object-src',
      'frame-src',
      'base-uri',
      'form-action',
      'frame-ancestors',
    ])
      expect(policy, kind).toContain(`${kind} `);
  });

  it('a card with a pipe for a list holds nothing up', async () => {
    await mkdir(join(server.database.home, 'raid/card'), { recursive: true });
    const { call } = await import('../testing/commands.ts');
    await call('mkfifo', [join(server.database.home, 'raid/card/card.md5')]);
    await writeFile(join(server.database.home, 'raid/card/a.mov'), 'x');
    const { status, body } = await server.post<{ id: string }>('/productions', { name: 'Pipes' });
    expect(status).toBe(201);
    const asked = await Promise.all(
      Array.from({ length: 8 }, () =>
        server.get<{ files: number; notCopied: { shownPath: string }[] }>(
          `/productions/${body.id}/card?store=raid&folder=card`,
        ),
      ),
    );
    expect(asked.map((one) => [one.files, one.notCopied.map((left) => left.shownPath)])).toEqual(
      Array.from({ length: 8 }, () => [1, ['card.md5']]),
    );
  });
});

describe('what the desk refuses', () => {
  it('is refused in the same words as here', async () => {
    const { body: production } = await server.post<{ id: string }>('/productions', { name: 'Desk' });
    const { database } = server;
    const [clip] = await database.db.query<{ id: string }[]>(
      `INSERT INTO clip (production_id, store_id, root, path, stem, roll, description) VALUES ($1, 'raid', 'cards', 'C1.mov', 'C1', 'A001', $2) RETURNING id`,
      [production.id, JSON.stringify(sampleClip())],
    );
    const [recipe] = await database.db.query<{ id: string }[]>(
      'INSERT INTO recipe (definition) VALUES ($1) RETURNING id',
      [JSON.stringify(finishAndCut)],
    );
    const choice = { clips: [clip?.id], recipe: recipe?.id, store: 'raid' };
    const check = (folder: string, rest = {}): Promise<{ status: number; body: unknown }> =>
      server.post(`/productions/${production.id}/run-check`, { ...choice, folder, ...rest });
    expect((await check('../../..')).status).toBe(400);
    expect((await check('cards/out')).status).toBe(400);
    expect((await check('out', { store: 'nowhere' })).status).toBe(404);
    expect((await check('out', { recipe: unknown })).status).toBe(404);
    expect(await check('out')).toMatchObject({ status: 200, body: { clips: 1 } });
  });
});

describe('a page that is not ours', () => {
  const asked = (method: string, headers: Record<string, string>): Promise<number> =>
    raw(method, '/api/site', method === 'GET' ? null : Buffer.from('{}'), headers).then(({ status }) => status);

  it('is not answered, whatever name it got this machine to go by, nor by another page of this machine', async () => {
    const { host } = new URL(server.address);
    expect(await asked('GET', { Host: host })).toBe(200);
    // A name that somebody's own name server leads here (DNS rebinding).
    for (const name of ['relay.example:80', `127.0.0.1.example:${host.split(':')[1] ?? ''}`, 'localhost.example'])
      expect(await asked('GET', { Host: name }), name).toBe(403);
    for (const Origin of ['http://relay.example', 'http://127.0.0.1:1', 'null'])
      expect(await asked('POST', { Host: host, Origin }), Origin).toBe(403);
    expect(await asked('POST', { Host: host, Origin: `http://${host}` })).not.toBe(403);
  });
});
