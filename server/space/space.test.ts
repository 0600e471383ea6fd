import { appendFile, copyFile, mkdir, readFile, rename, stat, truncate, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { SpaceSet } from '@relay/contract/space';
import { finishAndCut, type Recipe } from '@relay/core/recipe/recipe';
import type { RelinkRow } from '@relay/core/relink/sheet';
import { hashFile } from '@relay/work/disk/hash';
import { beforeEach, describe, expect, it } from 'vitest';
import { useNight } from '../../testing/night.ts';
import { until } from '../../testing/site.ts';
import { production } from '../db/entities/productions.ts';
import { removal, removalItem } from '../db/entities/removals.ts';
import type { Tools } from '../desk/tools.ts';
import { bringBackRemoved } from './again.ts';
import { carryOutRemoval, orphanedRemovals } from './carry.ts';
import { orderRemoval } from './order.ts';
import { removalAnswer, resumeRemoval, stopRemoval } from './queries.ts';
import { effectOf, spaceOf } from './sets.ts';

const night = useNight();
const tools = (): Tools => ({ ...night.database, signal: new AbortController().signal });
const shuttle = (...names: string[]): string => join(night.database.home, 'shuttle', `out-${night.folder}`, ...names);
const isThere = (path: string): Promise<boolean> =>
  stat(path).then(
    () => true,
    () => false,
  );

async function rule(copies: number): Promise<void> {
  await night.database.db.manager.update(
    production,
    { id: night.production },
    { copyRule: { copies, stores: 1, oneDisk: true } },
  );
}
beforeEach(() => rule(1));

const sets = async (): Promise<SpaceSet[]> => (await spaceOf(tools(), night.production, null)).sets;
const answer = (id: string) => removalAnswer(night.database.db, night.database.stores, id);

async function made(clips: number, recipe: Recipe = finishAndCut): Promise<string> {
  const run = await night.begin(clips, recipe);
  await until('made', night.allAre(run, 'proved'));
  return run;
}

async function remove(chosen: readonly SpaceSet[], files: number): Promise<string> {
  return orderRemoval(
    tools(),
    night.production,
    { sets: chosen.map(({ key }) => key), cut: null, typed: `delete ${files}` },
    'assistant',
  );
}
const over = (id: string) =>
  until('it is over', async () => !['waiting', 'removing'].includes((await answer(id)).state));

/** Sets of the run that a test has made: those of earlier tests are there too. */
async function setsOf(run: string): Promise<SpaceSet[]> {
  return (await sets()).filter(({ key }) => key.endsWith(run));
}

describe('getting space back', () => {
  it('what may go is told, goes held against its checksum, and comes back to the byte', async () => {
    await night.work({ legsOnly: false });
    const run = await made(3);
    await rule(2);
    expect((await setsOf(run)).map(({ kind, files, goes, stays }) => ({ kind, files, goes, stays }))).toEqual([
      ...(['intermediate', 'proxy'] as const).map((kind) => ({
        ...{ kind, files: 3, goes: 0 },
        stays: [{ why: 'its original is there in 1 proved copy, 2 are asked for', files: 3 }],
      })),
    ]);
    await rule(1);
    const [intermediates] = (await setsOf(run)).filter(({ kind }) => kind === 'intermediate') as [SpaceSet];
    expect(intermediates).toMatchObject({ files: 3, goes: 3, stores: ['Shuttle'], stays: [] });
    const effect = await effectOf(tools(), night.production, { sets: [intermediates.key], cut: null });
    expect(effect).toMatchObject({ files: 3, clips: 3, bare: 0, words: 'delete 3', bytes: intermediates.bytes });
    expect(effect.losing[0]?.loses).toHaveLength(1);
    await expect(remove([intermediates], 30)).rejects.toMatchObject({
      problem: { remedy: expect.stringContaining('delete 3') },
    });

    // One was changed by hand since, to something of the same length; one has lost its original meanwhile.
    const changed = shuttle('intermediate/C002.mov');
    const bytes = await readFile(changed);
    bytes[bytes.length - 1] = (bytes.at(-1) ?? 0) ^ 1;
    await writeFile(changed, bytes);
    const original = join(night.database.home, 'estuary/cards/C003.mov');
    const before = await hashFile(shuttle('intermediate/C001.mov'));
    await rename(original, `${original}.away`);
    const [now] = (await setsOf(run)).filter(({ kind }) => kind === 'intermediate') as [SpaceSet];
    expect(now).toMatchObject({ files: 3, goes: 2 });
    const id = await remove([now], 2);
    await over(id);
    await rename(`${original}.away`, original);
    expect(await answer(id)).toMatchObject({
      ...{ state: 'done', filesDone: 1, left: 1, says: expect.stringContaining('2 intermediates of') },
      items: [
        { path: 'intermediate/C001.mov', state: 'gone', canComeBack: true, back: null },
        { path: 'intermediate/C002.mov', state: 'left', why: 'it was changed since it was made' },
      ],
    });
    expect(await isThere(shuttle('intermediate/C001.mov'))).toBe(false);
    expect(await isThere(changed)).toBe(true);
    const { rows } = JSON.parse(await readFile(shuttle('relink.json'), 'utf8')) as { rows: RelinkRow[] };
    expect(rows.map(({ output }) => output)).not.toContain('intermediate/C001.mov');
    expect(rows.map(({ output }) => output)).toContain('proxy/C001.mov');

    expect(await bringBackRemoved(night.database, id, [])).toMatchObject({ runs: 1, files: 1 });
    await until('it is back', async () => (await answer(id)).items[0]?.back === 'same to the byte');
    expect(await hashFile(shuttle('intermediate/C001.mov'))).toBe(before);

    // Deleted once more, it is not *being made* for ever; and a sheet that somebody made their own is said, not touched.
    await writeFile(shuttle('relink.json'), 'our own list');
    const once = (await sets()).filter(({ kind, run: name }) => kind === 'intermediate' && name.endsWith('made again'));
    expect(once).toMatchObject([{ goes: 1 }]);
    const more = await remove(once, 1);
    await over(more);
    expect((await answer(more)).problem?.what).toContain('still names what went');
    expect(await readFile(shuttle('relink.json'), 'utf8')).toBe('our own list');
    expect((await answer(id)).items[0]).toMatchObject({ state: 'gone', back: null });
  });

  it('no original ever goes, nor anything that was not made here, whatever is written down', async () => {
    await night.work({ legsOnly: false });
    const run = await made(1);
    const { db } = night.database;
    const [leg] = await night.legsOf(run);
    const original = join(night.database.home, 'estuary/cards/C001.mov');
    const [size, sum] = [(await stat(original)).size, await hashFile(original)];
    // An output whose record names the original's own place; one through a store around it; one beside it in a copy of a card.
    await night.database.stores.put('Around', night.database.home);
    await mkdir(join(night.database.home, 'estuary/rolls/A001'), { recursive: true });
    await copyFile(original, join(night.database.home, 'estuary/rolls/A001/notes.mov'));
    const [roll] = await db.query<{ id: string }[]>(
      `INSERT INTO roll (production_id, name, day, card_store, card_folder, hash, state) VALUES ($1, 'A001', '2026-11-21', 'estuary', 'x', 'xxh3', 'proved') RETURNING id`,
      [night.production],
    );
    await db.query(
      `INSERT INTO roll_copy (roll_id, ordinal, store_id, folder) VALUES ($1, 0, 'estuary', 'rolls/A001')`,
      [roll?.id],
    );
    const forged = [
      { store: 'estuary', folder: 'cards', path: 'C001.mov' },
      { store: 'estuary', folder: '', path: 'cards/C001.mov' },
      { store: 'around', folder: 'estuary', path: 'cards/C001.mov' },
      { store: 'estuary', folder: 'rolls/A001', path: 'notes.mov' },
      { store: 'estuary', folder: '', path: 'cards' },
    ];
    for (const { store, folder, path } of forged)
      await db.query(
        `INSERT INTO output (leg_id, deliverable, role, path, state, size_bytes, xxh3, store_id, folder) VALUES ($1, 'x', 'review', $2, 'proved', $3, $4, $5, $6)
         ON CONFLICT (leg_id, path) DO UPDATE SET folder = excluded.folder, store_id = excluded.store_id`,
        [leg?.id, path, size, sum, store, folder],
      );
    const reviews = (await setsOf(run)).find(({ kind }) => kind === 'review');
    expect(reviews).toMatchObject({ goes: 0, goesBytes: 0 });
    expect(reviews?.stays).toEqual([
      { why: 'it is an original, or lies where one does', files: new Set(forged.map(({ path }) => path)).size },
    ]);
    await expect(remove([reviews as SpaceSet], 0)).rejects.toMatchObject({
      problem: { what: 'Nothing of this may go now' },
    });

    // Even where one stands in a list that a worker is given.
    const row = await db.manager.save(removal, {
      productionId: night.production,
      says: 'forged',
      files: 5,
      who: 'nobody',
    });
    for (const [place, { store, folder, path }] of forged.entries())
      await db.manager.insert(removalItem, {
        ...{ removalId: row.id, place, kind: 'review', storeId: store, folder, path, sizeBytes: size, xxh3: sum },
        ...{ runId: run, legId: leg?.id ?? '', clipId: null },
      });
    await carryOutRemoval(night.database, row.id, 'by hand', new AbortController().signal);
    expect((await answer(row.id)).items.map(({ state }) => state)).toEqual(forged.map(() => 'left'));
    expect(await hashFile(original)).toBe(sum);
    expect(await isThere(join(night.database.home, 'estuary/rolls/A001/notes.mov'))).toBe(true);
    await db.query(`DELETE FROM output WHERE deliverable = 'x'`);
    await night.database.stores.forget('around');
  });

  it('what somebody needs stays: a hand-off that is not over, a leg that is to be made', async () => {
    await night.work({ legsOnly: false });
    const run = await made(2);
    const { db } = night.database;
    const [output] = await db.query<{ id: string; path: string; folder: string }[]>(
      `SELECT o.id, o.path, o.folder FROM output o JOIN leg ON leg.id = o.leg_id WHERE leg.run_id = $1 AND o.path = 'proxy/C001.mov'`,
      [run],
    );
    const [to] = await db.query<{ id: string }[]>(
      `INSERT INTO receiver (production_id, name) VALUES ($1, 'The edit') RETURNING id`,
      [night.production],
    );
    const [handed] = await db.query<{ id: string }[]>(
      `INSERT INTO handoff (production_id, receiver_id, name, choice, store_id, folder, state, who) VALUES ($1, $2, 'For the edit', '{}', 'shuttle', 'x', 'stopped', 'a') RETURNING id`,
      [night.production, to?.id],
    );
    await db.query(
      `INSERT INTO handoff_item (handoff_id, place, path, kind, key, size_bytes, store_id, source, roll) VALUES ($1, 0, $2, 'output', '', 1, 'shuttle', $3, '')`,
      [handed?.id, output?.path, `${output?.folder}/${output?.path}`],
    );
    await db.query(`UPDATE leg SET state = 'held' WHERE run_id = $1 AND ordinal = 1`, [run]);
    expect(
      (await setsOf(run)).map(({ kind, goes, stays }) => ({ kind, goes, why: stays.map(({ why }) => why).sort() })),
    ).toEqual([
      { kind: 'intermediate', goes: 1, why: [expect.stringContaining('has a leg of it to make')] },
      { kind: 'proxy', goes: 0, why: ['For the edit is not handed off yet', expect.stringContaining('has a leg')] },
    ]);
    await db.query(`UPDATE leg SET state = 'proved' WHERE run_id = $1`, [run]);
    await db.query('DELETE FROM handoff');
  });

  it('a store that goes away takes nothing off the records; stopped, killed and gone on with, each file is told', async () => {
    await night.work({ legsOnly: false });
    const run = await made(2);
    await night.over();
    const { db } = night.database;
    const proxies = (await setsOf(run)).filter(({ kind }) => kind === 'proxy');
    const id = await remove(proxies, 2);
    await stopRemoval(db, id);
    expect(await answer(id)).toMatchObject({ state: 'stopped', filesDone: 0 });
    await resumeRemoval(db, id);
    const store = join(night.database.home, 'shuttle');
    await rename(store, `${store}.away`);
    await mkdir(store);
    await carryOutRemoval(night.database, id, 'one', new AbortController().signal);
    await rename(store, `${store}.empty`);
    await rename(`${store}.away`, store);
    expect((await answer(id)).items.map(({ state }) => state)).toEqual(['left', 'left']);
    expect(await setsOf(run)).toHaveLength(2);

    // Killed once the file was gone, and before that was written down; and once it was taken aside.
    const again = await remove(proxies, 2);
    const owner = `.relay-part-removal.${again}.1-00`;
    await db.manager.update(removalItem, { removalId: again }, { state: 'going' });
    await rename(shuttle('proxy/C001.mov'), join(night.database.home, 'elsewhere.mov'));
    await rename(shuttle('proxy/C002.mov'), shuttle('proxy', owner));
    await db.query(`UPDATE removal SET state = 'removing', beat_at = now() - interval '1 hour' WHERE id = $1`, [again]);
    expect(await orphanedRemovals(db)).toEqual([again]);
    await carryOutRemoval(night.database, again, 'two', new AbortController().signal);
    expect(await answer(again)).toMatchObject({ state: 'done', filesDone: 2, left: 0 });
    expect(await isThere(shuttle('proxy', owner))).toBe(false);
    expect((await setsOf(run)).map(({ kind }) => kind)).toEqual(['intermediate']);
  });

  it('older versions that were set aside go, and what only looks like one stays', async () => {
    await night.work({ legsOnly: false });
    const run = await made(1);
    const older = shuttle('superseded/proxy/C001.1.mov');
    await mkdir(shuttle('superseded/proxy'), { recursive: true });
    await rename(shuttle('proxy/C001.mov'), older);
    await writeFile(shuttle('proxy/C001.mov'), 'a newer one');
    await writeFile(shuttle('superseded/proxy/C001.2.mov'), 'of nobody');
    await appendFile(shuttle('superseded/notes.1.txt'), 'notes');
    // The newer one, as another run wrote it down.
    await night.database.db.query(
      `INSERT INTO output (leg_id, deliverable, role, path, state, size_bytes, xxh3, store_id, folder, created_at)
       SELECT (SELECT id FROM leg WHERE run_id <> $1 LIMIT 1), deliverable, role, path, state, 11, $2, store_id, folder, now() + interval '1 second'
       FROM output WHERE path = 'proxy/C001.mov' AND leg_id IN (SELECT id FROM leg WHERE run_id = $1)
       ON CONFLICT (leg_id, path) DO UPDATE SET xxh3 = excluded.xxh3, size_bytes = 11, folder = excluded.folder, created_at = excluded.created_at`,
      [run, await hashFile(shuttle('proxy/C001.mov'))],
    );
    const aside = (await setsOf(run)).filter(({ kind }) => kind === 'superseded');
    expect(aside).toMatchObject([{ files: 1, goes: 1, safe: 'a newer version lies under its name' }]);
    // Where that is gone, or was cut short, the older one is all there is.
    await truncate(shuttle('proxy/C001.mov'), 5);
    expect((await setsOf(run)).filter(({ kind }) => kind === 'superseded')).toMatchObject([
      { goes: 0, stays: [{ why: 'no newer version lies under its name', files: 1 }] },
    ]);
    await writeFile(shuttle('proxy/C001.mov'), 'a newer one');
    const id = await remove(aside, 1);
    await over(id);
    expect(await answer(id)).toMatchObject({ filesDone: 1, items: [{ state: 'gone', canComeBack: false }] });
    expect([await isThere(older), await isThere(shuttle('superseded/proxy/C001.2.mov'))]).toEqual([false, true]);
    await expect(bringBackRemoved(night.database, id, [])).rejects.toMatchObject({
      problem: { what: 'None of it can be made again' },
    });
  });
});
