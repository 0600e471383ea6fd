import {
  legMove,
  newReel,
  newRun,
  recipePreviewRequest,
  runChange,
  runCheckRequest,
  runQuestion,
  type LegAnswer,
} from '@relay/contract/api';
import type { LegPlan } from '@relay/core/recipe/legPlan';
import { sayOutput, sayPlan } from '@relay/core/recipe/sentence';
import { Router } from 'express';
import { asAsked } from '../asked.ts';
import type { Context } from '../context.ts';
import { checked, idOf, notThere, Refused } from '../http.ts';
import { tell } from '../live/notify.ts';
import { reelQueue } from '../queue/boss.ts';
import { orderReel } from './reel.ts';
import { legLines, runLines } from './queries.ts';
import { changeRun, firstOfAll, holdLegs, moveLeg, releaseLegs, retryLegs, stopLegs } from './service.ts';
import type { runTasks } from './deskTasks.ts';

/** Runs: checked, started, watched, stopped, tried again. */
export function runRoutes(context: Context): Router {
  const router = Router();
  const { db, boss } = context;
  const desk = context.desk.of<typeof runTasks>();

  router.post('/productions/:id/run-check', async (request, response) => {
    response.type('json').send(await desk.json('checkChoice', idOf(request), checked(runCheckRequest, request.body)));
  });
  router.post('/productions/:id/run-forecast', async (request, response) => {
    const [production, choice] = [idOf(request), checked(runCheckRequest, request.body)];
    await asAsked('forecast', response, async (unwanted) => {
      const forecast = await desk.jsonWanted(unwanted, 'forecastChoice', production, choice);
      if (!unwanted.aborted) response.type('json').send(forecast);
    });
  });
  router.post('/productions/:id/recipe-forecast', async (request, response) => {
    const production = idOf(request);
    const { clips, definition } = checked(recipePreviewRequest, request.body);
    await asAsked('forecast', response, async (unwanted) => {
      const forecast = await desk.jsonWanted(unwanted, 'forecastRecipe', production, clips, definition);
      if (!unwanted.aborted) response.type('json').send(forecast);
    });
  });
  router.post('/productions/:id/runs', async (request, response) => {
    const order = checked(newRun, request.body);
    response
      .status(201)
      .type('json')
      .send(await desk.json('beginChoice', idOf(request), order));
  });
  router.get(
    '/productions/:id/runs',
    async (request, response) => void response.json(await runLines(db, idOf(request))),
  );
  router.get('/runs/:id', async (request, response) => {
    const run = await desk.json('runAnswer', idOf(request), checked(runQuestion, request.query).legs);
    if (run.length === 'null'.length) throw notThere('The run');
    response.type('json').send(run);
  });
  for (const [what, key] of [
    ['runs', 'run'],
    ['legs', 'leg'],
  ] as const) {
    const where = (id: string): { run: string } | { leg: string } => (key === 'run' ? { run: id } : { leg: id });
    router.post(`/${what}/:id/stop`, async (request, response) => {
      await stopLegs(db, where(idOf(request)));
      await tell(db, { kind: 'changed', what: 'runs', production: null });
      response.status(204).end();
    });
    router.post(`/${what}/:id/retry`, async (request, response) => {
      const legs = await retryLegs(db, boss, where(idOf(request)));
      await tell(db, { kind: 'changed', what: 'runs', production: null });
      response.json({ legs });
    });
    router.post(`/${what}/:id/hold`, async (request, response) => {
      const legs = await holdLegs(db, where(idOf(request)));
      await tell(db, { kind: 'changed', what: 'runs', production: null });
      response.json({ legs });
    });
    router.post(`/${what}/:id/release`, async (request, response) => {
      const legs = await releaseLegs(db, boss, where(idOf(request)));
      await tell(db, { kind: 'changed', what: 'runs', production: null });
      response.json({ legs });
    });
  }
  router.post('/legs/:id/first', async (request, response) => {
    await firstOfAll(db, idOf(request));
    await tell(db, { kind: 'changed', what: 'runs', production: null });
    response.status(204).end();
  });
  router.post('/legs/:id/move', async (request, response) => {
    if (!(await moveLeg(db, idOf(request), checked(legMove, request.body).before)))
      throw new Refused(409, {
        what: 'Only legs that wait can be moved, within their wave',
        remedy: 'Move another, or hold it',
      });
    await tell(db, { kind: 'changed', what: 'runs', production: null });
    response.status(204).end();
  });
  router.post('/runs/:id/reels', async (request, response) => {
    const ordered = await orderReel(db, idOf(request), checked(newReel, request.body).deliverable);
    if (!ordered.ok) throw new Refused(409, ordered.problem);
    await boss.send(reelQueue, { reel: ordered.value });
    await tell(db, { kind: 'changed', what: 'runs', production: null });
    response.status(201).json({ id: ordered.value });
  });
  router.post('/runs/:id', async (request, response) => {
    await changeRun(db, idOf(request), checked(runChange, request.body));
    await tell(db, { kind: 'changed', what: 'runs', production: null });
    response.status(204).end();
  });
  router.get('/legs/:id/log', async (request, response) => {
    const [row] = await db.query<{ log: string }[]>('SELECT log FROM leg WHERE id = $1', [idOf(request)]);
    if (!row) throw notThere('The leg');
    response.json({ log: row.log });
  });
  router.get('/legs/:id', async (request, response) => {
    const [line] = await legLines(db, { leg: idOf(request) });
    if (!line) throw notThere('The leg');
    const [row] = await db.query<{ plan: LegPlan | null }[]>('SELECT plan FROM leg WHERE id = $1', [line.id]);
    const proofs = await db.query<
      {
        id: string;
        proof: LegLine['proof'];
      }[]
    >('SELECT id, proof FROM output WHERE leg_id = $1', [line.id]);
    const plan = row?.plan ?? null;
    response.json({
      ...line,
      outputs: line.outputs.map((output) => ({
        ...output,
        proof: proofs.find((found) => found.id === output.id)?.proof ?? null,
      })),
      said: plan ? sayPlan(plan) : [],
      outputsPlanned: plan?.outputs.map((output) => ({ path: output.path, line: sayOutput(output) })) ?? [],
      rate: plan?.outputs[0]?.video.rate ?? { num: 25, den: 1 },
    } satisfies LegAnswer);
  });
  return router;
}

type LegLine = LegAnswer['outputs'][number];
