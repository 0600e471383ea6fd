import type { SpaceAnswer, SpaceChoice, SpaceEffect, SpaceKind, SpaceSet } from '@relay/contract/space';
import { safeBecause, wordsToDelete } from '@relay/core/space/mayGo';
import type { CopyRule } from '@relay/core/custody/clearing';
import type { DataSource } from 'typeorm';
import { cutChoices } from '../cuts/cuts.ts';
import type { Tools } from '../desk/tools.ts';
import { foretold, siteHistory } from '../runs/history.ts';
import { liveWorkers } from '../queue/roster.ts';
import { candidatesOf, placeOf, type Candidate } from './candidates.ts';

/** Clips that an effect names. */
const shown = 500;

/** Of one kind and one run. */
export function setKey({ kind, run }: Pick<Candidate, 'kind' | 'run'>): string {
  return `${kind} ${run}`;
}

function setOf(rule: CopyRule, kind: SpaceKind, some: readonly Candidate[]): SpaceSet {
  const goes = some.filter(({ stays }) => stays === null);
  const reasons = new Map<string, number>();
  for (const { stays } of some) if (stays !== null) reasons.set(stays, (reasons.get(stays) ?? 0) + 1);
  const sum = (all: readonly Candidate[]): number => all.reduce((bytes, one) => bytes + one.sizeBytes, 0);
  const [first] = some;
  return {
    key: first ? setKey(first) : kind,
    kind,
    run: first?.runName ?? '',
    stores: [...new Set(some.map(({ store }) => store))],
    files: some.length,
    bytes: sum(some),
    goes: goes.length,
    goesBytes: sum(goes),
    safe: safeBecause(rule, kind === 'superseded'),
    stays: [...reasons].map(([why, files]) => ({ why, files })).sort((a, b) => b.files - a.files),
  };
}

/** Everything that could be deleted of a production, in sets, what gives the most back in front. */
export async function spaceOf(tools: Tools, production: string, cut: string | null): Promise<SpaceAnswer> {
  const { rule, candidates } = await candidatesOf(tools, { production, cut, only: null });
  const sets = new Map<string, Candidate[]>();
  for (const one of candidates) sets.set(setKey(one), [...(sets.get(setKey(one)) ?? []), one]);
  const known = new Map((await tools.stores.list()).map(({ id, name }) => [id, name]));
  return {
    sets: [...sets.values()]
      .map((some) => setOf(rule, (some[0] as Candidate).kind, some))
      .map((set) => ({ ...set, stores: set.stores.map((id) => known.get(id) ?? id) }))
      .sort((a, b) => b.goesBytes - a.goesBytes || b.bytes - a.bytes),
    cuts: await cutChoices(tools.db, production),
  };
}

/** What may go of the chosen sets. */
export async function chosenCandidates(
  tools: Pick<Tools, 'db' | 'stores'>,
  production: string,
  { sets, cut }: SpaceChoice,
): Promise<{ going: Candidate[]; all: Candidate[] }> {
  const { candidates } = await candidatesOf(tools, { production, cut, only: null });
  const wanted = new Set(sets);
  return {
    going: candidates
      .filter((one) => one.stays === null && wanted.has(setKey(one)))
      .sort((a, b) => (placeOf(a) < placeOf(b) ? -1 : 1)),
    all: candidates,
  };
}

/** What the clips lose and keep. */
function losing(going: readonly Candidate[], all: readonly Candidate[]): SpaceEffect['losing'] {
  const gone = new Set(going.map(placeOf));
  const kept = new Map<string, string[]>();
  for (const one of all)
    if (one.kind !== 'superseded' && !gone.has(placeOf(one)))
      kept.set(one.clip, [...(kept.get(one.clip) ?? []), one.deliverable]);
  const clips = new Map<string, { path: string; loses: string[]; keeps: string[] }>();
  for (const { clip, original, deliverable, kind } of going) {
    const line = clips.get(clip) ?? { path: original, loses: [], keeps: kept.get(clip) ?? [] };
    line.loses.push(kind === 'superseded' ? `${deliverable}, an older version` : deliverable);
    clips.set(clip, line);
  }
  const once = (names: readonly string[]): string[] => [...new Set(names)].sort();
  return [...clips.values()]
    .map(({ path, loses, keeps }) => ({ path, loses: once(loses), keeps: once(keeps) }))
    .sort((a, b) => a.keeps.length - b.keeps.length || (a.path < b.path ? -1 : 1));
}

/** Seconds that making all of it again takes, by the site's own pace; null where it has none. */
async function secondsAgain(db: DataSource, going: readonly Candidate[]): Promise<number | null> {
  const legs = await db.query<{ id: string; width: number; height: number; frames: number }[]>(
    `SELECT id, (plan->'original'->'video'->'raster'->>'width')::float AS width,
       (plan->'original'->'video'->'raster'->>'height')::float AS height,
       (plan->'original'->'video'->>'frames')::float AS frames
     FROM leg
     WHERE id = ANY ($1::uuid[])`,
    [[...new Set(going.flatMap(({ leg, kind }) => (kind === 'superseded' ? [] : [leg])))]],
  );
  const plans = legs.map(({ id, width, height, frames }) => ({
    outputs: going.flatMap(({ leg, planned }) => (leg === id && planned ? [planned] : [])),
    original: { video: width ? { raster: { width, height }, frames } : null },
  }));
  const lanes = Math.max(
    1,
    (await liveWorkers(db)).reduce((sum, { slots }) => sum + slots, 0),
  );
  return foretold(plans, await siteHistory(db), lanes)?.likely ?? null;
}

/** What deleting the chosen sets would come to. */
export async function effectOf(tools: Tools, production: string, choice: SpaceChoice): Promise<SpaceEffect> {
  const { going, all } = await chosenCandidates(tools, production, choice);
  const known = new Map((await tools.stores.list()).map(({ id, name }) => [id, name]));
  const stores = new Map<string, number>();
  for (const { store, sizeBytes } of going) stores.set(store, (stores.get(store) ?? 0) + sizeBytes);
  const clips = losing(going, all);
  return {
    files: going.length,
    bytes: going.reduce((sum, { sizeBytes }) => sum + sizeBytes, 0),
    stores: [...stores].map(([id, bytes]) => ({ name: known.get(id) ?? id, bytes })),
    clips: clips.length,
    bare: clips.filter(({ keeps }) => keeps.length === 0).length,
    losing: clips.slice(0, shown),
    again: await secondsAgain(tools.db, going),
    words: wordsToDelete(going.length),
  };
}
