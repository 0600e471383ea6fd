import type { RunLine } from '@relay/contract/runs';
import { finishAndCut } from '@relay/core/recipe/recipe';
import { existsSync } from 'node:fs';
import { resolve } from 'node:path';
import { refreshClips } from '@relay/server/clips/refresh';
import { openQueue } from '@relay/server/queue/boss';
import { claimForemost, endLeg, renewLease } from '@relay/server/runs/claims';
import { clipsToRun, planClips } from '@relay/server/runs/plans';
import { startRun } from '@relay/server/runs/service';
import { median, secondsSince } from '../numbers.ts';
import { inventClips, withSite } from '../site.ts';
import { runPageSmoothness } from './page.ts';

const legs = 10_000;
const turns = 100;

/**
 * A run of ten thousand legs: checked, queued, its bookkeeping leg by leg, its page asked for; and its page in a
 * browser.
 */
export async function benchLegs(): Promise<void> {
  await withSite(async ({ db, databaseUrl, at }) => {
    const production = await inventClips(db, legs);
    await refreshClips(db, production);
    await db.query('ANALYZE clip');
    const clips = (
      await db.query<{ id: string }[]>('SELECT id FROM clip WHERE production_id = $1 ORDER BY path', [production])
    ).map(({ id }) => id);
    const [recipe] = await db.query<{ id: string }[]>('INSERT INTO recipe (definition) VALUES ($1) RETURNING id', [
      JSON.stringify(finishAndCut),
    ]);
    const choice = { clips, recipe: recipe?.id, store: 'raid', folder: 'out' };
    const post = async <Answer>(path: string, body: unknown): Promise<Answer> => {
      const answer = await fetch(`${at}/api${path}`, {
        method: 'POST',
        headers: { 'Content-Type': 'application/json' },
        body: JSON.stringify(body),
      });
      if (!answer.ok) throw new Error(`${path}: ${answer.status} ${(await answer.text()).slice(0, 300)}`);
      return (await answer.json()) as Answer;
    };
    let from = performance.now();
    await post(`/productions/${production}/run-check`, choice);
    console.log(`the check before the run: ${secondsSince(from).toFixed(2)} s (aim: 1 s)`);
    from = performance.now();
    const run = await post<RunLine>(`/productions/${production}/runs`, {
      ...choice,
      name: 'Everything',
      asTheyAre: true,
    });
    console.log(`${legs} legs planned and queued, at the server's door: ${secondsSince(from).toFixed(2)} s (aim: 2 s)`);
    const [jobs] = await db.query<{ n: number }[]>(
      `SELECT count(*)::int AS n FROM pgboss.job WHERE name = 'leg' AND state = 'created'`,
    );
    if (jobs?.n !== legs || run.legs.waiting !== legs) throw new Error(`the queue holds ${jobs?.n} jobs`);

    // The same legs once more, planned already: only writing them down and queueing.
    const planned = planClips(await clipsToRun(db, production, null), finishAndCut);
    const boss = await openQueue(databaseUrl, () => undefined);
    from = performance.now();
    await startRun(
      db,
      boss,
      { production, name: 'Again', recipe: finishAndCut, from: null, store: 'raid', folder: 'again' },
      planned,
    );
    console.log(`of that, written down and queued: ${secondsSince(from).toFixed(2)} s`);
    await boss.stop({ graceful: false, wait: true });

    const times = { claim: [] as number[], renew: [] as number[], end: [] as number[] };
    for (let turn = 0; turn < turns; turn += 1) {
      from = performance.now();
      const leg = await claimForemost(db, 'bench');
      times.claim.push(performance.now() - from);
      if (!leg) throw new Error('no leg waits');
      from = performance.now();
      await renewLease(db, leg.id, 'bench', { state: 'running', framesDone: 10, framesTotal: 100, speed: 1 });
      times.renew.push(performance.now() - from);
      from = performance.now();
      await endLeg(db, leg.id, 'bench', { state: 'proved', problem: null, outputs: [] });
      times.end.push(performance.now() - from);
    }
    for (const [name, all] of Object.entries(times))
      console.log(
        `${name.padEnd(6)} a leg among 20,000: ${median(all).toFixed(1)} ms median, ${Math.max(...all).toFixed(1)} ms worst of ${turns}`,
      );
    console.log(
      `bookkeeping of a leg of one minute, renewed every 0.7 s: ${((100 * (median(times.claim) + median(times.end) + (60 / 0.7) * median(times.renew))) / 60_000).toFixed(2)} % (aim: under 2 %)`,
    );

    const asked: number[] = [];
    let bytes = 0;
    for (let turn = 0; turn < 10; turn += 1) {
      from = performance.now();
      bytes = (await (await fetch(`${at}/api/runs/${run.id}`)).text()).length;
      asked.push(performance.now() - from);
    }
    console.log(`the run's page asked for: ${median(asked).toFixed(0)} ms median, ${(bytes / 1e6).toFixed(1)} MB`);
    if (existsSync('build/web/index.html')) await runPageSmoothness(db, at, production, run.id);
  }, resolve('build/web'));
}
