import { spawn, type ChildProcess } from 'node:child_process';
import { join } from 'node:path';
import { isRefusal } from '@relay/core/clip/description';
import { finishAndCut, type Recipe } from '@relay/core/recipe/recipe';
import { describeFile } from '@relay/media/describe/describe';
import { ffmpeg, inputArguments } from '@relay/media/process/ffmpeg';
import { run } from '@relay/media/process/run';
import { openQueue } from '@relay/server/queue/boss';
import { planClips } from '@relay/server/runs/plans';
import { startRun } from '@relay/server/runs/service';
import { liveWorkers } from '@relay/server/queue/roster';
import { secondsSince } from '../numbers.ts';
import { withSite } from '../site.ts';

const name = 'A001C003.mov';
const recipe: Recipe = { ...finishAndCut, deliverables: finishAndCut.deliverables.slice(0, 1) };

/**
 * One long HD clip to an intermediate: on a worker that has one core to itself, and on two such workers, each taken for
 * a machine.
 */
export async function benchSegments(args: readonly string[]): Promise<void> {
  const source = args[0] ?? '.relay/painted/estuary/salt-lantern';
  await withSite(async ({ db, databaseUrl, store }) => {
    const long = join(store, 'cards', name);
    const made = await run(
      ffmpeg,
      [
        '-v',
        'error',
        '-stream_loop',
        '19',
        ...inputArguments(join(source, 'day-1/A001/A001C003.mov')),
        '-map',
        '0:v:0',
        '-map',
        '0:a',
        '-c',
        'copy',
        '-y',
        long,
      ],
      { own: true },
    );
    if (made.code !== 0) throw new Error(made.stderr);
    const description = await describeFile(long, name);
    if (isRefusal(description)) throw new Error(description.problem.what);
    const [production] = await db.query<
      {
        id: string;
      }[]
    >(`INSERT INTO production (name) VALUES ('Long') RETURNING id`);
    const [clip] = await db.query<{ id: string }[]>(
      `INSERT INTO clip (production_id, store_id, root, path, stem, roll, description, size_bytes) VALUES ($1, 'raid', 'cards', $2, 'A001C003', 'A001', $3, $4) RETURNING id`,
      [production?.id, name, JSON.stringify(description), description.sizeBytes],
    );
    const planned = planClips(
      [
        {
          id: clip?.id as string,
          storeId: 'raid',
          root: 'cards',
          readAs: null,
          path: name,
          description,
          reel: null,
          scene: null,
          take: null,
          camera: null,
          production: 'Long',
          inForce: {},
          looked: true,
          findings: [],
          decisions: [],
        },
      ],
      recipe,
    );
    console.log(
      `${description.video?.frames ?? 0} frames of ${description.video?.raster.width ?? 0} × ${description.video?.raster.height ?? 0}`,
    );
    const boss = await openQueue(databaseUrl, () => undefined);
    const took: number[] = [];
    for (const workers of [1, 2]) {
      const children = Array.from({ length: workers }, (_, core): ChildProcess =>
        spawn(
          'taskset',
          [
            '-c',
            String(core),
            process.execPath,
            'build/relay.mjs',
            'worker',
            '--name',
            `core ${core}`,
            '--slots',
            '1',
            '--store',
            `raid=${store}`,
          ],
          { env: { ...process.env, RELAY_DATABASE: databaseUrl, RELAY_HOST: `machine-${core}` }, stdio: 'ignore' },
        ),
      );
      try {
        while ((await liveWorkers(db)).length < workers) await new Promise((resolve) => setTimeout(resolve, 300));
        const from = performance.now();
        const id = await startRun(
          db,
          boss,
          {
            production: production?.id as string,
            name: `${workers}`,
            recipe,
            from: null,
            store: 'raid',
            folder: `out-${workers}`,
          },
          planned,
        );
        let leg: { state: string; log: string } | undefined;
        while (leg === undefined || ['waiting', 'running', 'proving'].includes(leg.state)) {
          await new Promise((resolve) => setTimeout(resolve, 300));
          [leg] = await db.query<
            {
              state: string;
              log: string;
            }[]
          >('SELECT state, log FROM leg WHERE run_id = $1', [id]);
        }
        took.push(secondsSince(from));
        console.log(
          `${workers} of one core: ${took.at(-1)?.toFixed(1)} s, ${leg.state}${[...leg.log.matchAll(/cut in \d+ segments|made by .* workers?|made whole after all.*/g)].map(([part]) => `, ${part}`).join('')}`,
        );
      } finally {
        children.forEach((child) => child.kill('SIGTERM'));
        while ((await liveWorkers(db)).length > 0) await new Promise((resolve) => setTimeout(resolve, 300));
      }
    }
    await boss.stop({ graceful: false, wait: true });
    console.log(`two over one: ${((took[1] as number) / (took[0] as number)).toFixed(3)}`);
  });
}
