import type { ClipsAnswer } from '@relay/contract/clips';
import { refreshClips } from '@relay/server/clips/refresh';
import { median, secondsSince } from '../numbers.ts';
import { inventClips, withSite } from '../site.ts';

const rounds = 20;

/** What nineteen of twenty keep to. */
function share95(times: readonly number[]): number {
  return [...times].sort((a, b) => a - b)[Math.ceil(times.length * 0.95) - 1] as number;
}

/**
 * A production of invented clips (ten thousand, or as many as are said) on a database and server of its own; what the
 * sheet asks, measured at the server's door.
 */
export async function benchSheet(args: readonly string[]): Promise<void> {
  const clips = Number(args[0] ?? 10_000);
  await withSite(async ({ db, at }) => {
    let from = performance.now();
    const production = await inventClips(db, clips);
    console.log(`${clips} clips written in ${secondsSince(from).toFixed(1)} s`);
    from = performance.now();
    await refreshClips(db, production);
    console.log(`findings of all worked out in ${secondsSince(from).toFixed(1)} s`);
    // As PostgreSQL does by itself within a minute.
    await db.query('VACUUM ANALYZE clip');

    const questions: readonly (readonly [string, string])[] = [
      ['first rows, by group', ''],
      ['sorted by name', 'sort=name'],
      ['sorted by what is to know', 'sort=notes'],
      ['sorted by scene', 'sort=scene&direction=down'],
      ['filtered: interlaced', 'filter=interlaced'],
      ['filtered: one clip', 'filter=B017C042'],
      ['filtered: decide -h.264', 'filter=decide%20-h.264'],
      ['filtered and sorted', 'filter=2160&sort=starts'],
    ];
    for (const [name, query] of questions) {
      const times: number[] = [];
      let answer: ClipsAnswer | null = null;
      for (let round = 0; round < rounds; round += 1) {
        from = performance.now();
        answer = (await (await fetch(`${at}/api/productions/${production}/clips?${query}`)).json()) as ClipsAnswer;
        times.push(performance.now() - from);
      }
      console.log(
        `${name.padEnd(28)} ${median(times).toFixed(0).padStart(4)} ms median, ${Math.max(...times)
          .toFixed(0)
          .padStart(
            4,
          )} ms worst of ${rounds}; ${answer?.ids.length ?? 0} clips, ${answer?.groups.length ?? 0} groups (aim: ${clips > 10_000 ? (query === '' ? 300 : 200) : 150} ms; 95 % within ${share95(times).toFixed(0)} ms)`,
      );
    }
    const { ids } = (await (await fetch(`${at}/api/productions/${production}/clips?`)).json()) as ClipsAnswer;
    console.log(
      `memory of this process, server and bench together: ${(process.memoryUsage().rss / 1e6).toFixed(0)} MB after all questions`,
    );
    const times: number[] = [];
    for (let page = 0; page < 30; page += 1) {
      from = performance.now();
      await (
        await fetch(`${at}/api/productions/${production}/clips/lines`, {
          method: 'POST',
          headers: { 'Content-Type': 'application/json' },
          body: JSON.stringify({ clips: ids.slice(page * 300, page * 300 + 100) }),
        })
      ).json();
      times.push(performance.now() - from);
    }
    console.log(
      `${'a page of 100 lines'.padEnd(28)} ${median(times).toFixed(0).padStart(4)} ms median, ${Math.max(...times)
        .toFixed(0)
        .padStart(4)} ms worst of ${times.length}`,
    );
  });
}
