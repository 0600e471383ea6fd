import { readdir } from 'node:fs/promises';
import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import type { ChecksAnswer, OutputAnswer } from '@relay/contract/checks';
import type { ProductionAnswer } from '@relay/contract/site';
import { usualInlet } from '@relay/contract/inlets';
import type { RunAnswer } from '@relay/contract/runs';
import { InletSite, proved } from '../../testing/inletSite.ts';
import { pause } from '../../testing/site.ts';

/** What people say of outputs: one is made by an inlet for each test, and said to need eyes. */

let night: InletSite;
beforeAll(async () => {
  night = await InletSite.start();
});
afterAll(() => night.site.close());
beforeEach(() => night.next());

const needEyes = async (): Promise<number> =>
  (await night.site.get<ProductionAnswer[]>('/productions'))[0]?.counts.needEyes ?? -1;
const output = (id: string): Promise<OutputAnswer> => night.site.get<OutputAnswer>(`/outputs/${id}`);
const look = (id: string, body: object) => night.site.post<{ error: { what: string } }>(`/outputs/${id}/look`, body);

/** An output that needs eyes, by its id, and the inlet that made it. */
async function oneToLookAt(originals: 'stay' | 'move'): Promise<{ id: string; inlet: string }> {
  const { body } = await night.add({ after: { ...usualInlet.after, originals: 'stay' } });
  await night.drop(1, 'A.mov');
  await night.until('made', body.id, (now) => proved(now) === 1 && now.things[0]?.ended !== null);
  const { db } = night.site.database;
  const [made] = await db.query<{ id: string; leg: string }[]>(
    `SELECT o.id, o.leg_id AS leg FROM output o WHERE o.folder = $1`,
    [night.to],
  );
  await db.query(`UPDATE output SET state = 'needs eyes' WHERE id = $1`, [made?.id]);
  await db.query(`UPDATE leg SET state = 'needs eyes' WHERE id = $1`, [made?.leg]);
  await db.query(`UPDATE inlet_thing SET ended = 'needs eyes' WHERE $1 = inlet_id`, [body.id]);
  await fetch(`${night.site.address}/inlets/${body.id}`, {
    method: 'PUT',
    headers: { 'Content-Type': 'application/json' },
    body: JSON.stringify({
      seen: body.version,
      definition: night.definition({ after: { originals, receipts: [] } }),
    }),
  });
  return { id: made?.id ?? '', inlet: body.id };
}

describe('an output that needs eyes', () => {
  it('is accepted by somebody: it is counted no more, and its original goes where it was to go', async () => {
    const { id, inlet } = await oneToLookAt('move');
    expect([await needEyes(), (await output(id)).look]).toEqual([1, null]);
    await pause(2_500);
    expect(await readdir(night.in())).toEqual(['A.mov']);
    expect((await look(id, { verdict: 'accepted', note: 'seen on the monitor' })).status).toBe(204);
    expect((await output(id)).look).toMatchObject({
      verdict: 'accepted',
      note: 'seen on the monitor',
      frame: null,
      who: 'assistant',
    });
    expect(await needEyes()).toBe(0);
    const { outputs } = await night.site.get<ChecksAnswer>(`/productions/${night.production}/outputs`);
    expect(outputs.find((one) => one.id === id)?.look?.verdict).toBe('accepted');
    await night.until('moved', inlet, ({ things }) => things[0]?.ended?.lies === 'done');
    expect(await readdir(night.in())).toEqual(['done']);

    expect((await look(id, { verdict: 'taken back' })).status).toBe(204);
    expect([await needEyes(), (await output(id)).look]).toEqual([1, null]);
    await look(id, { verdict: 'accepted' });
    // What is made anew under its name asks for new eyes.
    await night.site.database.db.query(`UPDATE output SET xxh3 = '0123456789abcdef' WHERE id = $1`, [id]);
    expect([await needEyes(), (await output(id)).look]).toEqual([1, null]);
    await night.site.database.db.query(`UPDATE output SET state = 'proved' WHERE id = $1`, [id]);
  });

  it('is sent back with a reason, and made again once it is corrected', async () => {
    const { id } = await oneToLookAt('stay');
    const bare = await look(id, { verdict: 'sent back' });
    expect([bare.status, bare.body.error.what]).toEqual([400, expect.stringContaining('say why') as string]);
    await look(id, { verdict: 'sent back', note: 'squeezed', frame: 3 });
    expect((await output(id)).look).toMatchObject({ verdict: 'sent back', note: 'squeezed', frame: 3 });
    // It still needs eyes, and comes first.
    expect(await needEyes()).toBe(1);
    const { outputs } = await night.site.get<ChecksAnswer>(`/productions/${night.production}/outputs`);
    expect(outputs[0]?.id).toBe(id);
    const again = () => night.site.post<{ run: string; error: { what: string } }>(`/outputs/${id}/again`);
    const same = await again();
    expect([same.status, same.body.error.what]).toEqual([
      409,
      'proxy/A.mov would come out as it is: nothing of A was corrected since',
    ]);
    const { clipId } = await output(id);
    await night.site.database.db.query(
      `INSERT INTO correction_rule (production_id, field, scope, key, value, who)
       VALUES ($1, 'squeeze', 'clip', $2, '{"num": 4, "den": 3}', 'assistant')`,
      [night.production, clipId],
    );
    const made = await again();
    expect(made.status).toBe(201);
    let run = await night.site.get<RunAnswer>(`/runs/${made.body.run}`);
    for (let tries = 0; tries < 300 && run.legLines[0]?.state !== 'proved'; tries += 1) {
      await pause(100);
      run = await night.site.get<RunAnswer>(`/runs/${made.body.run}`);
    }
    expect([run.name, run.folder, run.legLines.map(({ state }) => state)]).toEqual(['A again', night.to, ['proved']]);
    expect(await night.outputs()).toEqual(['proxy/A.mov', 'superseded/proxy/A.1.mov']);
  });

  it('is not looked at where it was never made', async () => {
    const { id } = await oneToLookAt('stay');
    await night.site.database.db.query(`UPDATE output SET state = 'failed' WHERE id = $1`, [id]);
    const { status, body } = await look(id, { verdict: 'accepted' });
    expect([status, body.error.what]).toEqual([409, 'proxy/A.mov was not made: there is nothing to look at']);
    expect((await look('00000000-0000-4000-8000-000000000000', { verdict: 'accepted' })).status).toBe(404);
  });
});
