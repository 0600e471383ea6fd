import { copyFile, mkdir, readdir } from 'node:fs/promises';
import { join } from 'node:path';
import { usualInlet, type InletAnswer, type InletDefinition } from '@relay/contract/inlets';
import { scratchFolder } from './commands.ts';
import { light, paintClip } from './inlet.ts';
import { startTestServer, type TestServer } from './server.ts';
import { pause } from './site.ts';

/** A server with a production and clips to drop, and for each test an inlet's folder and one of outputs. */
export class InletSite {
  private count = 0;
  recipe = '';

  private constructor(
    readonly site: TestServer,
    readonly production: string,
    readonly clips: string,
  ) {}

  static async start(): Promise<InletSite> {
    const site = await startTestServer();
    for (const name of ['Estuary', 'Shuttle']) {
      await mkdir(join(site.database.home, name));
      await site.database.stores.put(name, join(site.database.home, name));
    }
    const clips = await scratchFolder();
    for (let n = 1; n <= 4; n += 1) await paintClip(join(clips, `${n}.mov`), n);
    const { body } = await site.post<{ id: string }>('/productions', { name: 'Salt Lantern' });
    const made = new InletSite(site, body.id, clips);
    made.recipe = await made.newRecipe('Light');
    return made;
  }

  /** Begins another test: folders that nothing lies in. */
  async next(): Promise<void> {
    this.count += 1;
    await mkdir(this.in());
  }

  get name(): string {
    return `Night ${this.count}`;
  }

  /** Of the test: the inlet's folder on Estuary, and that of outputs on Shuttle. */
  get from(): string {
    return `in-${this.count}`;
  }

  get to(): string {
    return `out-${this.count}`;
  }

  /** A path in the inlet's folder. */
  in(...names: string[]): string {
    return join(this.site.database.home, 'Estuary', this.from, ...names);
  }

  async newRecipe(name: string): Promise<string> {
    const { body } = await this.site.post<{ id: string }>('/recipes', {
      definition: { ...light, name },
      group: 'Ours',
      note: '',
    });
    return body.id;
  }

  drop(n: number, name: string): Promise<void> {
    return copyFile(join(this.clips, `${n}.mov`), this.in(name));
  }

  async outputs(): Promise<string[]> {
    const folder = join(this.site.database.home, 'Shuttle', this.to);
    return (await readdir(folder, { recursive: true }).catch(() => [])).filter((name) => name.endsWith('.mov')).sort();
  }

  definition(rest: Partial<InletDefinition> = {}): InletDefinition {
    return {
      name: this.name,
      source: { kind: 'folders', folders: [{ store: 'estuary', folder: this.from }] },
      recipes: [{ recipe: this.recipe, store: 'shuttle', folder: this.to }],
      ...usualInlet,
      quietSeconds: 1,
      ...rest,
    };
  }

  add(
    rest: Partial<InletDefinition> = {},
  ): Promise<{ status: number; body: InletAnswer & { error: { what: string } } }> {
    return this.site.post(`/productions/${this.production}/inlets`, this.definition(rest));
  }

  inlet(id: string): Promise<InletAnswer> {
    return this.site.get<InletAnswer>(`/inlets/${id}`);
  }

  async until(what: string, id: string, holds: (now: InletAnswer) => boolean, seconds = 480): Promise<InletAnswer> {
    const end = Date.now() + seconds * 1000;
    for (;;) {
      const now = await this.inlet(id);
      if (holds(now)) return now;
      if (Date.now() > end) {
        const failed = await this.site.database.db.query<unknown[]>(`SELECT problem FROM leg WHERE state = 'failed'`);
        throw new Error(`${what} was waited for in vain: ${JSON.stringify({ failed, now }, null, 1)}`);
      }
      await pause(100);
    }
  }
}

export const proved = ({ things }: InletAnswer): number =>
  things.reduce((sum, { legs }) => sum + (legs.proved ?? 0), 0);
