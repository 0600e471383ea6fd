import type { HandoffChoice } from '@relay/contract/handoffs';
import type { TravelItem } from '@relay/core/handoff/travel';
import { under } from '@relay/core/naming/under';
import type { RelinkRow } from '@relay/core/relink/sheet';
import { holding } from '@relay/work/disk/held';
import { fileFacts } from '@relay/work/disk/place';
import type { Store } from '@relay/work/disk/store';
import type { DataSource } from 'typeorm';
import { asksForChanged, fitting, saidBy } from '../clips/queries.ts';
import { clipsUsedBy } from '../cuts/rehearsal.ts';
import type { Tools } from '../desk/tools.ts';
import { Refused } from '../http.ts';

/** Something that is to travel, with where it lies and what it is of. */
export interface ChosenItem extends TravelItem {
  store: string;
  /** Below the store. */
  source: string;
  output: string | null;
  clip: string;
  roll: string;
  relink: RelinkRow | null;
  /** Of an output: it is proved, or somebody accepted it. */
  good: boolean;
}

interface OutputRecord {
  id: string;
  deliverable: string;
  store: string;
  folder: string;
  path: string;
  state: string;
  sizeBytes: number;
  xxh3: string | null;
  relink: RelinkRow;
  clip: string;
  roll: string;
  pulled: boolean;
  /** Whose copy it is, where its deliverable makes one for each of several. */
  recipient: string | null;
  verdict: string | null;
}

/** Clips that a choice is limited to; null where it is to none. */
async function clipsOf(
  db: DataSource,
  production: string,
  { filter, cut }: HandoffChoice,
): Promise<readonly string[] | null> {
  let clips: Set<string> | null = null;
  if (filter !== '') {
    if (asksForChanged(filter))
      throw new Refused(400, {
        what: 'A hand-off cannot be limited to what has changed since a run',
        remedy: 'Leave that out of the filter, and choose runs',
      });
    const { where, parameters } = fitting(production, filter);
    const rows = await db.query<{ id: string }[]>(`SELECT id FROM clip WHERE ${where}`, parameters);
    clips = new Set(rows.map(({ id }) => id));
  }
  if (cut !== null) {
    const used = await clipsUsedBy(db, cut);
    clips = new Set([...used].filter((id) => clips?.has(id) ?? true));
  }
  return clips === null ? null : [...clips];
}

/** Good outputs that a choice takes, the newest first. */
async function chosenOutputs(db: DataSource, production: string, choice: HandoffChoice): Promise<OutputRecord[]> {
  const clips = await clipsOf(db, production, choice);
  const parameters: unknown[] = [production];
  const given = (value: unknown): string => `$${parameters.push(value)}`;
  const limits = [
    ...(choice.runs.length > 0 ? [`leg.run_id = ANY (${given(choice.runs)}::uuid[])`] : []),
    ...(choice.roles.length > 0 ? [`o.role = ANY (${given(choice.roles)}::text[])`] : []),
    ...(choice.deliverables.length > 0 ? [`o.deliverable = ANY (${given(choice.deliverables)}::text[])`] : []),
    ...(choice.rolls.length > 0 ? [`clip.roll = ANY (${given(choice.rolls)}::text[])`] : []),
    ...(choice.days.length > 0 ? [`roll.day = ANY (${given(choice.days)}::text[])`] : []),
    ...(choice.circled ? [`${saidBy('circled')} = 'true'`] : []),
    ...(clips === null ? [] : [`clip.id = ANY (${given(clips)}::uuid[])`]),
  ];
  return db.query<OutputRecord[]>(
    `SELECT o.id, o.deliverable, o.store_id AS store, o.folder, o.path, o.state, o.size_bytes::float AS "sizeBytes",
       o.xxh3, o.relink, clip.id AS clip, clip.roll, run.pull IS NOT NULL AS pulled,
       (
         SELECT planned.value->>'recipient'
         FROM json_array_elements(leg.plan->'outputs') planned
         WHERE planned.value->>'path' = o.path
         LIMIT 1
       ) AS recipient,
       (
         SELECT look.verdict
         FROM output_look look
         WHERE look.output_id = o.id AND look.xxh3 IS NOT DISTINCT FROM o.xxh3
         ORDER BY look.at DESC
         LIMIT 1
       ) AS verdict
     FROM output o
     JOIN leg ON leg.id = o.leg_id
     JOIN run ON run.id = leg.run_id
     JOIN clip ON clip.id = leg.clip_id
     LEFT JOIN roll ON roll.id = clip.roll_id
     WHERE run.production_id = $1 AND o.relink IS NOT NULL AND o.state IN ('proved', 'needs eyes')
       ${limits.map((limit) => `AND ${limit}`).join(' ')}
     ORDER BY o.created_at DESC, o.path`,
    parameters,
  );
}

function itemOf(one: OutputRecord): ChosenItem {
  return {
    path: one.path,
    kind: 'output',
    sizeBytes: one.sizeBytes,
    xxh3: one.xxh3,
    // A pull's stretches are outputs of one clip side by side, and none of them is a version of the whole.
    key: `${one.clip} ${one.deliverable} ${one.pulled ? `from ${one.relink.originalFrom ?? 0}` : ''}${one.recipient === null ? '' : ` for ${one.recipient}`}`,
    store: one.store,
    source: under(one.folder, one.path),
    output: one.id,
    clip: one.clip,
    roll: one.roll,
    relink: one.relink,
    good: one.verdict === 'accepted' || one.state === 'proved',
  };
}

/** Bytes of a file of a store; null where it is not there. */
async function sizeIn(store: Store | undefined, path: string): Promise<number | null> {
  if (!store) return null;
  return holding(async (held) => (await fileFacts(await held.place(store.path, path)))?.sizeBytes ?? null).catch(
    () => null,
  );
}

/** LUTs that lie beside outputs, each once. */
async function lutsOf(items: readonly ChosenItem[], stores: ReadonlyMap<string, Store>): Promise<ChosenItem[]> {
  const luts = new Map<string, ChosenItem>();
  for (const item of items) {
    const path = item.relink?.lut ?? '';
    if (path === '' || luts.has(path)) continue;
    const source = under(item.source.slice(0, item.source.length - item.path.length).replace(/\/$/, ''), path);
    const sizeBytes = (await sizeIn(stores.get(item.store), source)) ?? 0;
    luts.set(path, { ...item, path, kind: 'lut', sizeBytes, xxh3: null, key: '', source, output: null, relink: null });
  }
  return [...luts.values()];
}

interface OriginalRecord {
  id: string;
  store: string;
  root: string;
  path: string;
  roll: string;
  chapters: string[];
  sidecars: string[];
}

/** The camera originals of clips, with what lies beside them, under `originals/`. */
async function originalsOf(
  db: DataSource,
  items: readonly ChosenItem[],
  stores: ReadonlyMap<string, Store>,
): Promise<ChosenItem[]> {
  const rows = await db.query<OriginalRecord[]>(
    `SELECT id, store_id AS store, root, path, roll,
       coalesce(
         (SELECT json_agg(chapter->>'path') FROM jsonb_array_elements(description->'chapters') chapter), '[]'
       ) AS chapters,
       sidecars
     FROM clip
     WHERE id = ANY ($1::uuid[])
     ORDER BY root, path`,
    [[...new Set(items.map(({ clip }) => clip))]],
  );
  const known = new Map(items.map(({ clip, relink }) => [clip, relink?.originalXxh3 ?? '']));
  const found = new Map<string, ChosenItem>();
  for (const { id, store, root, path, roll, chapters, sidecars } of rows) {
    const one = async (inner: string, kind: 'original' | 'sidecar', xxh3: string | null): Promise<void> => {
      const source = under(root, inner);
      const at = under('originals', source);
      // The same path on another store is another file: that both cannot lie there is said.
      const key = `${store}\0${at}`;
      if (found.has(key)) return;
      const sizeBytes = (await sizeIn(stores.get(store), source)) ?? 0;
      const rest = { key: '', output: null, relink: null, good: true };
      found.set(key, { path: at, kind, sizeBytes, xxh3, store, source, clip: id, roll, ...rest });
    };
    const files = chapters.length > 0 ? chapters : [path];
    const sum = known.get(id) ?? '';
    for (const file of files) await one(file, 'original', files.length === 1 && sum !== '' ? sum : null);
    for (const file of sidecars) await one(file, 'sidecar', null);
  }
  return [...found.values()];
}

/** What a choice takes, and who else's copies are among it: those stay. */
export interface Chosen {
  items: ChosenItem[];
  others: { recipient: string; copies: number }[];
}

/**
 * Everything that a choice takes for a receiver: outputs the newest first, LUTs beside them, originals where they are
 * wanted. A copy that is marked as somebody's goes to them alone.
 */
export async function chosenItems(
  { db, stores }: Pick<Tools, 'db' | 'stores'>,
  production: string,
  choice: HandoffChoice,
  receiver: string,
): Promise<Chosen> {
  const known = new Map((await stores.list()).map((store) => [store.id, store]));
  // What somebody sent back stays here.
  const good = (await chosenOutputs(db, production, choice)).filter(({ verdict }) => verdict !== 'sent back');
  const isTheirs = ({ recipient }: OutputRecord): boolean =>
    recipient === null || recipient.toLowerCase() === receiver.toLowerCase();
  const outputs = good.filter(isTheirs).map(itemOf);
  const others = new Map<string, number>();
  for (const one of good)
    if (one.recipient !== null && !isTheirs(one)) others.set(one.recipient, (others.get(one.recipient) ?? 0) + 1);
  return {
    items: [
      ...outputs,
      ...(await lutsOf(outputs, known)),
      ...(choice.originals ? await originalsOf(db, outputs, known) : []),
    ],
    others: [...others]
      .map(([recipient, copies]) => ({ recipient, copies }))
      .sort((a, b) => (a.recipient < b.recipient ? -1 : 1)),
  };
}
