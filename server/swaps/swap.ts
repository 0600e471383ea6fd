import type { SwapAnswer } from '@relay/contract/cuts';
import type { ClipPart } from '@relay/core/clip/partPlace';
import { writeEdl } from '@relay/core/cut/edl/write';
import { writeOtio } from '@relay/core/cut/otio/write';
import { under } from '@relay/core/naming/under';
import { outputOf } from '@relay/core/relink/readSheet';
import type { RelinkRow } from '@relay/core/relink/sheet';
import { pathMapCsv, swapped, type PulledFile, type Swap } from '@relay/core/relink/swap';
import type { DataSource } from 'typeorm';
import { run } from '../db/entities/runs.ts';
import type { Tools } from '../desk/tools.ts';
import { notThere } from '../http.ts';
import type { Written } from '../cuts/files.ts';
import type { KnownOriginal } from '../cuts/originals.ts';
import { tryVersion, type TriedVersion } from '../cuts/rehearsal.ts';

/** A cut on the files that were pulled for it. */

interface OutputRow {
  id: string;
  deliverable: string;
  role: string;
  path: string;
  store: string;
  folder: string;
  relink: RelinkRow;
  clip: string;
  part: ClipPart | null;
  frames: number;
}

/** The good outputs of a run, with what of their originals they were made from. */
async function outputsOfRun(db: DataSource, id: string): Promise<OutputRow[]> {
  return db.query<OutputRow[]>(
    `SELECT o.id, o.deliverable, o.role, o.path, o.store_id AS store, o.folder, o.relink, leg.clip_id AS clip,
       leg.plan->'original'->'part' AS part, (leg.plan->'original'->'video'->>'frames')::int AS frames
     FROM output o
     JOIN leg ON leg.id = o.leg_id
     WHERE leg.run_id = $1 AND o.relink IS NOT NULL AND o.state IN ('proved', 'needs eyes')
       AND leg.plan->'original'->'video'->>'frames' IS NOT NULL
     ORDER BY o.role, o.deliverable, o.path`,
    [id],
  );
}

export interface SwapOfRun {
  tried: TriedVersion;
  swap: Swap;
  /** The outputs that the swap's files are, in their order. */
  outputs: { id: string; path: string; clip: string }[];
  deliverable: string;
  deliverables: string[];
}

/** The version of a cut that a run was pulled for, on what the run made of one of its deliverables. */
export async function swapOfRun(
  { db, stores }: Pick<Tools, 'db' | 'stores'>,
  id: string,
  wanted: string | undefined,
): Promise<SwapOfRun> {
  const pulled = await db.manager.findOneBy(run, { id });
  if (!pulled?.pull) throw notThere('A pull of this number');
  const rows = await outputsOfRun(db, id);
  const deliverables = [...new Set(rows.map((row) => row.deliverable))];
  const best = rows.find(({ role }) => role === 'intermediate') ?? rows[0];
  const deliverable = wanted ?? best?.deliverable ?? '';
  const tried = await tryVersion(db, pulled.pull.version);
  const places = new Map(tried.originals.map(({ clip }, index) => [clip, index]));
  const files: PulledFile[] = [];
  const outputs: SwapOfRun['outputs'] = [];
  for (const row of rows.filter((one) => one.deliverable === deliverable)) {
    const original = places.get(row.clip);
    const said = outputOf(row.relink);
    if (original === undefined || typeof said === 'string') continue;
    const from = row.part?.from ?? 0;
    const root = (await stores.get(row.store))?.path;
    files.push({
      original,
      path: root === undefined ? under(row.folder, row.path) : under(root, under(row.folder, row.path)),
      reel: said.reel === '' ? null : said.reel,
      timecode: said.timecode,
      rate: said.rate,
      frames: said.frames,
      map: said.map,
      taken: { from, to: from + row.frames },
    });
    outputs.push({ id: row.id, path: row.path, clip: row.clip });
  }
  return { tried, swap: swapped(tried.version.read.cut, tried.matches, files), outputs, deliverable, deliverables };
}

/** What became of a swap, in numbers, and of whom it could not be made. */
export async function swapAnswer(tools: Tools, id: string, wanted: string | undefined): Promise<SwapAnswer> {
  const { tried, swap, deliverable, deliverables } = await swapOfRun(tools, id, wanted);
  const { cut } = tried.version.read;
  return {
    deliverable,
    deliverables,
    events: cut.events.filter(({ source }) => source.kind === 'media').length,
    swapped: swap.events.filter((event) => event !== null).length,
    left: swap.left.map(({ event, why }) => ({ number: cut.events[event]?.number ?? '', why })),
  };
}

const writers = {
  edl: (swap: Swap) => writeEdl(swap.cut),
  otio: (swap: Swap) => writeOtio(swap.cut),
  paths: (swap: Swap, originals: readonly KnownOriginal[]) => pathMapCsv(swap, originals),
} as const;

/** A swap as a list, or as a table of paths. */
export async function swapWritten(
  tools: Tools,
  id: string,
  to: keyof typeof writers,
  wanted: string | undefined,
): Promise<Written> {
  const { tried, swap, deliverable } = await swapOfRun(tools, id, wanted);
  const { of, number } = tried.version;
  const name = `${of.name} ${number} on ${deliverable}`;
  return {
    name: to === 'paths' ? `${name} paths.csv` : `${name}.${to}`,
    text: writers[to](swap, tried.originals),
  };
}
