import type { LegPlan } from '@relay/core/recipe/plan';
import { complaints, ffmpeg } from '../process/ffmpeg.ts';
import { withInput, type Source } from '../process/joined.ts';
import { run } from '../process/run.ts';
import { legArguments } from './command.ts';
import type { Tuning } from './encoders.ts';

/** How far a leg has come. */
export interface LegProgress {
  framesDone: number;
  framesTotal: number;
  /** Seconds of material made in a second; null until FFmpeg knows. */
  speed: number | null;
}

export interface Performed {
  outcome: 'done' | 'stopped' | 'failed';
  /** What the decoder and the encoders complained of. */
  errors: string[];
}

/**
 * Makes all outputs of a leg in one process. FFmpeg's word that it went well proves nothing; the outputs are proved
 * afterwards. `alsoTake` are further outputs of the same decode. Aborting the signal asks FFmpeg to finish (`q`), so nothing is left running.
 */
export async function performLeg(
  plan: LegPlan, source: Source, targets: readonly string[], tunings: readonly Tuning[],
  onProgress: (progress: LegProgress) => void, signal?: AbortSignal, alsoTake: readonly string[] = [],
): Promise<Performed> {
  const framesTotal = plan.outputs[0]?.video.frames ?? 0;
  const seen: Record<string, string> = {};
  const ended = await withInput(source, (input) => run(ffmpeg, [...legArguments(plan, input, targets, tunings), ...alsoTake], {
    signal,
    quit: 'q',
    onProgress: (line) => {
      const [key, value] = line.split('=');
      if (!key || value === undefined) return;
      seen[key] = value.trim();
      if (key !== 'progress') return;
      const speed = Number.parseFloat(seen.speed ?? '');
      onProgress({ framesDone: Math.min(framesTotal, Number(seen.frame ?? 0)), framesTotal, speed: Number.isFinite(speed) ? speed : null });
    },
  }));
  const errors = [...complaints(ended.stderr), ...(ended.endedBy && !signal?.aborted ? [`FFmpeg was ended by ${ended.endedBy}`] : [])];
  if (signal?.aborted) return { outcome: 'stopped', errors };
  return { outcome: ended.code === 0 ? 'done' : 'failed', errors };
}
