import { mkdir } from 'node:fs/promises';
import { join } from 'node:path';
import { onTestFinished } from 'vitest';
import type { WatchEvent } from '@relay/contract/watch';
import { planBatch } from '@relay/core/recipe/batch';
import type { OutputPlace, Recipe } from '@relay/core/recipe/recipe';
import { finishAndCut } from '@relay/core/recipe/recipe';
import type { Root } from '@relay/work/disk/held';
import { openSheet } from '@relay/work/leg/sheet';
import { AloneInlet, type AloneOptions } from '@relay/work/watch/aloneInlet';
import { InletMemory } from '@relay/work/watch/memory';
import { ffmpegMakes } from './commands.ts';
import { pause } from './site.ts';

/** One light output of each clip. */
export const light: Recipe = {
  ...finishAndCut,
  name: 'Light',
  deliverables: finishAndCut.deliverables.filter(({ role }) => role === 'proxy'),
};

/** A clip of a few small pictures; `look` tells it from others. */
export async function paintClip(path: string, look: number, frames = 5): Promise<void> {
  await ffmpegMakes(
    ...['-f', 'lavfi', '-i', `gradients=s=320x180:r=25:seed=${look}:speed=0.15`, '-frames:v', String(frames)],
    ...['-c:v', 'libx264', '-preset', 'veryfast', '-crf', '12', '-pix_fmt', 'yuv420p'],
    ...['-timecode', `10:${String(look % 60).padStart(2, '0')}:00:00`, path],
  );
}

export type Told = WatchEvent & { atMs: number };

/** An inlet that this process keeps, and everything that was told of it. */
export class TestInlet {
  readonly told: Told[] = [];
  private readonly stop = new AbortController();
  private ended: Promise<unknown> = Promise.resolve();

  private constructor(
    readonly source: string,
    readonly out: string,
  ) {}

  static async at(home: string): Promise<TestInlet> {
    const watched = new TestInlet(join(home, 'in'), join(home, 'out'));
    await mkdir(watched.source, { recursive: true });
    await mkdir(watched.out, { recursive: true });
    return watched;
  }

  /** Begins to watch; answers when it ends, which it does by itself only with `once`. */
  watch(
    rest: Partial<AloneOptions> & { recipe?: Recipe; elsewhere?: (place: OutputPlace) => Root } = {},
  ): Promise<Awaited<ReturnType<AloneInlet['follow']>>> {
    const following = this.follow(rest);
    this.ended = following;
    onTestFinished(() => this.over());
    return following;
  }

  private async follow({ recipe = light, elsewhere, ...rest }: Parameters<TestInlet['watch']>[0] = {}): ReturnType<
    AloneInlet['follow']
  > {
    const memory = await InletMemory.open(this.out);
    const sheet = await openSheet(this.out);
    try {
      return await new AloneInlet({
        source: this.source,
        out: this.out,
        outs: [this.out],
        rules: { quietMs: 600, partner: null },
        memory,
        plan: (clips) =>
          planBatch(
            clips.map((clip) => ({ clip, whole: 'in' })),
            recipe,
            [],
          ),
        leg: { whole: 'in', recorded: (path) => sheet.recorded(path), record: (row) => sheet.record(row), elsewhere },
        owner: 'test',
        originalOf: (path) => sheet.originalOf(path),
        moves: false,
        receipts: [],
        once: false,
        lanes: 2,
        signal: this.stop.signal,
        tell: (event) => this.told.push({ ...event, atMs: performance.now() }),
        ...rest,
      }).follow();
    } finally {
      await memory.close();
    }
  }

  /** Stops watching, and waits until it has ended. */
  async over(): Promise<void> {
    this.stop.abort();
    await this.ended.catch(() => undefined);
  }

  of<E extends WatchEvent['event']>(event: E): Extract<Told, { event: E }>[] {
    return this.told.filter((one): one is Extract<Told, { event: E }> => one.event === event);
  }

  /** What was made, by original, in order of the names. */
  get made(): string[] {
    return this.of('made')
      .map(({ original }) => original)
      .sort();
  }

  async until(what: string, holds: () => boolean | Promise<boolean>, seconds = 480): Promise<void> {
    const end = Date.now() + seconds * 1000;
    while (!(await holds())) {
      if (Date.now() > end)
        throw new Error(`${what} was waited for in vain; told: ${JSON.stringify(this.told.slice(-12), null, 1)}`);
      await pause(50);
    }
  }
}
