import { legMove, newReel, newRun, recipePreviewRequest, runChange, runCheckRequest, runQuestion, type LegAnswer } from '@relay/contract/api';
import type { LegPlan } from '@relay/core/recipe/plan';
import type { Recipe } from '@relay/core/recipe/recipe';
import { sayOutput, sayPlan } from '@relay/core/recipe/sentence';
import { Router, type Response } from 'express';
import { decide, decided } from '../clips/identityRoutes.ts';
import { storeOr404, type Context } from '../context.ts';
import { checked, idOf, notThere, Refused } from '../http.ts';
import { tell } from '../live/notify.ts';
import { reelQueue } from '../queue/boss.ts';
import { freeBytes, placeInside } from '../stores/place.ts';
import { checkRun, clipsToRun, planClips, sortOut, type PlannedClip } from './plans.ts';
import { orderReel } from './reel.ts';
import { sampleForecast } from './sampledForecast.ts';
import { liveWorkers } from '../site/roster.ts';
import { cabinetText } from '../looks/cabinet.ts';
import { isThere, originalPlace } from '../stores/stores.ts';
import { legLines, runAnswer, runLines } from './queries.ts';
import { changeRun, firstOfAll, holdLegs, moveLeg, releaseLegs, retryLegs, startRun, stopLegs } from './service.ts';

interface RunChoice {
  clips: string[];
  recipe: string;
  store: string;
  folder: string;
}

/** Runs: checked, started, watched, stopped, tried again. */
export function runRoutes(context: Context): Router {
  const router = Router();
  const { db, boss } = context;

  /** The choice of a request as plans; refuses what can never be. */
  async function plansOf(production: string, choice: RunChoice): Promise<{ recipe: Recipe; version: number; planned: PlannedClip[]; sorted: ReturnType<typeof sortOut> }> {
    const [row] = (await db.query('SELECT definition, version FROM recipe WHERE id = $1', [choice.recipe])) as { definition: Recipe; version: number }[];
    if (!row) throw notThere('The recipe');
    const store = await storeOr404(context, choice.store);
    const clips = await clipsToRun(db, production, choice.clips);
    if (clips.length === 0) throw notThere('None of the clips');
    const outRoot = await placeInside(store.path, choice.folder).catch(() => {
      throw new Refused(400, { what: `${choice.folder} leaves ${store.name}`, remedy: 'Choose a folder inside the store' });
    });
    for (const root of new Set(clips.map((clip) => JSON.stringify([clip.storeId, clip.root])))) {
      const [storeId, folder] = JSON.parse(root) as [string, string];
      const source = await placeInside((await storeOr404(context, storeId)).path, folder);
      if (`${outRoot}/`.startsWith(`${source}/`)) {
        throw new Refused(400, { what: 'The outputs would lie among the originals', remedy: 'Choose a folder outside the one that was read' });
      }
    }
    const sorted = sortOut(clips);
    return { recipe: row.definition, version: row.version, planned: planClips(sorted.runs, row.definition), sorted };
  }

  router.post('/productions/:id/run-check', async (request, response) => {
    const choice = checked(runCheckRequest, request.body);
    const { planned, recipe, sorted } = await plansOf(idOf(request), choice);
    response.json(await checkRun(db, recipe, sorted, planned, await storeOr404(context, choice.store), choice.folder));
  });
  router.post('/productions/:id/run-forecast', async (request, response) => {
    const { planned, recipe } = await plansOf(idOf(request), checked(runCheckRequest, request.body));
    await answerSampled(response, planned, recipe);
  });
  router.post('/productions/:id/recipe-forecast', async (request, response) => {
    const { clips: ids, definition } = checked(recipePreviewRequest, request.body);
    const production = idOf(request);
    const clips = await clipsToRun(db, production, ids.length > 0 ? ids : null);
    await answerSampled(response, planClips(clips, definition), definition);
  });
  /** Samples some of the plans and answers with what they come to, unless nobody waits for it any more. */
  async function answerSampled(response: Response, planned: readonly PlannedClip[], recipe: Recipe): Promise<void> {
    const unwanted = new AbortController();
    response.on('close', () => unwanted.abort());
    const plans: Parameters<typeof sampleForecast>[0][number][] = [];
    for (const { clip, plan } of planned) {
      if (!plan.ok) continue;
      const { original } = plan.value;
      const store = await storeOr404(context, clip.storeId);
      const files = original.chapters.length > 0 ? original.chapters.map((chapter) => chapter.path) : [original.path];
      plans.push({ plan: plan.value, source: { clip: original, paths: await Promise.all(files.map((path) => originalPlace(store, clip.root, path))) } });
    }
    const machines = new Set((await liveWorkers(db)).map(({ host }) => host)).size;
    const forecast = await sampleForecast(plans, recipe, cabinetText(db), Math.max(1, machines), unwanted.signal);
    if (!unwanted.signal.aborted) response.json(forecast);
  }
  router.post('/productions/:id/runs', async (request, response) => {
    const choice = checked(newRun, request.body);
    const { planned, recipe, version, sorted } = await plansOf(idOf(request), choice);
    if (planned.length === 0) throw new Refused(409, { what: 'None of these clips may run', remedy: `Decide on their findings first: ${sorted.keptOut[0]?.path ?? ''} is ${sorted.keptOut[0]?.why ?? 'kept out'}` });
    if (sorted.toDecide.length > 0 && !choice.asTheyAre) throw new Refused(409, { what: `${sorted.toDecide.length} clips have findings that nobody has decided on`, remedy: 'Decide on them, or start the run with them as they are' });
    const store = await storeOr404(context, choice.store);
    if (!(await isThere(store)) || (await freeBytes(store.path)) === 0) throw new Refused(507, { what: `${store.name} is full or not there`, remedy: 'Free space, or choose another store' });
    const answered = sorted.toDecide.map(({ clip, findings }) => ({ clip, rules: findings.map((finding) => finding.rule) }));
    await decide(context, idOf(request), answered, 'as it is', `by starting ${choice.name}`);
    const id = await startRun(db, boss, { production: idOf(request), name: choice.name, recipe, from: { id: choice.recipe, version }, store: choice.store, folder: choice.folder, inWaves: choice.inWaves, notBefore: choice.notBefore, wantedBy: choice.wantedBy }, planned);
    response.status(201).json(await runAnswer(db, id));
    // Nobody need wait for the sheet: of thousands of clips it takes seconds.
    await decided(context, idOf(request), answered).catch(() => undefined);
  });
  router.get('/productions/:id/runs', async (request, response) => void response.json(await runLines(db, idOf(request))));
  router.get('/runs/:id', async (request, response) => {
    const run = await runAnswer(db, idOf(request), checked(runQuestion, request.query).legs);
    if (!run) throw notThere('The run');
    response.json(run);
  });
  for (const [what, key] of [['runs', 'run'], ['legs', 'leg']] as const) {
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
    if (!(await moveLeg(db, idOf(request), checked(legMove, request.body).before))) throw new Refused(409, { what: 'Only legs that wait can be moved, within their wave', remedy: 'Move another, or hold it' });
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
    const [row] = (await db.query('SELECT log FROM leg WHERE id = $1', [idOf(request)])) as { log: string }[];
    if (!row) throw notThere('The leg');
    response.json({ log: row.log });
  });
  router.get('/legs/:id', async (request, response) => {
    const [line] = await legLines(db, { leg: idOf(request) });
    if (!line) throw notThere('The leg');
    const [row] = (await db.query('SELECT plan FROM leg WHERE id = $1', [line.id])) as { plan: LegPlan | null }[];
    const proofs = (await db.query('SELECT id, proof FROM output WHERE leg_id = $1', [line.id])) as { id: string; proof: LegLine['proof'] }[];
    const plan = row?.plan ?? null;
    response.json({
      ...line,
      outputs: line.outputs.map((output) => ({ ...output, proof: proofs.find((found) => found.id === output.id)?.proof ?? null })),
      said: plan ? sayPlan(plan) : [],
      outputsPlanned: plan?.outputs.map((output) => ({ path: output.path, line: sayOutput(output) })) ?? [],
      rate: plan?.outputs[0]?.video.rate ?? { num: 25, den: 1 },
    } satisfies LegAnswer);
  });
  return router;
}

type LegLine = LegAnswer['outputs'][number];
