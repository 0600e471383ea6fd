import { membersOf } from '@relay/core/recipe/members';
import type { LegPlan } from '@relay/core/recipe/legPlan';
import { under } from '@relay/core/naming/under';
import { toNumber } from '@relay/core/time/rational';
import { complaints, saysDiskFull } from '../process/ffmpeg.ts';
import { withInput, type Source } from '../process/joined.ts';
import { runWatched } from '../process/watched.ts';
import { legArguments } from './command.ts';
import type { Tuning } from './encoders.ts';
import { legMemory } from './memory.ts';
import { shareMaterial } from './material.ts';

/** How far a leg has come. */
export interface LegProgress {
  framesDone: number;
  framesTotal: number;
  /** Seconds of material made in a second; null until FFmpeg knows. */
  speed: number | null;
}

export interface Performed {
  /** *stalled*: nothing moved for a minute, and FFmpeg was ended. *full*: the disk was. */
  outcome: 'done' | 'stopped' | 'failed' | 'stalled' | 'full';
  /** The command, for the leg's log. */
  command: string[];
  /** What the decoder and the encoders complained of. */
  errors: string[];
}

/** What pictures are made of, and how each output is tuned. */
export interface Material {
  plan: LegPlan;
  source: Source;
  tunings: readonly Tuning[];
}

export interface PerformOptions {
  onProgress?: ((progress: LegProgress) => void) | undefined;
  /** Aborting it asks FFmpeg to finish (`q`), so that nothing is left running. */
  signal?: AbortSignal | undefined;
  /** Further outputs of the same decode. */
  alsoTake?: readonly string[];
}

/** What became of a process that made something: FFmpeg says by its complaints alone that a disk is full. */
export function outcomeOf(
  ended: { code: number | null; stalled: boolean },
  errors: readonly string[],
  signal: AbortSignal | undefined,
): Performed['outcome'] {
  if (signal?.aborted) return 'stopped';
  if (ended.stalled) return 'stalled';
  if (ended.code === 0) return 'done';
  return saysDiskFull(errors) ? 'full' : 'failed';
}

/**
 * Makes all outputs of a leg in one process, each in its target. FFmpeg's word that it went well proves nothing; the
 * outputs are proved afterwards.
 */
export async function performLeg(
  { plan, source, tunings }: Material,
  targets: readonly string[],
  { onProgress = () => undefined, signal, alsoTake = [] }: PerformOptions = {},
): Promise<Performed> {
  const framesTotal = plan.outputs[0]?.video.frames ?? 0;
  const framesOfSound = toNumber(plan.outputs[0]?.video.rate ?? { num: 0, den: 1 });
  const seen: Record<string, string> = {};
  let command: string[] = [];
  const ended = await withInput(
    source,
    (input, hands) =>
      runWatched((command = [...legArguments(plan, input, targets, tunings), ...alsoTake]), {
        ...(signal ? { signal } : {}),
        hands,
        memoryBytes: legMemory(plan),
        quit: 'q',
        onProgress: (line) => {
          const [key, value] = line.split('=');
          if (!key || value === undefined) return;
          seen[key] = value.trim();
          if (key !== 'progress') return;
          const speed = Number.parseFloat(seen.speed ?? '');
          // Where there are no pictures FFmpeg counts no frames, but knows how far it is.
          const done = plan.original.video
            ? Number(seen.frame ?? 0)
            : Math.floor((Number(seen.out_time_us ?? 0) / 1e6) * framesOfSound);
          onProgress({
            framesDone: Math.max(0, Math.min(framesTotal, Number.isFinite(done) ? done : 0)),
            framesTotal,
            speed: Number.isFinite(speed) ? speed : null,
          });
        },
      }),
    { sound: true },
  );
  const errors = [
    ...complaints(ended.stderr),
    ...(ended.endedBy && !signal?.aborted ? [`FFmpeg was ended by ${ended.endedBy}`] : []),
  ];
  const outcome = outcomeOf(ended, errors, signal);
  if (outcome !== 'done') return { outcome, errors, command };
  for (const [index, output] of plan.outputs.entries()) {
    const members = membersOf(output);
    if (members?.picture.kind === 'track')
      await shareMaterial(
        [members.picture.name, ...members.sound].map((name) => under(targets[index] as string, name)),
      );
  }
  return { outcome: 'done', errors, command };
}
