import type { Request, Response } from 'express';
import pg from 'pg';
import { channel } from './notify.ts';

/** Pages on the line at most: each costs a connection. */
const mostPages = 256;
/** A page that has not taken so many bytes is dropped; when it comes back, it fetches afresh. */
const mostWaitingBytes = 1 << 20;

/** Passes the database's notifications on to every open page, as server-sent events. */
export class LiveStream {
  private readonly pages = new Set<Response>();
  private client: pg.Client | null = null;
  private closed = false;
  private readonly heart: NodeJS.Timeout;

  constructor(private readonly url: string) {
    // A comment now and then keeps proxies and sleeping laptops from dropping the line unnoticed.
    this.heart = setInterval(() => this.write(': beat\n\n'), 15_000);
    void this.listen();
  }

  private async listen(): Promise<void> {
    const client = new pg.Client({ connectionString: this.url });
    let over = false;
    const again = (): void => {
      // A broken line reports itself more than once; it is replaced by one new line.
      if (over) return;
      over = true;
      this.client = null;
      void client.end().catch(() => undefined);
      if (!this.closed) setTimeout(() => void this.listen(), 1_000);
    };
    client.on('error', again);
    client.on('end', again);
    client.on('notification', (message) => this.send(message.payload ?? '{}'));
    try {
      this.client = client;
      await client.connect();
      await client.query(`LISTEN ${channel}`);
      // Whatever was missed while the line was down: pages fetch afresh.
      this.send(JSON.stringify({ kind: 'changed', what: 'productions', production: null }));
    } catch {
      again();
    }
  }

  private send(payload: string): void {
    this.write(`data: ${payload}\n\n`);
  }

  private write(text: string): void {
    for (const page of this.pages) {
      if (page.writableLength > mostWaitingBytes) {
        this.pages.delete(page);
        page.destroy();
      } else page.write(text);
    }
  }

  readonly open = (request: Request, response: Response): void => {
    if (this.pages.size >= mostPages) {
      response.status(503).set('Retry-After', '10').end();
      return;
    }
    response.writeHead(200, {
      'Content-Type': 'text/event-stream',
      'Cache-Control': 'no-store',
      Connection: 'keep-alive',
      'X-Accel-Buffering': 'no',
    });
    response.write('retry: 1000\n\n');
    this.pages.add(response);
    request.on('close', () => this.pages.delete(response));
  };

  async close(): Promise<void> {
    this.closed = true;
    clearInterval(this.heart);
    this.pages.forEach((page) => page.end());
    await this.client?.end().catch(() => undefined);
  }
}
