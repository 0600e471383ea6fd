import { stat } from 'node:fs/promises';
import type { OutputEnd, WatchEvent } from '@relay/contract/watch';
import type { LegPlan } from '@relay/core/recipe/legPlan';
import type { OutputPlace } from '@relay/core/recipe/recipe';
import { sayPlan } from '@relay/core/recipe/sentence';
import type { Problem } from '@relay/core/result';
import { hashSamples } from '../disk/hash.ts';
import { holding, pathOf } from '../disk/held.ts';
import { runLeg } from '../leg/leg.ts';
import type { LegResult, LegSurroundings } from '../leg/outcome.ts';
import { outputIn, rootOf } from '../leg/outputPlace.ts';
import type { InletMemory } from './memory.ts';
import { pausing } from './pausing.ts';
import type { ArrivedClip } from './takeUp.ts';

export interface MakingOptions {
  source: string;
  out: string;
  /** Every folder that outputs go to, `out` among them. */
  outs: readonly string[];
  memory: InletMemory;
  /** Of each leg, beside what it is made from and where it goes. */
  leg: Omit<LegSurroundings, 'sourceRoot' | 'outRoot' | 'owner' | 'signal'>;
  /** Marks what is being made as this process's. */
  owner: string;
  /** The original that an output at a path was made of; null for none. */
  originalOf: (path: string, place?: OutputPlace) => string | null;
  /** Legs at a time. */
  lanes: number;
  tell: (event: WatchEvent) => void;
  signal: AbortSignal;
}

/** A clip that is to be made, and who is told of its end. */
export interface Job {
  clip: ArrivedClip;
  plan: LegPlan;
  onEnd: (end: JobEnd) => Promise<void>;
}

/**
 * How a clip ended. *again*: what it failed of may be over later, at once where the original arrives anew. *left*: it
 * says something of the clip.
 */
export type JobEnd =
  | { kind: 'proved' | 'needs eyes'; outputs: OutputEnd[] }
  | { kind: 'again'; when: 'later' | 'as it arrives'; problem: Problem; outputs: OutputEnd[] }
  | { kind: 'left'; problem: Problem; outputs: OutputEnd[] }
  | { kind: 'stopped' };

/** How often a disk that is away is looked for. */
const awayMs = 2_000;

/** What each kind of problem of a leg means for its clip. */
const afterwards: Partial<Record<NonNullable<Problem['kind']>, 'later' | 'as it arrives'>> = {
  'original gone': 'as it arrives',
  'original changed': 'as it arrives',
  'disk full': 'later',
  'not writable': 'later',
  stalled: 'later',
};

/** Makes clips, a few at a time, in the order in which they come. */
export class Making {
  private readonly jobs: Job[] = [];
  /** Originals whose outputs are on their way, by the outputs' places. */
  private readonly named = new Map<string, string>();
  /** Disks that outputs go to, by their folders. */
  private disks = new Map<string, number>();
  private lanes = 0;
  private nextLeg = 0;
  private shown = 0;

  constructor(
    private readonly options: MakingOptions,
    private readonly onIdle: () => void,
  ) {}

  /** Notes which disks outputs go to. @throws the system's error where one of their folders is not there */
  async begin(): Promise<void> {
    const { outs } = this.options;
    this.disks = new Map(await Promise.all(outs.map(async (out) => [out, (await stat(out)).dev] as const)));
  }

  /** Clips that wait for a lane, and legs that are under way. */
  get waiting(): number {
    return this.jobs.length;
  }

  get underWay(): number {
    return this.lanes;
  }

  /** How many legs have shown a frame so far. */
  get legsShown(): number {
    return this.shown;
  }

  /** Why a path that a clip would get is another's; null where it is nobody's, or the other is gone. */
  async clashOf(plan: LegPlan): Promise<Problem | null> {
    for (const { path, place } of plan.outputs) {
      const other = this.named.get(keyOf(path, place)) ?? this.options.originalOf(path, place);
      if (other === null || other === plan.original.path || !(await this.isThere(other))) continue;
      return {
        what: `${path} is already the name of what is made of ${other}`,
        remedy: 'Put what tells them apart into the path pattern, or rename one',
      };
    }
    return null;
  }

  add(job: Job): void {
    for (const { path, place } of job.plan.outputs) this.named.set(keyOf(path, place), job.plan.original.path);
    this.jobs.push(job);
    this.fill();
  }

  /** Fills the lanes that stand empty. */
  private fill(): void {
    while (this.lanes < this.options.lanes && this.jobs.length > 0 && !this.options.signal.aborted) {
      this.lanes += 1;
      void this.lane().finally(() => {
        this.lanes -= 1;
        this.fill();
        this.onIdle();
      });
    }
  }

  private async lane(): Promise<void> {
    const { signal } = this.options;
    for (let job = this.jobs.shift(); job !== undefined && !signal.aborted; job = this.jobs.shift()) {
      await this.untilDisksAreThere();
      if (signal.aborted) return;
      const end = await this.make(job);
      for (const { path, place } of job.plan.outputs) this.named.delete(keyOf(path, place));
      await job.onEnd(end);
    }
  }

  /** Waits for the disks of outputs: where one was mounted, nothing must be written while it is not. */
  private async untilDisksAreThere(): Promise<void> {
    const { tell, signal } = this.options;
    const away = async (): Promise<string | undefined> => {
      for (const [out, disk] of this.disks) if ((await stat(out).catch(() => null))?.dev !== disk) return out;
      return undefined;
    };
    const out = await away();
    if (out === undefined) return;
    tell({ event: 'away', what: `${out} is not there` });
    while (!signal.aborted && (await away()) !== undefined) await pausing(awayMs, signal);
    if (!signal.aborted) tell({ event: 'back', what: `${out} is there again` });
  }

  private async make({ plan, clip }: Job): Promise<JobEnd> {
    const { options } = this;
    options.tell({ event: 'begun', original: plan.original.path, said: sayPlan(plan) });
    this.nextLeg += 1;
    let shown = false;
    const result = await runLeg(plan, {
      ...options.leg,
      sourceRoot: options.source,
      outRoot: options.out,
      owner: `${options.owner}.${this.nextLeg}`,
      signal: options.signal,
      onProgress: (progress) => {
        if (!shown && progress.framesDone > 0) {
          shown = true;
          this.shown += 1;
        }
        options.leg.onProgress?.(progress);
      },
    });
    if (result.state === 'stopped') return { kind: 'stopped' };
    if (result.state === 'failed') return this.failed(plan, result);
    await this.remember(clip, plan, result);
    return { kind: result.state, outputs: this.endsOf(plan, result) };
  }

  private async failed(plan: LegPlan, result: LegResult): Promise<JobEnd> {
    const { original } = plan;
    const problem = result.problem ?? { what: `${original.path} could not be made`, remedy: 'Look at it' };
    const outputs = this.endsOf(plan, result);
    const kind = (await this.isThere(original.path)) ? problem.kind : 'original gone';
    // Whatever was said of it: of an original that went meanwhile, that says nothing.
    const when = kind === undefined ? undefined : afterwards[kind];
    return when === undefined ? { kind: 'left', problem, outputs } : { kind: 'again', when, problem, outputs };
  }

  private endsOf(plan: LegPlan, { outputs }: LegResult): OutputEnd[] {
    const { out, leg } = this.options;
    return outputs.map(({ deliverable, path, state, alreadyThere, sizeBytes, xxh3 }, index) => {
      const output = plan.outputs[index];
      const folder = output ? pathOf(rootOf({ outRoot: out, elsewhere: leg.elsewhere }, output)) : out;
      return { deliverable, folder, path, state, alreadyThere, sizeBytes, xxh3 };
    });
  }

  private isThere(path: string): Promise<boolean> {
    return holding(async (held) => {
      await held.file(this.options.source, path);
      return true;
    }).catch(() => false);
  }

  /** Remembers a clip's files by their contents, and what was made of them, so that neither is ever taken for new. */
  private async remember({ files }: ArrivedClip, plan: LegPlan, { outputs, originalXxh3 }: LegResult): Promise<void> {
    const { memory, out, leg } = this.options;
    for (const [index, { path, sizeBytes, xxh3 }] of outputs.entries()) {
      const output = plan.outputs[index];
      if (!output) continue;
      // What is a folder of files is not taken up as one file ever.
      const sampled = await holding(async (held) =>
        hashSamples(await outputIn(held, output, rootOf({ outRoot: out, elsewhere: leg.elsewhere }, output), path)),
      ).catch(() => null);
      if (sampled !== null) await memory.addResult({ path, sizeBytes, modifiedAt: '', sampled, whole: xxh3 });
    }
    for (const file of files)
      await memory.addTaken({ ...file, whole: files.length === 1 ? (originalXxh3 ?? file.whole) : file.whole });
  }
}

function keyOf(path: string, place: OutputPlace | undefined): string {
  return JSON.stringify([place ?? null, path]);
}
