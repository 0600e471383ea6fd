import { sayChain } from '../colour/chain/say.ts';
import { colourState } from '../colour/states.ts';
import { isInterlaced } from '../clip/description.ts';
import { formatRaster } from '../shape/raster.ts';
import { formatRate } from '../time/rate.ts';
import { equal, formatFraction, toNumber, type Rational } from '../time/rational.ts';
import { codecRow } from './codecs.ts';
import type { LegPlan, OutputPlan } from './plan.ts';

/** A squeeze as people say it: `1.33×`. */
function times(value: Rational): string {
  return `${toNumber(value).toFixed(2).replace(/0$/, '')}×`;
}

function shapeSentence(plan: LegPlan): string | null {
  const video = plan.original.video;
  const first = plan.outputs.find((output) => output.role === 'intermediate') ?? plan.outputs[0];
  if (!video || !first) return null;
  const aspect = { ...video.pixelAspect };
  const shape = plan.corrections.shape;
  const to = first.video.raster;
  const becomes = `${formatRaster(video.raster)} becomes ${formatRaster(to)}`;
  const off = Math.abs(first.video.aspectError) > 1e-6 ? `, ${(Math.abs(first.video.aspectError) * 100).toFixed(3)} % off its true shape` : '';
  if (shape?.squeeze) return `Lens squeeze of ${times(shape.squeeze)} undone: ${becomes}${off}`;
  if (shape?.pixelAspect) return `Pixels stated as ${formatFraction(shape.pixelAspect, ':')} made square: ${becomes}${off}`;
  if (!equal(aspect, { num: 1, den: 1 })) return `Pixels of ${formatFraction(aspect, ':')} made square: ${becomes}${off}`;
  return null;
}

function scanSentence(plan: LegPlan): string | null {
  const video = plan.original.video;
  if (!video || !isInterlaced(video.scan)) return null;
  const kept = plan.outputs.filter((output) => isInterlaced(output.video.scan)).map((output) => output.deliverable.toLowerCase());
  const made = plan.outputs.filter((output) => !isInterlaced(output.video.scan)).map((output) => output.deliverable.toLowerCase());
  return [
    kept.length > 0 ? `Fields stay in the ${kept.join(' and ')}` : null,
    made.length > 0 ? `the ${made.join(' and ')} ${made.length > 1 ? 'are' : 'is'} deinterlaced` : null,
  ].filter((part) => part !== null).join('; ').replace(/^the/, 'The');
}

function rateSentence(plan: LegPlan): string {
  const video = plan.original.video;
  const to = plan.outputs[0]?.video;
  if (!video || !to) return '';
  if (video.rateConstant) return `${formatRate(video.rate)} stays, every frame once`;
  const span = video.rateVaries ? ` (${formatRate(video.rateVaries.slowest)}–${formatRate(video.rateVaries.fastest)})` : '';
  return `A varying rate${span} becomes ${formatRate(to.rate)}, duration kept`;
}

function soundSentence(plan: LegPlan): string {
  const tracks = plan.original.audio;
  if (tracks.length === 0) return 'No sound in the original';
  const channels = tracks.reduce((sum, track) => sum + track.channels, 0);
  const resampled = tracks.some((track) => track.sampleRate !== 48_000) ? ', brought to 48 kHz' : '';
  const count = tracks.length === 1 ? 'The one sound track' : `All ${tracks.length} sound tracks`;
  return `${count} kept in order, ${channels} channel${channels === 1 ? '' : 's'}${resampled}`;
}

/** What becomes of the colour, deliverable by deliverable where they differ. */
export function colourSentences(plan: LegPlan): string[] {
  const by = (kind: string): OutputPlan[] => plan.outputs.filter((output) => (output.colour?.kind ?? 'as-shot') === kind);
  const names = (outputs: OutputPlan[]): string => outputs.map((output) => output.deliverable.toLowerCase()).join(' and ');
  const [baked] = by('baked');
  const [beside] = by('beside');
  const [brought] = by('brought');
  const lines: string[] = [];
  if (baked?.colour?.kind === 'baked') lines.push(`${sayChain(baked.colour.chain)}, baked into the ${names(by('baked'))}`);
  if (beside?.colour?.kind === 'beside') lines.push(`The ${names(by('beside'))} stays as shot, with its LUT beside it`);
  if (brought?.colour?.kind === 'brought' && brought.colour.chain.output) {
    const state = colourState(brought.colour.chain.output);
    lines.push(`The ${names(by('brought'))} is brought to ${state.ok ? state.value.name : brought.colour.chain.output}`);
  }
  return lines;
}

/** What the leg will do to a clip, in plain sentences, the most telling first. */
export function sayPlan(plan: LegPlan): string[] {
  const video = plan.original.video;
  const first = plan.outputs[0];
  const timecode = first?.timecode;
  return [
    shapeSentence(plan),
    video && video.quarterTurns !== 0 ? `Turned upright by ${video.quarterTurns * 90}°` : null,
    rateSentence(plan),
    scanSentence(plan),
    video?.colour.range === 'full' ? 'Full range becomes legal' : null,
    ...colourSentences(plan),
    video?.alpha ? 'Alpha is left out' : null,
    soundSentence(plan),
    timecode ? `Starts at ${timecode.start}${first.reel ? `, reel ${first.reel}` : '; no reel in the original, none written'}` : null,
    !timecode && plan.original.timecode ? `${plan.original.timecode.start} does not exist at ${first ? formatRate(first.video.rate) : 'this rate'}, none written` : null,
    !timecode && !plan.original.timecode ? 'No timecode in the original, none written' : null,
  ].filter((line): line is string => line !== null && line !== '');
}

/** One output in a line: `ProRes 422 HQ · 1920×1080 · 23.976`. */
export function sayOutput(output: OutputPlan): string {
  return `${codecRow(output.codec).name} · ${formatRaster(output.video.raster)} · ${formatRate(output.video.rate)}`;
}
