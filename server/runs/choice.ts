import type { SampledForecast } from '@relay/contract/forecast';
import type { PullWish, RunCheck, RunChoice, RunLine, RunOrder } from '@relay/contract/runs';
import { byPlace, placesNamed, withPlaces } from '@relay/core/recipe/places';
import type { OutputPlace, Recipe } from '@relay/core/recipe/recipe';
import type { Source } from '@relay/media/process/joined';
import type { Tools } from '../desk/tools.ts';
import { decide, decided } from '../clips/decisions.ts';
import { storeOr404, writableStore } from '../context.ts';
import { notThere, Refused } from '../http.ts';
import { cabinetText } from '../cabinet/cabinet.ts';
import { liveWorkers } from '../queue/roster.ts';
import { realPathOf, type Held } from '@relay/work/disk/held';
import { freeBytes } from '@relay/work/disk/place';
import { under } from '@relay/core/naming/under';
import { goneFrom } from '@relay/work/disk/present';
import { isThere, originalIn, type Store } from '@relay/work/disk/store';
import {
  checkRun,
  clipsToRun,
  planAndClash,
  planClips,
  sortOut,
  takenBy,
  type ClipToRun,
  type PlannedClip,
  type Readied,
} from './plans.ts';
import { runLineOf } from './queries.ts';
import { asShown } from '@relay/media/process/pinned';
import { partOfFiles } from '@relay/work/cut/part';
import { pullOfVersion } from '../cuts/pull.ts';
import { sampleForecast } from '@relay/work/leg/sampledForecast';
import { queueRun, writeRun } from './service.ts';

/** What somebody chose goes through whole productions, and is worked out at the desk. */

interface Chosen extends Readied {
  /** With the places that its deliverables go to in this run. */
  recipe: Recipe;
  /** As it is kept. */
  kept: Recipe;
  version: number;
  /** Every store that outputs go to. */
  stores: Store[];
  pull: RunCheck['pull'];
}

/** A choice as plans; refuses what can never be. */
async function chosen(
  { db, stores }: Pick<Tools, 'db' | 'stores'>,
  production: string,
  choice: RunChoice,
): Promise<Chosen> {
  const [row] = await db.query<
    {
      definition: Recipe;
      version: number;
    }[]
  >('SELECT definition, version FROM recipe WHERE id = $1', [choice.recipe]);
  if (!row) throw notThere('The recipe');
  const own = { store: choice.store, folder: choice.folder };
  const recipe = withPlaces(row.definition, own, choice.places ?? placesNamed(row.definition));
  const places = uniquePlaces(recipe, own);
  const outStores = await Promise.all(places.map(({ store }) => writableStore({ stores }, store)));
  const clips = await clipsToRun(db, production, choice.clips);
  if (clips.length === 0) throw notThere('None of the clips');
  const outRoots = await Promise.all(
    places.map(({ folder }, index) => realPathOf({ root: (outStores[index] as Store).path, folder })),
  );
  for (const root of new Set(clips.map((clip) => JSON.stringify([clip.storeId, clip.root])))) {
    const [storeId, folder] = JSON.parse(root) as [string, string];
    const source = await realPathOf({ root: (await storeOr404({ stores }, storeId)).path, folder });
    if (outRoots.some((outRoot) => `${outRoot}/`.startsWith(`${source}/`)))
      throw new Refused(400, {
        what: 'The outputs would lie among the originals',
        remedy: 'Choose a folder outside the one that was read',
      });
  }
  const whole = sortOut(clips, recipe);
  const pulled = choice.pull ? await pulledOf({ db, stores }, production, choice.pull, whole.runs) : null;
  const sorted = pulled ? { ...whole, runs: pulled.parts } : whole;
  return {
    pull: pulled && pulled.counts,
    recipe,
    kept: row.definition,
    version: row.version,
    stores: [...new Map(outStores.map((store) => [store.id, store])).values()],
    ...planAndClash(sorted.runs, recipe),
    sorted,
  };
}

/** The stretches of clips that a cut needs, each as a clip to run. */
async function pulledOf(
  { db, stores }: Pick<Tools, 'db' | 'stores'>,
  production: string,
  wish: PullWish,
  clips: readonly ClipToRun[],
): Promise<{ parts: ClipToRun[]; counts: NonNullable<RunCheck['pull']> }> {
  const { stretches, ...counts } = await pullOfVersion(db, production, wish);
  const byId = new Map(clips.map((clip) => [clip.id, clip]));
  const parts: ClipToRun[] = [];
  for (const { clip: id, frames: span } of stretches) {
    const clip = byId.get(id);
    if (!clip) continue;
    const store = await storeOr404({ stores }, clip.storeId);
    const at = { root: store.path, folder: clip.root };
    const part = await partOfFiles(at, clip.description, span).catch((error: Error) => {
      const what = `${clip.path} cannot be read: ${asShown(error.message)}`;
      throw new Refused(409, { what, remedy: `See that ${store.name} is mounted and the file is there` });
    });
    if (!part.ok) throw new Refused(409, part.problem);
    parts.push({ ...clip, description: part.value });
  }
  return { parts, counts: { stretches: stretches.length, ...counts } };
}

/** Every place that a recipe's deliverables go to, once. */
function uniquePlaces({ deliverables }: Recipe, own: OutputPlace): OutputPlace[] {
  return byPlace(deliverables, own).map(({ place }) => place);
}

/** Originals of clips that are not there any more, chapters among them. */
async function goneOriginals({ stores }: Tools, clips: readonly ClipToRun[]): Promise<string[]> {
  const byStore = new Map<string, string[]>();
  for (const { storeId, root, path, description } of clips) {
    const files = description.chapters.length > 0 ? description.chapters.map((chapter) => chapter.path) : [path];
    const known = byStore.get(storeId) ?? [];
    byStore.set(storeId, known);
    known.push(...files.map((file) => under(root, file)));
  }
  const gone = await Promise.all(
    [...byStore].map(async ([id, paths]) => {
      const store = await stores.get(id);
      return store ? [...(await goneFrom(store, paths))] : paths;
    }),
  );
  return gone.flat();
}

/** What a run would make, need and meet. */
export async function checkChoice(tools: Tools, production: string, choice: RunChoice): Promise<RunCheck> {
  const { recipe, kept, stores, pull, ...readied } = await chosen(tools, production, choice);
  const gone = await goneOriginals(
    tools,
    readied.planned.map(({ clip }) => clip),
  );
  const own = { store: choice.store, folder: choice.folder };
  const check = await checkRun(tools.db, recipe, readied, { own, stores });
  return { ...check, remedy: check.remedy && withoutRunPlaces(check.remedy, kept), gone, pull };
}

/** A remedy as it would be kept: the places that only this run chose are none of the recipe's. */
function withoutRunPlaces(remedy: NonNullable<RunCheck['remedy']>, kept: Recipe): RunCheck['remedy'] {
  const nowhere = { store: '', folder: '' };
  return { ...remedy, definition: withPlaces(remedy.definition, nowhere, placesNamed(kept)) };
}

/** What a run would take, by sampled pictures of some of its clips. */
export async function forecastChoice(tools: Tools, production: string, choice: RunChoice): Promise<SampledForecast> {
  const { recipe, planned } = await chosen(tools, production, choice);
  return sampled(tools, planned, recipe);
}

/** The same of a recipe that is being written, for some clips or for all. */
export async function forecastRecipe(
  tools: Tools,
  production: string,
  ids: readonly string[],
  recipe: Recipe,
): Promise<SampledForecast> {
  const clips = await clipsToRun(tools.db, production, ids.length > 0 ? ids : null);
  return sampled(tools, planClips(takenBy(clips, recipe), recipe), recipe);
}

async function sampled(
  { db, stores, signal }: Tools,
  planned: readonly PlannedClip[],
  recipe: Recipe,
): Promise<SampledForecast> {
  const plans = await Promise.all(
    planned
      .flatMap(({ clip, plan }) => (plan.ok ? [{ clip, plan: plan.value }] : []))
      .map(async ({ clip, plan }) => {
        const store = await storeOr404({ stores }, clip.storeId);
        const { original } = plan;
        const files = original.chapters.length > 0 ? original.chapters.map((chapter) => chapter.path) : [original.path];
        return {
          plan,
          open: async (held: Held): Promise<Source> => ({
            clip: original,
            paths: await Promise.all(files.map((path) => originalIn(held, store, clip.root, path))),
          }),
        };
      }),
  );
  const machines = new Set((await liveWorkers(db)).map(({ host }) => host)).size;
  return sampleForecast(plans, recipe, cabinetText(db), Math.max(1, machines), signal);
}

/**
 * Starts a run; what nobody had decided is answered by whoever starts it. Answers the run without its legs: to read
 * ten thousand took half a second, and the page asks for them itself.
 */
export async function beginChoice(tools: Tools, production: string, order: RunOrder): Promise<RunLine | null> {
  const { db, boss } = tools;
  const { planned, recipe, version, sorted, stores } = await chosen(tools, production, order);
  if (planned.length === 0)
    throw new Refused(409, {
      what: 'None of these clips may run',
      remedy: `Look at why: ${sorted.keptOut[0]?.path ?? ''} is ${sorted.keptOut[0]?.why ?? 'kept out'}`,
    });
  if (sorted.toDecide.length > 0 && !order.asTheyAre)
    throw new Refused(409, {
      what: `${sorted.toDecide.length} clips have findings that nobody has decided on`,
      remedy: 'Decide on them, or start the run with them as they are',
    });
  for (const store of stores)
    if (!(await isThere(store)) || (await freeBytes(store.path)) === 0)
      throw new Refused(507, {
        what: `${store.name} is full or not there`,
        remedy: 'Free space, or choose another store',
      });
  const answered = sorted.toDecide.map(({ clip, findings }) => ({
    clip,
    rules: findings.map((finding) => finding.rule),
  }));
  await decide(tools, production, answered, 'as it is', `by starting ${order.name}`);
  const { name, folder, inWaves, notBefore, wantedBy } = order;
  const written = await writeRun(
    db,
    {
      production,
      name,
      recipe,
      from: { id: order.recipe, version },
      store: order.store,
      folder,
      inWaves,
      notBefore,
      wantedBy,
      pull: order.pull ?? null,
    },
    planned,
  );
  // Nobody need wait for the sheet: of thousands of clips it takes seconds.
  void decided(tools, production, answered).catch(() => undefined);
  // What is answered does not depend on the queue.
  const [answer] = await Promise.all([runLineOf(db, written.id), queueRun(db, boss, written)]);
  return answer;
}
