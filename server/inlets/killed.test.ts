import { chmod, copyFile, mkdir, readdir, readFile, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { expect, it } from 'vitest';
import { usualInlet, type InletAnswer } from '@relay/contract/inlets';
import type { RunAnswer, RunLine } from '@relay/contract/runs';
import { scratchFolder } from '../../testing/commands.ts';
import { light, paintClip } from '../../testing/inlet.ts';
import { pause, startSite, until } from '../../testing/site.ts';

const files = 120;

it('server, worker and database are killed while files arrive: each is made exactly once', async () => {
  const home = await scratchFolder();
  const stores = ['Estuary', 'Shuttle'].map((name) => join(home, name));
  const [estuary = '', shuttle = ''] = stores;
  // Server and worker have an account of their own.
  await chmod(home, 0o755);
  for (const store of [...stores, join(estuary, 'in')]) {
    await mkdir(store);
    await chmod(store, 0o777);
  }
  for (let n = 1; n <= 4; n += 1) await paintClip(join(home, `${n}.mp4`), n);
  const names = Array.from({ length: files }, (_, n) => `C${String(n).padStart(3, '0')}.mp4`);
  /** Of its own content, by an empty box at its end (ISO/IEC 14496-12, `free`). */
  const arrive = async (n: number): Promise<void> => {
    const box = Buffer.alloc(64);
    box.writeUInt32BE(64, 0);
    box.write(`free${n}`, 4);
    const clip = await readFile(join(home, `${(n % 4) + 1}.mp4`));
    await writeFile(join(estuary, 'in', names[n] as string), Buffer.concat([clip, box]));
  };
  const site = await startSite({
    args: ['--no-demo', '--store', `Estuary=${estuary}`, '--store', `Shuttle=${shuttle}`],
  });
  try {
    const { id: production } = await site.api<{ id: string }>('/productions', { name: 'Salt Lantern' });
    const { id: recipe } = await site.api<{ id: string }>('/recipes', { definition: light, group: 'Ours', note: '' });
    const { id } = await site.api<InletAnswer>(`/productions/${production}/inlets`, {
      name: 'Night',
      source: { kind: 'folders', folders: [{ store: 'estuary', folder: 'in' }] },
      recipes: [{ recipe, store: 'shuttle', folder: 'out' }],
      ...usualInlet,
      quietSeconds: 1,
    });
    const kills = ['serverPid', 'workerPid', 'databasePid', 'serverPid'] as const;
    for (let n = 0; n < files; n += 1) {
      await arrive(n);
      await pause(50);
      if (n % 24 !== 23) continue;
      const which = kills[(n - 23) / 24];
      if (which) process.kill((await site.pids())[which], 'SIGKILL');
    }
    const runs = await until('every file to be made', async () => {
      const lines = await site.api<RunLine[]>(`/productions/${production}/runs`);
      const all = await Promise.all(lines.map((line) => site.api<RunAnswer>(`/runs/${line.id}`)));
      const legs = all.flatMap(({ legLines }) => legLines);
      return legs.length >= files && legs.every(({ state }) => state === 'proved') ? all : null;
    });
    // One leg for each original: none was taken up twice.
    expect(
      runs
        .flatMap(({ legLines }) => legLines)
        .map(({ path }) => path)
        .sort(),
    ).toEqual(names);
    const lies = await readdir(join(shuttle, 'out'), { recursive: true });
    expect(lies.filter((name) => name.endsWith('.mov')).sort()).toEqual(
      names.map((name) => `proxy/${name.replace('mp4', 'mov')}`),
    );
    expect(lies.filter((name) => /relay-part|superseded/.test(name))).toEqual([]);
    const { things } = await site.api<InletAnswer>(`/inlets/${id}`);
    expect(things.reduce((sum, thing) => sum + thing.files, 0)).toBe(files);
    await copyFile(join(estuary, 'in', 'C000.mp4'), join(estuary, 'in', 'again.mp4'));
    await until('the copy to be known', async () => {
      const now = await site.api<InletAnswer>(`/inlets/${id}`);
      return now.things.some(({ key, known }) => key === 'again.mp4' && known === 1);
    });
  } finally {
    await site.stop();
    await site.remove();
  }
});
