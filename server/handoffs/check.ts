import type { HandoffCheck, HandoffWish } from '@relay/contract/handoffs';
import type { Finding } from '@relay/core/findings/finding';
import { standingOf, type Decision } from '@relay/core/findings/findings';
import type { FileSystem } from '@relay/core/handoff/fileSystem';
import { pairsOf } from '@relay/core/handoff/pairs';
import { textNames } from '@relay/core/handoff/texts';
import { hindrancesOn, newestOnly, since, type Hindrance, type Since } from '@relay/core/handoff/travel';
import { placeProblem, under } from '@relay/core/naming/under';
import type { RelinkRow } from '@relay/core/relink/sheet';
import type { Problem } from '@relay/core/result';
import { freeBytes } from '@relay/work/disk/place';
import { isThere, type Store } from '@relay/work/disk/store';
import { targetSystem } from '@relay/work/handoff/target';
import type { DataSource } from 'typeorm';
import { checkSheetOf } from '../checks/checkSheet.ts';
import type { Tools } from '../desk/tools.ts';
import { chosenItems, type Chosen, type ChosenItem } from './choose.ts';
import { heldBy, type HeldThing } from './holds.ts';

/** So many lines of each list are told. */
const shown = 200;

/** What a hand-off comes to, worked out: the same for what is shown before and for what is then sent. */
export interface WorkedOut {
  since: Since<ChosenItem>;
  older: ChosenItem[];
  /** Copies that are marked as somebody else's, which stay. */
  others: Chosen['others'];
  held: HeldThing[];
  /** What is sent: new and replaced, but for what the receiver's system does not take. */
  sent: ChosenItem[];
  hindrances: Hindrance[];
  store: Store | null;
  place: Problem | null;
}

/** Outputs that several runs found there already are one. */
function eachOnce(items: readonly ChosenItem[]): ChosenItem[] {
  const known = new Set<string>();
  return items.filter(({ store, source }) => {
    const key = `${store}\0${source}`;
    if (known.has(key)) return false;
    known.add(key);
    return true;
  });
}

/** Why a place will not do for these; null where it does. */
async function placeRefused(
  db: DataSource,
  store: Store | null,
  folder: string,
  items: readonly ChosenItem[],
): Promise<Problem | null> {
  if (!store) return { what: 'The store is not known (any more)', remedy: 'Choose another' };
  const away = folder === '' ? null : placeProblem(folder);
  if (away) return { what: `${folder} ${away}`, remedy: 'Choose a folder inside the store' };
  if (store.readOnly) return { what: `${store.name} is only read from`, remedy: 'Choose another store' };
  if (!(await isThere(store)))
    return { what: `${store.name} is not there`, remedy: 'Put the drive in, or choose another' };
  if (items.some((item) => item.store === store.id && under(folder, item.path) === item.source))
    return { what: `${folder || store.name} is where the outputs lie themselves`, remedy: 'Choose another folder' };
  const [busy] = await db.query<{ name: string }[]>(
    `SELECT name FROM handoff WHERE store_id = $1 AND folder = $2 AND state IN ('waiting', 'copying')`,
    [store.id, folder],
  );
  return busy
    ? { what: `${busy.name} is being copied to this folder`, remedy: 'Wait until it is done, or choose another' }
    : null;
}

/** Works a hand-off out. @throws Refused where what was chosen is not there */
export async function workOut(
  { db, stores }: Pick<Tools, 'db' | 'stores'>,
  production: string,
  { receiver, fileSystem, choice, to }: HandoffWish,
): Promise<WorkedOut> {
  const { items: chosen, others } = await chosenItems({ db, stores }, production, choice, receiver);
  const { items, older } = newestOnly(eachOnce(chosen));
  const held = receiver === '' ? [] : await heldBy(db, production, receiver);
  const found = since(items, held);
  const all = [...found.fresh, ...found.replaced];
  const store = to ? await stores.get(to.store) : null;
  const place = to ? await placeRefused(db, store, to.folder, items) : null;
  const own = store && !place ? await targetSystem(store.path) : null;
  const texts = Object.values(textNames).map((path) => ({ path, sizeBytes: 0 }));
  const known = [...new Set([own, fileSystem].filter((one) => one !== null))];
  // Where nothing is known of the drive, it takes what any does.
  const systems: FileSystem[] = known.length > 0 ? known : ['ext4'];
  const hindrances = systems.flatMap((system) => hindrancesOn([...texts, ...all], system, to?.folder ?? ''));
  const refused = new Set(hindrances.map(({ path }) => path));
  const sent = all.filter(({ path }) => !refused.has(path));
  return { since: found, older, others, held, sent, hindrances, store, place };
}

/** Bytes a second of this site's newest copies; null where it made none. */
async function usualPace(db: DataSource): Promise<number | null> {
  const [row] = await db.query<{ pace: number | null }[]>(
    `SELECT (sum(bytes) / nullif(sum(seconds), 0))::float AS pace
     FROM (
       SELECT bytes, extract(epoch FROM ended_at - started_at) AS seconds, ended_at
       FROM roll
       WHERE state = 'proved' AND started_at IS NOT NULL
       UNION ALL
       SELECT bytes, extract(epoch FROM ended_at - started_at), ended_at
       FROM handoff
       WHERE state = 'proved' AND started_at IS NOT NULL
       ORDER BY ended_at DESC NULLS LAST
       LIMIT 20
     ) copied`,
  );
  return row?.pace ?? null;
}

/** What of a choice is not there yet, or not sure: outputs that need eyes, legs under way, runs to be looked at first. */
async function notProved(
  db: DataSource,
  production: string,
  wish: HandoffWish,
  items: readonly ChosenItem[],
): Promise<Hindrance[]> {
  const runs = await runsOf(db, items);
  const open = await db.query<{ name: string; legs: number }[]>(
    `SELECT run.name, count(*)::int AS legs
     FROM leg
     JOIN run ON run.id = leg.run_id
     WHERE run.production_id = $1 AND leg.state IN ('waiting', 'held', 'running', 'proving')
       AND (cardinality($2::uuid[]) = 0 OR run.id = ANY ($2::uuid[]))
     GROUP BY run.id
     ORDER BY run.name`,
    [production, wish.choice.runs],
  );
  const first: Hindrance[] = [];
  for (const { id, name } of runs.filter((run) => run.first)) {
    const { state } = await checkSheetOf(db, id);
    if (!state.met)
      first.push({ path: name, why: `is to be looked at first: ${state.accepted} of ${state.asked} are accepted` });
  }
  return [
    ...first,
    ...open.map(({ name, legs }) => ({
      path: name,
      why: legs === 1 ? 'has a leg to make' : `has ${legs} legs to make`,
    })),
    ...items.filter(({ good }) => !good).map(({ path }) => ({ path, why: 'needs eyes, and nobody accepted it' })),
  ];
}

/** Runs that outputs are of; `first` where they are to be looked at before they are handed on. */
export async function runsOf(
  db: DataSource,
  items: readonly ChosenItem[],
): Promise<{ id: string; name: string; first: boolean }[]> {
  return db.query(
    `SELECT DISTINCT run.id, run.name, coalesce((run.check_rule->>'handoff')::boolean, false) AS first
     FROM output
     JOIN leg ON leg.id = output.leg_id
     JOIN run ON run.id = leg.run_id
     WHERE output.id = ANY ($1::uuid[])`,
    [items.flatMap(({ output }) => output ?? [])],
  );
}

/** Clips of which somebody must still decide something. */
async function undecided(db: DataSource, items: readonly ChosenItem[]): Promise<Hindrance[]> {
  const rows = await db.query<{ path: string; findings: Finding[]; decisions: Decision[] | null }[]>(
    `SELECT path, findings, (SELECT json_agg(decision) FROM decision WHERE decision.clip_id = clip.id) AS decisions
     FROM clip
     WHERE id = ANY ($1::uuid[]) AND gravest < 2
     ORDER BY path`,
    [[...new Set(items.map(({ clip }) => clip))]],
  );
  return rows.flatMap(({ path, findings, decisions }) => {
    const { why, runs, toDecide } = standingOf(findings, decisions ?? []);
    const texts = [...(runs || why === null ? [] : [why]), ...toDecide.map(({ text }) => text)];
    return texts.length > 0 ? [{ path, why: texts.join('; ') }] : [];
  });
}

/** How the pairs of proxy and intermediate stand, of all that the receiver then holds. */
export function sayPairs(rows: readonly RelinkRow[]): HandoffCheck['pairs'] {
  const { pairs, roots } = pairsOf(rows, 'proxy', 'intermediate');
  if (pairs.length === 0) return null;
  const differ = pairs.filter(({ differs }) => differs.length > 0);
  return {
    count: pairs.length,
    swap: pairs.length - differ.length,
    roots,
    differ: differ.slice(0, shown).map(({ low, differs }) => ({ path: low, why: differs.join(', ') })),
  };
}

/** What a hand-off would come to, for a person. */
export async function checkHandoff(tools: Tools, production: string, wish: HandoffWish): Promise<HandoffCheck> {
  const { db } = tools;
  const { since: found, older, others, held, sent, hindrances, store, place } = await workOut(tools, production, wish);
  const bytes = sent.reduce((sum, { sizeBytes }) => sum + sizeBytes, 0);
  const pace = await usualPace(db);
  const [unsure, unsaid] = [await notProved(db, production, wish, sent), await undecided(db, sent)];
  const rows = [...held, ...sent].flatMap(({ relink }) => relink ?? []);
  return {
    outputs: sent.filter(({ kind }) => kind === 'output').length,
    originals: sent.filter(({ kind }) => kind === 'original').length,
    files: sent.length,
    bytes,
    held: found.held.length,
    replaced: found.replaced.map(({ path }) => path).slice(0, shown),
    toDelete: found.toDelete.map(({ path }) => path).slice(0, shown),
    older: older.length,
    others,
    seconds: pace === null ? null : bytes / pace,
    freeBytes: store && !place ? await freeBytes(store.path) : null,
    place,
    notProved: unsure.slice(0, shown),
    notProvedCount: unsure.length,
    undecided: unsaid.slice(0, shown),
    undecidedCount: unsaid.length,
    hindrances: hindrances.slice(0, shown),
    hindranceCount: hindrances.length,
    pairs: sayPairs(rows),
  };
}
