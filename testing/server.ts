import { join } from 'node:path';
import { freePort } from '@relay/cli/site/postgres';
import { startServer } from '@relay/server/app';
import { startWorker } from '@relay/server/worker';
import { startDatabase, type TestDatabase } from './database.ts';

/** Server, worker and database in this process, with two stores and a card bay. */
export interface TestServer {
  database: TestDatabase;
  address: string;
  get<T>(path: string): Promise<T>;
  post<T>(path: string, body?: unknown): Promise<{ status: number; body: T }>;
  close(): Promise<void>;
}

export async function startTestServer(): Promise<TestServer> {
  const database = await startDatabase();
  const { home, storesFile, url: databaseUrl } = database;
  const port = await freePort();
  const cacheFolder = join(home, 'cache');
  const server = await startServer({ databaseUrl, storesFile, cacheFolder, webFolder: join(home, 'none'), port });
  const worker = await startWorker({
    databaseUrl: database.workerUrl,
    storesFile,
    cacheFolder,
    slots: 1,
    title: 'the one',
    codecs: null,
    legsOnly: false,
  });
  const address = `http://127.0.0.1:${port}/api`;
  return {
    database,
    address,
    get: async <T>(path: string) => (await fetch(address + path)).json() as Promise<T>,
    post: async <T>(path: string, body: unknown = {}) => {
      const response = await fetch(address + path, {
        method: 'POST',
        headers: { 'Content-Type': 'application/json' },
        body: JSON.stringify(body),
      });
      return { status: response.status, body: (response.status === 204 ? undefined : await response.json()) as T };
    },
    async close() {
      await worker.close();
      await server.close();
      await database.close();
    },
  };
}
