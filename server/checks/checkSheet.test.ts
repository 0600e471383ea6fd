import { usualRule } from '@relay/core/checks/checkSheet';
import { expect, it } from 'vitest';
import { useNight } from '../../testing/night.ts';
import { until } from '../../testing/site.ts';
import { outputsOfRun } from '../../testing/outputsOfRun.ts';
import { checkSheetOf, contactSheetOf, keepCheckRule, mayBeHandedOn } from './checkSheet.ts';
import { sayLook } from './looks.ts';

const night = useNight();

it('a run is looked at once what its rule asks for is accepted as it is now; then it may be handed on', async () => {
  await night.work();
  const run = await night.begin(4);
  await until('proved', night.allAre(run, 'proved'));
  const { db } = night.database;
  const say = (id: string, verdict: 'accepted' | 'sent back' | 'taken back', frame: number | null = null) =>
    sayLook(db, id, { verdict, note: verdict === 'sent back' ? 'soft' : '', frame }, 'assistant');
  const outputs = await outputsOfRun(db, run);
  const [first = '', , , last = ''] = outputs;

  // One roll, nothing measured or corrected: its first, its last and every tenth, which is the first again.
  const usual = await checkSheetOf(db, run);
  expect(usual).toMatchObject({ rule: usualRule, outputs: 4, ended: true, measured: 0 });
  expect(usual.lines.map(({ id, why }) => [id, why])).toEqual([
    [first, ['first of its roll', 'in the sample']],
    [last, ['last of its roll']],
  ]);
  await mayBeHandedOn(db, run);
  await keepCheckRule(db, run, { ...usualRule, every: null, handoff: true });
  await expect(mayBeHandedOn(db, run)).rejects.toMatchObject({
    problem: { what: expect.stringContaining('0 of 2 are accepted') as string },
  });
  await say(first, 'accepted');
  await say(last, 'sent back', 12);
  const half = await checkSheetOf(db, run);
  expect(half.state).toEqual({ asked: 2, accepted: 1, sentBack: 1, met: false });
  expect(half.lines[1]).toMatchObject({ frame: 12, look: { verdict: 'sent back', note: 'soft', who: 'assistant' } });

  // It is made again under its name by another run: what was said of the one before counts no more.
  const again = await night.begin(1);
  await until('proved', night.allAre(again, 'proved'));
  const [anew = ''] = await outputsOfRun(db, again);
  await db.query(
    `UPDATE output
     SET path = old.path, folder = old.folder, store_id = old.store_id, xxh3 = 'another'
     FROM output old
     WHERE output.id = $1 AND old.id = $2`,
    [anew, last],
  );
  const made = await checkSheetOf(db, run);
  expect(made.lines[1]).toMatchObject({ id: last, now: { id: anew, run: again }, look: null });
  expect(made.state).toMatchObject({ accepted: 1, sentBack: 0, met: false });
  await say(anew, 'accepted');
  expect((await checkSheetOf(db, run)).state.met).toBe(true);
  await mayBeHandedOn(db, run);
  await say(first, 'taken back');
  expect((await checkSheetOf(db, run)).state.met).toBe(false);
});

it('the worst by measure are asked for once they are measured as they are, at their worst frame', async () => {
  await night.work();
  const run = await night.begin(3);
  await until('proved', night.allAre(run, 'proved'));
  const { db } = night.database;
  const [, second = '', third = ''] = await outputsOfRun(db, run);
  await keepCheckRule(db, run, { ...usualRule, ends: false, every: null, worst: 1 });
  expect((await checkSheetOf(db, run)).lines).toEqual([]);
  const measured = (id: string, ssim: number, xxh3: string): Promise<unknown> =>
    db.query(
      `INSERT INTO measuring (output_id, xxh3, every, state, worst_ssim, worst_frame, who)
       SELECT id, ${xxh3}, 1, 'measured', $2, 7, 'assistant' FROM output WHERE id = $1`,
      [id, ssim],
    );
  await measured(second, 0.9, 'xxh3');
  await measured(third, 0.5, `'before it was made again'`);
  const sheet = await checkSheetOf(db, run);
  expect(sheet.lines).toMatchObject([{ id: second, why: ['among the worst'], frame: 7 }]);
  expect(sheet.measured).toBe(1);
  // That it is to be measured again makes what was measured before no truer.
  await db.query(`UPDATE measuring SET state = 'waiting'`);
  const again = await checkSheetOf(db, run);
  expect([again.measured, again.measuring, again.lines.map(({ id }) => id)]).toEqual([0, 2, [second]]);
});

it('a contact sheet has a picture of each clip, from its middle, labelled', async () => {
  await night.work();
  const run = await night.begin(2);
  await until('proved', night.allAre(run, 'proved'));
  const { lines, shown, deliverables } = await contactSheetOf(night.database.db, run, 'what is not there');
  expect([shown, deliverables]).toEqual(['Proxy', ['Proxy']]);
  expect(lines.map(({ frame }) => frame)).toEqual([18, 18]);
  expect(lines[0]?.label).toMatch(/^\d\d:\d\d:\d\d[:;]\d\d$/);
});
