import type { Request, Response } from 'express';
import { EventEmitter } from 'node:events';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { startDatabase, type TestDatabase } from '../../testing/database.ts';
import { until } from '../../testing/site.ts';
import { channel } from './notify.ts';
import { LiveStream } from './stream.ts';

let database: TestDatabase;
beforeAll(async () => {
  database = await startDatabase();
});
afterAll(() => database.close());

/** A page on the line, and what came to it. */
function page(stream: LiveStream, waitingBytes = 0) {
  const came: string[] = [];
  const request = new EventEmitter();
  let status: number | null = null;
  let dropped = false;
  const response = {
    writableLength: waitingBytes,
    writeHead: (code: number) => void (status = code),
    write: (text: string) => came.push(text),
    end: () => undefined,
    destroy: () => {
      dropped = true;
    },
    status: (code: number) => {
      status = code;
      return response;
    },
    set: () => response,
  };
  stream.open(request as unknown as Request, response as unknown as Response);
  return { came, leave: () => request.emit('close'), status: () => status, dropped: () => dropped };
}
const notify = (text: string): Promise<unknown> => database.db.query('SELECT pg_notify($1, $2)', [channel, text]);
const fresh = `data: ${JSON.stringify({ kind: 'changed', what: 'productions', production: null })}\n\n`;

it('comes back after the database let it go, asks pages to fetch afresh, and goes on', async () => {
  const stream = new LiveStream(database.url);
  const open = page(stream);
  try {
    await until('the beginning', async () => open.came.includes(fresh));
    await notify('one');
    await until('the first word', async () => open.came.includes('data: one\n\n'));
    open.came.length = 0;
    const ended = await database.db.query<unknown[]>(
      `SELECT pg_terminate_backend(pid) FROM pg_stat_activity WHERE query = $1`,
      [`LISTEN ${channel}`],
    );
    expect(ended.length).toBeGreaterThan(0);
    await until('the beginning', async () => open.came.includes(fresh));
    await notify('two');
    await until('the second word', async () => open.came.includes('data: two\n\n'));
    expect(open.came.filter((text) => text.includes('two'))).toHaveLength(1);
    open.leave();
    const left = open.came.length;
    const other = page(stream);
    await notify('three');
    await until('the third word', async () => other.came.includes('data: three\n\n'));
    expect(open.came).toHaveLength(left);
  } finally {
    await stream.close();
  }
});

it('drops a page that takes nothing, and goes on with the others', async () => {
  const stream = new LiveStream(database.url);
  try {
    const [full, stuck] = [page(stream, 1 << 20), page(stream, (1 << 20) + 1)];
    await until('the beginning', async () => full.came.includes(fresh));
    expect([stuck.dropped(), stuck.came.includes(fresh), full.dropped()]).toEqual([true, false, false]);
  } finally {
    await stream.close();
  }
});

it('takes 256 pages and no more', async () => {
  const stream = new LiveStream(database.url);
  try {
    const pages = Array.from({ length: 256 }, () => page(stream));
    expect(new Set(pages.map((one) => one.status()))).toEqual(new Set([200]));
    const tooMany = page(stream);
    expect([tooMany.status(), tooMany.came]).toEqual([503, []]);
    pages[0]?.leave();
    expect(page(stream).status()).toBe(200);
  } finally {
    await stream.close();
  }
});
