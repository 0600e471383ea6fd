import type { ClipDescription, Refusal } from '@relay/core/clip/description';
import type { Note } from '@relay/core/clip/toKnow';
import type { Proof } from '@relay/core/proof/proof';
import type { Recipe } from '@relay/core/recipe/recipe';
import type { Problem } from '@relay/core/result';
import { z } from 'zod';

/** What server and web say to each other. Requests are checked with the schemas; answers have these types. */

export type LegState = 'waiting' | 'held' | 'running' | 'proving' | 'proved' | 'needs eyes' | 'failed' | 'stopped';
export const openStates: readonly LegState[] = ['waiting', 'held', 'running', 'proving'];

export interface ProductionAnswer {
  id: string;
  name: string;
  createdAt: string;
  /** What waits at each station. */
  counts: { rolls: number; clips: number; leftAside: number; recipes: number; runs: number; legsOpen: number; outputs: number; needEyes: number; failed: number; handoffs: number };
}
export const newProduction = z.strictObject({ name: z.string().trim().min(1, 'give it a name').max(120) });

export interface StoreAnswer {
  id: string;
  name: string;
  path: string;
  /** Null when the store is not there. */
  freeBytes: number | null;
  totalBytes: number | null;
}
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
  createdAt: string;
}

/** One line of the clips sheet. */
export interface ClipLine {
  id: string;
  path: string;
  stem: string;
  roll: string;
  description: ClipDescription;
  notes: Note[];
  poster: boolean;
  /** States of the clip's newest outputs by role: its way so far. */
  way: { role: string; state: LegState; share: number }[];
}
export const clipSorts = ['group', 'name', 'starts', 'length', 'rate', 'size', 'raster', 'notes'] as const;
export type ClipSort = (typeof clipSorts)[number];
export const clipQuery = z.object({
  sort: z.enum(clipSorts).default('group'), direction: z.enum(['up', 'down']).default('up'), filter: z.string().max(200).default(''),
});
export interface ClipsAnswer {
  total: number;
  clips: ClipLine[];
}
export interface LeftAsideLine {
  id: string;
  refusal: Refusal;
}

const runChoice = { clips: z.array(z.uuid()).min(1).max(20_000), recipe: z.uuid(), ...storeFolder };
export const runCheckRequest = z.strictObject(runChoice);
export const newRun = z.strictObject({ ...runChoice, name: z.string().trim().min(1).max(120) });
export interface RecipeAnswer {
  id: string;
  definition: Recipe;
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
  toDecide: { path: string; notes: string[] }[];
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
}
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
  workers: number;
}

/** What the server sends down `/api/live`. */
export type LiveMessage =
  | { kind: 'leg'; run: string; leg: string; state: LegState; framesDone: number; framesTotal: number; speed: number | null }
  | { kind: 'reading'; production: string; reading: string; done: number; total: number; state: ReadingAnswer['state'] }
  | { kind: 'changed'; what: 'clips' | 'runs' | 'productions'; production: string | null };

export interface ErrorAnswer {
  error: Problem;
}
