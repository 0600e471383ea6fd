import type { InletDefinition } from '@relay/contract/inlets';
import { circleThrough, isWithinPlace, type InletPlaces } from '@relay/core/inlet/circle';
import { placeProblem } from '@relay/core/naming/under';
import { placesNamed, withPlaces } from '@relay/core/recipe/places';
import type { OutputPlace } from '@relay/core/recipe/recipe';
import { In, type DataSource, type EntityManager } from 'typeorm';
import { holding } from '@relay/work/disk/held';
import { placeIn, type Store } from '@relay/work/disk/store';
import { storeOr404, writableStore } from '../context.ts';
import { inlet, type InletRow } from '../db/entities/inlets.ts';
import { recipe } from '../db/entities/recipes.ts';
import { notThere, Refused } from '../http.ts';
import type { Stores } from '../stores/stores.ts';

/** Inlets as people say them: made, changed, paused, forgotten. */

interface Keeping {
  db: DataSource;
  stores: Stores;
}

export async function addInlet(
  keeping: Keeping,
  production: string,
  definition: InletDefinition,
  owner: string,
): Promise<string> {
  return keeping.db.transaction(async (tx) => {
    await tx.query('SELECT 1 FROM production WHERE id = $1 FOR UPDATE', [production]);
    await refuseWhatCannotBe(keeping, tx, production, definition, null);
    const { id } = await tx.save(inlet, { productionId: production, definition, owner });
    return id;
  });
}

/** Says an inlet anew. One change at a time; `seen` is the version that its editor knew. */
export async function changeInlet(
  keeping: Keeping,
  id: string,
  { seen, definition }: { seen: number; definition: InletDefinition },
): Promise<void> {
  await keeping.db.transaction(async (tx) => {
    const found = await tx.findOne(inlet, { where: { id }, lock: { mode: 'pessimistic_write' } });
    if (!found) throw notThere('The inlet');
    if (found.version !== seen)
      throw new Refused(409, {
        what: `${found.definition.name} was changed by somebody else meanwhile`,
        remedy: 'Look at it as it is now, then say your change again',
      });
    await refuseWhatCannotBe(keeping, tx, found.productionId, definition, id);
    await tx.update(inlet, { id }, { definition, version: seen + 1 });
  });
}

export async function pauseInlet(db: DataSource, id: string, paused: boolean): Promise<void> {
  const { affected } = await db.manager.update(inlet, { id }, { paused });
  if (affected === 0) throw notThere('The inlet');
}

export async function removeInlet(db: DataSource, id: string): Promise<void> {
  const { affected } = await db.manager.delete(inlet, { id });
  if (affected === 0) throw notThere('The inlet');
}

/** Where everything that an inlet's recipes make goes, once. Of recipes that are gone nothing is said. */
async function resultsOf(tx: EntityManager, { recipes }: InletDefinition): Promise<OutputPlace[]> {
  const rows = await tx.find(recipe, { where: { id: In(recipes.map((one) => one.recipe)) } });
  return recipes.flatMap(({ recipe: id, store, folder, places }) => {
    const own = { store, folder };
    const definition = rows.find((row) => row.id === id)?.definition;
    if (!definition) return [own];
    const placed = withPlaces(definition, own, places ?? placesNamed(definition));
    return placed.deliverables.map(({ place }) => place ?? own);
  });
}

/** Where an inlet takes from and where its results go, as far as circles go: those that take no results end there. */
async function placesOf(tx: EntityManager, definition: InletDefinition): Promise<InletPlaces> {
  return {
    name: definition.name,
    sources: definition.source.kind === 'folders' && definition.takesResults ? definition.source.folders : [],
    results: await resultsOf(tx, definition),
  };
}

/** @throws Refused where an inlet could never work, would take what another takes, or would feed itself */
async function refuseWhatCannotBe(
  { stores }: Keeping,
  tx: EntityManager,
  production: string,
  definition: InletDefinition,
  own: string | null,
): Promise<void> {
  const recipes = await tx.find(recipe, { where: { id: In(definition.recipes.map((one) => one.recipe)) } });
  if (recipes.length < new Set(definition.recipes.map((one) => one.recipe)).size) throw notThere('The recipe');
  const results = await resultsOf(tx, definition);
  for (const { store, folder } of results) {
    await writableStore({ stores }, store);
    refuseNoPlace(folder);
  }
  const sources = definition.source.kind === 'folders' ? definition.source.folders : [];
  const among = results.find((result) => sources.some((source) => isWithinPlace(result, source)));
  if (among)
    throw new Refused(400, {
      what: `The outputs would lie among the originals: ${among.folder || 'the store itself'} is inside the inlet's folder`,
      remedy: 'Choose a folder outside the one that is watched',
    });
  const others = await tx.find(inlet);
  const rest = others.filter(({ id }) => id !== own);
  refuseSameName(rest, production, definition.name);
  const way = circleThrough(
    await placesOf(tx, definition),
    await Promise.all(rest.map((row) => placesOf(tx, row.definition))),
  );
  if (way)
    throw new Refused(409, {
      what: `It would feed itself: ${way.join(' → ')}`,
      remedy: 'Let one of them take no results, or send its outputs elsewhere',
    });
  refuseTaking(definition, rest);
  for (const { store, folder } of sources) {
    refuseNoPlace(folder);
    if (definition.after.originals === 'move' || definition.after.receipts.length > 0)
      await writableStore({ stores }, store);
    await layOut(await storeOr404({ stores }, store), folder);
  }
}

/** Makes the folder that is to be watched, where it is not there and may be made. */
async function layOut(store: Store, folder: string): Promise<void> {
  try {
    await holding(async (held) => held.folder(placeIn(store, folder), '', !store.readOnly));
  } catch (error) {
    const { code, message } = error as NodeJS.ErrnoException;
    throw new Refused(404, {
      what: `${folder || store.name} cannot be opened (${code ?? message})`,
      remedy: 'See that the store is mounted and choose a folder in it',
    });
  }
}

function refuseNoPlace(folder: string): void {
  const wrong = folder === '' ? null : placeProblem(folder);
  if (wrong)
    throw new Refused(400, { what: `${folder.slice(0, 200)} ${wrong}`, remedy: 'Choose a folder of the store' });
}

/** @throws Refused where originals would be moved out of a folder that another inlet follows, too */
function refuseTaking({ name, source, after }: InletDefinition, rest: readonly InletRow[]): void {
  const sources = source.kind === 'folders' ? source.folders : [];
  for (const { definition: other } of rest) {
    if (other.source.kind !== 'folders' || (after.originals === 'stay' && other.after.originals === 'stay')) continue;
    const shared = other.source.folders.find((one) =>
      sources.some((own) => isWithinPlace(own, one) || isWithinPlace(one, own)),
    );
    if (!shared) continue;
    const [mover, loser] = after.originals === 'move' ? [name, other.name] : [other.name, name];
    throw new Refused(409, {
      what: `${mover} would move originals away from ${loser}: both follow ${shared.folder || 'the store itself'}`,
      remedy: 'Let originals stay where they are, or give each a folder of its own',
    });
  }
}

function refuseSameName(rows: readonly InletRow[], production: string, name: string): void {
  const same = rows.find(
    ({ productionId, definition }) =>
      productionId === production && definition.name.toLowerCase() === name.toLowerCase(),
  );
  if (same)
    throw new Refused(409, {
      what: `There is an inlet called ${same.definition.name} already`,
      remedy: 'Choose another name',
    });
}
