import type { ClipDescription, Refusal } from '@relay/core/clip/description';
import type { Rational } from '@relay/core/time/rational';
import type { RollState } from './arrivals.ts';
import type { Proof } from '@relay/core/proof/proof';
import type { Recipe } from '@relay/core/recipe/recipe';
import { clipIdList } from './ids.ts';
import { recipe } from './recipe.ts';
import type { MemberSystem } from '@relay/core/naming/systemPath';
import type { Problem } from '@relay/core/result';
import type { QuietHours } from '@relay/core/site/quietHours';
import { z } from 'zod';

/** What server and web say to each other. Requests are checked with the schemas; answers have these types. */

export type LegState = 'waiting' | 'held' | 'running' | 'proving' | 'proved' | 'needs eyes' | 'failed' | 'stopped';
export const openStates: readonly LegState[] = ['waiting', 'held', 'running', 'proving'];

export interface ProductionAnswer {
  id: string;
  name: string;
  createdAt: string;
  /** Its own rate, that findings compare with; null when nobody said. */
  rate: Rational | null;
  copyRule: { copies: number; stores: number };
  /** What waits at each station. */
  counts: {
    rolls: number;
    clips: number;
    leftAside: number;
    toDecide: number;
    arriving: number;
    groups: number;
    logWithout: number;
    recipes: number;
    runs: number;
    legsOpen: number;
    outputs: number;
    needEyes: number;
    failed: number;
    handoffs: number;
  };
}
export const productionChange = z.strictObject({
  rate: z.object({ num: z.number().int().positive(), den: z.number().int().positive() }).nullable().optional(),
  copyRule: z
    .strictObject({ copies: z.number().int().min(1).max(9), stores: z.number().int().min(1).max(9) })
    .optional(),
});
export const newProduction = z.strictObject({ name: z.string().trim().min(1, 'give it a name').max(120) });

export interface StoreAnswer {
  id: string;
  name: string;
  path: string;
  /** The simulated card reader: cards come from it, nothing goes to it. */
  bay: boolean;
  /** Null when the store is not there. */
  freeBytes: number | null;
  totalBytes: number | null;
  /** What legs that are queued or under way will still put there, likely. */
  promisedBytes: number;
  /** Its path as members' machines write it. */
  elsewhere: Partial<Record<MemberSystem, string>>;
}
const memberPath = z.string().trim().max(1000).optional();
export const storeChange = z.strictObject({
  elsewhere: z.strictObject({ windows: memberPath, mac: memberPath, linux: memberPath }),
});
export interface FoldersAnswer {
  folder: string;
  folders: string[];
  files: number;
}

const storeFolder = { store: z.string().min(1).max(80), folder: z.string().max(4000) };
export const newReading = z.strictObject(storeFolder);
export interface ReadingAnswer {
  id: string;
  store: string;
  folder: string;
  state: 'waiting' | 'running' | 'done' | 'failed';
  total: number;
  done: number;
  problem: Problem | null;
  /** What it left for later, if anything. */
  says: string | null;
  createdAt: string;
}

export interface LeftAsideLine {
  id: string;
  refusal: Refusal;
}

const runChoice = { clips: clipIdList(1), recipe: z.uuid(), ...storeFolder };
export const runCheckRequest = z.strictObject(runChoice);
export const newRun = z.strictObject({
  ...runChoice,
  name: z.string().trim().min(1).max(120),
  /** Findings still to decide are answered with *as it is*, by who starts the run. */
  asTheyAre: z.boolean().default(false),
  /** Proxies and review copies of everything first, then intermediates: originals are decoded twice. */
  inWaves: z.boolean().default(false),
  notBefore: z.iso.datetime().nullable().default(null),
  wantedBy: z.iso.datetime().nullable().default(null),
});
/** What can be said of a run while it goes on. */
export const runChange = z.strictObject({
  priority: z.number().int().min(-5).max(5).optional(),
  notBefore: z.iso.datetime().nullable().optional(),
  wantedBy: z.iso.datetime().nullable().optional(),
});
/** A run is asked for whole, or with only some of its legs: their ids, with commas. */
export const runQuestion = z.object({
  legs: z
    .string()
    .transform((text) => text.split(','))
    .pipe(z.array(z.uuid()).max(200))
    .optional(),
});
export interface RecipeAnswer {
  id: string;
  definition: Recipe;
  group: string;
  note: string;
  owner: string;
  version: number;
  changedAt: string;
}
/** A recipe said anew: what it was is kept as a version. `seen` is the version that its editor had before them. */
export const keptRecipe = z.strictObject({
  definition: recipe,
  group: z.string().trim().min(1).max(60),
  note: z.string().trim().max(600),
  seen: z.number().int().positive(),
});
export const newRecipe = keptRecipe.omit({ seen: true });
export interface RecipeVersion {
  version: number;
  definition: Recipe;
  who: string;
  at: string;
}
export const recipePreviewRequest = z.strictObject({ clips: clipIdList(0), definition: recipe });
/** What a recipe would make of clips: paths, and what keeps them from being made. */
export interface RecipePreview {
  clips: number;
  paths: { original: string; deliverable: string; path: string; clash: string | null }[];
  total: number;
  clashes: number;
  remedy: { text: string; definition: Recipe } | null;
  refused: { path: string; problem: Problem }[];
  deliverables: DeliverableForecast[];
}
/** What a deliverable takes over all clips: a range that holds nine times in ten, and how it is known. */
export interface DeliverableForecast {
  deliverable: string;
  outputs: number;
  bytes: ByteRange;
  known: 'exact' | 'by frame sizes' | 'by published rates' | 'by sampled pictures' | 'roughly';
  warnings: string[];
}
export interface ByteRange {
  least: number;
  likely: number;
  most: number;
}
/** What a run would do, before it starts. */
export interface RunCheck {
  clips: number;
  outputs: number;
  bytesAtMost: number;
  freeBytes: number;
  refused: { clip: string; path: string; problem: Problem }[];
  /** Output paths where something is already. */
  taken: string[];
  /** Clips that findings or decisions keep out of the run. */
  keptOut: { clip: string; path: string; why: string }[];
  toDecide: { clip: string; path: string; findings: { rule: string; text: string; remedy: string }[] }[];
  /** Clips that were not looked at closely yet, so that findings may be missing. */
  notLooked: number;
  /**
   * Deliverable by deliverable what it will take, all together, and the time by this site's own pace; null before it
   * has one.
   */
  deliverables: DeliverableForecast[];
  bytes: ByteRange;
  seconds: { likely: number; most: number } | null;
  /** What keeps paths from being made, and the smallest change of the recipe that lets them be. */
  clashes: number;
  remedy: { text: string; definition: Recipe } | null;
  /** What runs that are under way will still put on the store before this one. */
  promisedBytes: number;
  /** Outputs that were made to another plan: they are set aside as versions once the new ones are proved. */
  superseded: number;
}

/** A forecast by sampled pictures of some of a run's clips. */
export interface SampledForecast {
  sampled: number;
  of: number;
  deliverables: Pick<DeliverableForecast, 'deliverable' | 'bytes' | 'known'>[];
  bytes: ByteRange;
  seconds: RunCheck['seconds'];
}

export interface RunLine {
  id: string;
  name: string;
  recipeName: string;
  store: string;
  folder: string;
  createdAt: string;
  endedAt: string | null;
  legs: Partial<Record<LegState, number>>;
  bytes: number;
  priority: number;
  notBefore: string | null;
  wantedBy: string | null;
}
export interface OutputLine {
  id: string;
  deliverable: string;
  role: string;
  path: string;
  state: LegState;
  alreadyThere: boolean;
  sizeBytes: number;
  xxh3: string | null;
  proof: Proof | null;
  problem: Problem | null;
}
export interface LegLine {
  id: string;
  clipId: string;
  stem: string;
  path: string;
  roll: string;
  ordinal: number;
  wave: number;
  hand: number;
  /** What it makes, in a word or two. */
  makes: string;
  state: LegState;
  framesDone: number;
  framesTotal: number;
  /** Seconds of material, for a forecast of the legs that wait. */
  seconds: number;
  samples: number;
  speed: number | null;
  worker: string | null;
  problem: Problem | null;
  startedAt: string | null;
  endedAt: string | null;
  outputs: OutputLine[];
}
export interface RunAnswer extends RunLine {
  legLines: LegLine[];
  /** The server's clock when this was answered, against which times are shown. */
  now: string;
  /** What legs that wait lack: no worker that is there can take them. Null where some can. */
  lacks: string | null;
  reels: ReelLine[];
}
/** Outputs of a run joined into one file. */
export interface ReelLine {
  id: string;
  deliverable: string;
  path: string;
  state: 'waiting' | 'running' | 'proved' | 'failed';
  problem: Problem | null;
  sizeBytes: number;
  xxh3: string | null;
  parts: number;
}
export const newReel = z.strictObject({ deliverable: z.string().min(1).max(80) });
export interface LegAnswer extends LegLine {
  said: string[];
  outputsPlanned: { path: string; line: string }[];
  rate: { num: number; den: number };
}
export interface OutputAnswer extends OutputLine {
  legId: string;
  runId: string;
  clipId: string;
  clipPath: string;
  said: string[];
  frames: number;
  /** It has pictures, and is not sound alone. */
  pictured: boolean;
  rate: { num: number; den: number };
  raster: { width: number; height: number };
  start: { start: string; dropFrame: boolean } | null;
  original: ClipDescription;
}
export interface ChecksAnswer {
  total: number;
  outputs: (OutputLine & { runId: string; clipId: string; clipPath: string; stem: string; createdAt: string })[];
}
export interface HandoffLine {
  runId: string;
  name: string;
  place: string;
  outputs: number;
  bytes: number;
  csv: string;
  json: string;
}
export interface SiteAnswer {
  stores: StoreAnswer[];
  legsOpen: number;
  legsRunning: number;
  /** When everything queued will be done, by the speed so far; null when it cannot be told yet. */
  readyAt: string | null;
  workers: WorkerLine[];
  quiet: QuietHours | null;
  /** No leg begins now. */
  quietNow: boolean;
  /** Quiet stretches of the coming week, in milliseconds since 1970. */
  quietStretches: { start: number; end: number }[];
  /** What the server's clock shows, `HH:MM`: quiet hours go by it. */
  clock: string;
  /** Why the server's own FFmpeg runs without a sandbox; null where it has one. */
  isolation: string | null;
}
/** A worker that is there. */
export interface WorkerLine {
  name: string;
  title: string;
  host: string;
  slots: number;
  /** Codecs that it takes legs of; null for all. */
  codecs: string[] | null;
  /** Stores that are there on its machine. */
  stores: string[];
  /** Why it reads strangers' files without a sandbox; null where it has one. */
  isolation: string | null;
  startedAt: string;
  legs: { leg: string; run: string; stem: string; production: string; state: LegState }[];
}
const timeOfDay = z.string().regex(/^([01]\d|2[0-3]):[0-5]\d$/, 'write a time as HH:MM');
export const siteChange = z.strictObject({ quiet: z.strictObject({ from: timeOfDay, until: timeOfDay }).nullable() });
export const legMove = z.strictObject({ before: z.uuid().nullable() });

/** What the server sends down `/api/live`. */
export type LiveMessage =
  | {
      kind: 'leg';
      run: string;
      leg: string;
      state: LegState;
      framesDone: number;
      framesTotal: number;
      speed: number | null;
    }
  | { kind: 'reading'; production: string; reading: string; done: number; total: number; state: ReadingAnswer['state'] }
  | {
      kind: 'roll';
      production: string;
      roll: string;
      state: RollState;
      files: number;
      filesDone: number;
      bytes: number;
      bytesDone: number;
    }
  | { kind: 'changed'; what: 'clips' | 'rolls' | 'runs' | 'productions'; production: string | null };

export interface ErrorAnswer {
  error: Problem;
}
