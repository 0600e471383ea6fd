import type { Heard, SoundAlong } from '@relay/core/measure/along';
import { inStretches } from '@relay/core/measure/along';
import type { LegPlan, OutputPlan } from '@relay/core/recipe/legPlan';
import type { Opened } from '../leg/open.ts';
import { trackArguments } from '../leg/sound.ts';
import { complaints, ffmpeg } from '../process/ffmpeg.ts';
import { withInput, type Source } from '../process/joined.ts';
import { run } from '../process/run.ts';

/** Values are a tenth of a second apart, or more where there would be too many to draw. */
const [step, most] = [0.1, 6_000];

/** FFmpeg's own meters, tenth by tenth of a second. */
const meters = [
  'aresample=48000',
  'asetnsamples=n=4800:p=0',
  'astats=metadata=1:reset=1:measure_perchannel=none:measure_overall=Peak_level',
  'ebur128=metadata=1',
  String.raw`ametadata=mode=print:file=pipe\\:1`,
].join(',');

/** What FFmpeg says where there is nothing to be heard. */
const silence = -120;

async function heard(
  input: readonly string[],
  graph: string,
  more: { hands?: readonly string[]; signal?: AbortSignal },
): Promise<Heard> {
  const found: Heard = { peak: [], loudness: [] };
  const value = (text: string): number | null => {
    const decibels = Number(text);
    return Number.isFinite(decibels) && decibels > silence ? Math.round(decibels * 100) / 100 : null;
  };
  const ended = await run(
    ffmpeg,
    [
      ...['-hide_banner', '-nostats', '-v', 'error', ...input, '-filter_complex', graph],
      ...['-map', '[metered]', '-f', 'null', '-'],
    ],
    {
      ...more,
      onLine: (line) => {
        const [, name, text = ''] = /^lavfi\.(astats\.Overall\.Peak_level|r128\.M)=(\S+)/.exec(line) ?? [];
        if (name === 'r128.M') found.loudness.push(value(text));
        else if (name !== undefined) found.peak.push(value(text));
      },
    },
  );
  if (ended.code !== 0 && !more.signal?.aborted)
    throw new Error(complaints(ended.stderr).at(-1) ?? 'FFmpeg gave no reason');
  return found;
}

/**
 * Level and loudness along every sound track of an output, and of what it was made of: the original by the plan's own
 * mix, rate and length. @throws Error where FFmpeg cannot
 */
export async function heardAlong(
  plan: LegPlan,
  output: OutputPlan,
  { opened, source, signal }: { opened: Opened; source: Source; signal?: AbortSignal },
): Promise<SoundAlong[]> {
  const tracks: SoundAlong[] = [];
  for (const [index, track] of output.sound.tracks.entries()) {
    const made = await heard(opened.input, `[${opened.sound(index)}]${meters}[metered]`, {
      ...(signal ? { signal } : {}),
    });
    const { map, filter, graph } = trackArguments(plan, output, track, 'made');
    const pad = graph ? map : `[${map}]`;
    const whole = [...(graph ? [graph] : []), `${pad}${filter ? `${filter},` : ''}${meters}[metered]`].join(';');
    const original = await withInput(
      source,
      (input, hands) => heard(input, whole, { hands, ...(signal ? { signal } : {}) }),
      { sound: true },
    );
    // MXF's sound is given more than its picture takes, which its wrapper leaves out again.
    const length = Math.max(1, made.loudness.length);
    const drawn = (values: (number | null)[]): (number | null)[] => inStretches(values.slice(0, length), most);
    tracks.push({
      track: index,
      step: step * Math.max(1, length / most),
      output: { peak: drawn(made.peak), loudness: drawn(made.loudness) },
      original: { peak: drawn(original.peak), loudness: drawn(original.loudness) },
    });
  }
  return tracks;
}
