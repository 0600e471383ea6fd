import { wrappers } from './wrappers.ts';
import { withoutEnd } from '../text/trimmed.ts';
import { sayChain } from '../colour/chain/say.ts';
import { colourState } from '../colour/states.ts';
import { isInterlaced } from '../clip/description.ts';
import { keptOf } from '../repair/stabilise.ts';
import { barsOf } from '../shape/geometry.ts';
import { type RasterWish } from '../shape/intoRaster.ts';
import { formatSqueeze } from '../shape/pixelAspects.ts';
import { formatRaster, turned } from '../shape/raster.ts';
import { saySound } from '../sound/map.ts';
import { slowness, type Conform } from '../time/conform.ts';
import { mapCounts } from '../time/frameMap.ts';
import { formatRate } from '../time/rate.ts';
import { equal, formatFraction, toNumber, type Rational } from '../time/rational.ts';
import { codecRow, hasPicture } from './codecs.ts';
import type { LegPlan, OutputPlan, VideoPlan } from './legPlan.ts';

/** A raster wish in words. */
export function sayWish(wish: RasterWish): string {
  switch (wish.kind) {
    case 'source':
      return "the original's, pixels square";
    case 'share':
      return `a ${({ 2: 'half', 3: 'third', 4: 'quarter' } as const)[wish.of]} each way`;
    case 'fit':
      return `within ${formatRaster(wish)}, ${wish.enlarge ? 'enlarged if smaller' : 'never enlarged'}`;
    case 'pad':
      return `${formatRaster(wish)}, filled up with ${wish.colour ?? 'black'}`;
    case 'fill':
      return `${formatRaster(wish)} filled, the rest cut, ${wish.enlarge ? 'enlarged if smaller' : 'never enlarged'}`;
    case 'cut':
      return `${formatRaster(wish)} cut out, not scaled`;
  }
}

/** How far a shape is off, where whole samples made it so. */
function off(error: number): string {
  return Math.abs(error) > 1e-6
    ? `, ${(Math.abs(error) * 100).toFixed(3)} % ${error > 0 ? 'too wide' : 'too narrow'} by whole samples`
    : '';
}

/** How pixels become square, or do not; null where nothing is to be said of them. */
function squareSentence({ original, corrections: { shape } }: LegPlan, { video: made }: OutputPlan): string | null {
  const { video } = original;
  if (!video) return null;
  const error = off(made.aspectError);
  const becomes = `${formatRaster(video.raster)} becomes ${formatRaster(made.raster)}${error}`;
  if (shape?.square === 'keep')
    return `Pixels of ${formatFraction(made.pixelAspect, ':')} kept as they are, ${formatRaster(made.raster)}`;
  if (shape?.squeeze && toNumber(shape.squeeze) !== 1) {
    const { geometry } = made;
    const wider = geometry && toNumber(geometry.stages[0]?.pixelAspect ?? video.pixelAspect) >= 1;
    const way = shape.square === 'rows' ? 'Lowered' : wider ? 'Widened' : 'Heightened';
    return `${way} ${formatSqueeze(shape.squeeze)}×: ${becomes}`;
  }
  if (shape?.pixelAspect) return `Pixels stated as ${formatFraction(shape.pixelAspect, ':')} made square: ${becomes}`;
  if (!equal(video.pixelAspect, { num: 1, den: 1 }))
    return `Pixels of ${formatFraction(video.pixelAspect, ':')} made square: ${becomes}`;
  return error === '' ? null : becomes;
}

function cropSentence({ corrections: { shape } }: LegPlan, { video: { geometry } }: OutputPlan): string | null {
  const crop = shape?.crop;
  return crop && geometry
    ? `Cropped to ${formatRaster(geometry.window)}: ${crop.left} and ${crop.right} columns, ${crop.top} and ${crop.bottom} rows off`
    : null;
}

function turnSentence({ video: { geometry } }: OutputPlan): string | null {
  const { quarters, across, down } = geometry?.turn ?? { quarters: 0, across: false, down: false };
  const parts = [
    quarters ? `turned by ${quarters * 90}°` : null,
    across ? 'mirrored left to right' : null,
    down ? 'mirrored top to bottom' : null,
  ].filter((part) => part !== null);
  return parts.length === 0 ? null : parts.join(', ').replace(/^./, (c) => c.toUpperCase());
}

/** What lies around a picture in its raster, or is cut off by it. */
function rasterSentence({ deliverable, video: { geometry, raster, steps } }: OutputPlan): string | null {
  const name = deliverable.toLowerCase();
  const bars = geometry ? barsOf(geometry) : null;
  if (bars && bars.left + bars.right + bars.top + bars.bottom > 0)
    return `The ${name} has ${geometry?.padColour} around it: ${bars.left} and ${bars.right} columns, ${bars.top} and ${bars.bottom} rows`;
  return steps.some((step) => step.kind === 'view') ? `The ${name} is cut to ${formatRaster(raster)}` : null;
}

function shapeSentences(plan: LegPlan): string[] {
  const first = plan.outputs.find((output) => output.role === 'intermediate') ?? plan.outputs[0];
  if (!plan.original.video || !first) return [];
  return [
    cropSentence(plan, first),
    squareSentence(plan, first),
    turnSentence(first),
    ...plan.outputs.map(rasterSentence),
  ].filter((line) => line !== null);
}

function scanSentence(plan: LegPlan): string | null {
  const video = plan.original.video;
  if (!video) return null;
  const said = plan.corrections.scan?.read;
  const stated = said && said !== video.scan ? `Taken as ${said.replaceAll('-', ' ')}` : null;
  const scan = said ?? video.scan;
  if (!isInterlaced(scan)) return stated;
  const kept = plan.outputs
    .filter((output) => isInterlaced(output.video.scan))
    .map((output) => output.deliverable.toLowerCase());
  const made = plan.outputs
    .filter((output) => output.video.steps.some((step) => step.kind === 'deinterlace'))
    .map((output) => output.deliverable.toLowerCase());
  const double = plan.outputs.some((output) =>
    output.video.steps.some((step) => step.kind === 'deinterlace' && step.double),
  );
  const line = [
    kept.length > 0 ? `Fields stay in the ${kept.join(' and ')}` : null,
    made.length > 0
      ? `the ${made.join(' and ')} ${made.length > 1 ? 'are' : 'is'} deinterlaced${double ? ', a picture of each field' : ''}`
      : null,
  ]
    .filter((part) => part !== null)
    .join('; ')
    .replace(/^the/, 'The');
  return [stated, line].filter(Boolean).join('. ') || null;
}

/** How much slower or faster, as people say it. */
function pace(from: Rational, to: Rational): string {
  const slower = slowness(from, to);
  const times = (value: number): string => withoutEnd(withoutEnd(value.toFixed(value < 1.2 ? 3 : 2), '0'), '.');
  return slower > 1 ? `${times(slower)}× slower` : `${times(1 / slower)}× faster`;
}

function seconds(value: number): string {
  return Math.abs(value) < 1 ? `${(value * 1000).toFixed(1)} ms` : `${value.toFixed(3)} s`;
}

/** Frames that are shown never, or more than once. */
function lostFrames({ map, frames: made }: VideoPlan, frames: number): string {
  // Of a plan without a map, and of one that would take a while to count, nothing is said.
  if (!map || made >= 2_000_000) return '';
  const { dropped, repeated } = mapCounts(map, frames, made);
  return [
    dropped > 0 ? `, ${dropped} frame${dropped === 1 ? '' : 's'} dropped` : '',
    repeated > 0 ? `, ${repeated} repeated` : '',
  ].join('');
}

function drift({ driftSeconds }: VideoPlan): string {
  // Absent in plans from before conforms.
  const by = driftSeconds ?? 0;
  return Math.abs(by) < 5e-7 ? '' : `, ${seconds(Math.abs(by))} ${by > 0 ? 'longer' : 'shorter'} at the end`;
}

function relabelSentence(
  { original }: LegPlan,
  conform: Extract<Conform, { kind: 'relabel' }>,
  from: Rational,
  to: Rational,
): string {
  if (equal(conform.rate, from)) return `${formatRate(from)} stays, every frame once`;
  const sound =
    conform.sound === 'dropped'
      ? '; sound left out'
      : `; sound ${conform.sound === 'stretched' ? 'stretched with it' : 'stretched, its pitch kept'}`;
  return `${formatRate(from)} played at ${formatRate(to)}, ${pace(from, conform.rate)}${original.audio.length === 0 ? '' : sound}`;
}

function timeSentence(plan: LegPlan): string {
  const { video } = plan.original;
  const to = plan.outputs[0]?.video;
  if (!video || !to) return '';
  const becomes = `${formatRate(video.rate)} becomes ${formatRate(to.rate)}`;
  if (!video.rateConstant) {
    const { rateVaries: varies } = video;
    const span = varies ? ` (${formatRate(varies.slowest)}–${formatRate(varies.fastest)})` : '';
    return `A varying rate${span} becomes ${formatRate(to.rate)}, duration kept${drift(to)}`;
  }
  const { time: conform } = plan.corrections;
  switch (conform?.kind) {
    case 'relabel':
      return relabelSentence(plan, conform, video.rate, to.rate);
    case 'resample':
    case 'constant': {
      const isMixed = conform.kind === 'resample' && conform.how === 'blend';
      return `${becomes}, duration kept${isMixed ? ', frames mixed' : lostFrames(to, video.frames)}${drift(to)}`;
    }
    case 'pulldown-out':
      return `2:3 pulldown taken out: ${becomes}, whole frames${drift(to)}`;
    case 'pulldown-in':
      return isInterlaced(to.scan)
        ? `2:3 pulldown put in: ${becomes}${drift(to)}`
        : `${becomes} by holding frames${lostFrames(to, video.frames)}: pulldown needs a codec that keeps fields${drift(to)}`;
    case undefined:
      return equal(to.rate, video.rate)
        ? `${formatRate(video.rate)} stays, every frame once`
        : `${becomes}, a picture of each field`;
  }
}

function soundSentence(plan: LegPlan): string | null {
  const tracks = plan.original.audio;
  if (tracks.length === 0) return 'No sound in the original';
  if (plan.corrections.time?.kind === 'relabel' && plan.corrections.time.sound === 'dropped') return null;
  const resampled = tracks.some((track) => track.sampleRate !== 48_000) ? ', brought to 48 kHz' : '';
  const { sound } = plan.corrections;
  if (sound && sound.kind !== 'keep') return `${saySound(tracks, sound)}${resampled}`;
  const channels = tracks.reduce((sum, track) => sum + track.channels, 0);
  const count = tracks.length === 1 ? 'The one sound track' : `All ${tracks.length} sound tracks`;
  return `${count} kept in order, ${channels} channel${channels === 1 ? '' : 's'}${resampled}${pairSentence(plan)}`;
}

/** Which outputs hold a pair of mono tracks as one, though nobody asked for that. */
function pairSentence({ original, outputs }: LegPlan): string {
  const isPair = original.audio.length === 2 && original.audio.every(({ channels }) => channels === 1);
  const paired = outputs.filter(
    ({ wrapper, sound }) => isPair && wrappers[wrapper].tracks === 'kept' && sound.tracks.length === 1,
  );
  const names = paired.map(({ deliverable }) => deliverable.toLowerCase()).join(' and ');
  return names === '' ? '' : `; as one stereo track in the ${names}, since browsers play the first track alone`;
}

/** What becomes of the colour, deliverable by deliverable where they differ. */
export function colourSentences(plan: LegPlan): string[] {
  const by = (kind: string): OutputPlan[] =>
    plan.outputs.filter((output) => (output.colour?.kind ?? 'as-shot') === kind);
  const names = (outputs: OutputPlan[]): string =>
    outputs.map((output) => output.deliverable.toLowerCase()).join(' and ');
  const [baked] = by('baked');
  const [beside] = by('beside');
  const [brought] = by('brought');
  const lines: string[] = [];
  if (baked?.colour?.kind === 'baked')
    lines.push(`${sayChain(baked.colour.chain)}, baked into the ${names(by('baked'))}`);
  if (beside?.colour?.kind === 'beside') lines.push(`The ${names(by('beside'))} stays as shot, with its LUT beside it`);
  if (brought?.colour?.kind === 'brought' && brought.colour.chain.output) {
    const state = colourState(brought.colour.chain.output);
    lines.push(
      `The ${names(by('brought'))} is brought to ${state.ok ? state.value.name : brought.colour.chain.output}`,
    );
  }
  return lines;
}

/** What is mended, and what it costs the picture. */
function repairSentences({ original, corrections: { repair }, outputs }: LegPlan): string[] {
  const steady = outputs.flatMap((output) => output.video.steps).find((step) => step.kind === 'stabilise');
  const { video } = original;
  const kept = steady && video ? keptOf(steady, turned(video.raster, video.quarterTurns)) : null;
  return [
    ...(repair?.denoise
      ? [`Noise averaged over time, ${(['lightly', 'moderately', 'strongly'] as const)[repair.denoise - 1]}`]
      : []),
    ...(repair?.stabilise && kept
      ? [
          `The camera held ${(['a little', 'firmly', 'as on a tripod'] as const)[repair.stabilise - 1]}: the middle ${formatRaster(kept)} is kept and enlarged${(video?.bitDepth ?? 8) > 8 ? ', in 8 bits' : ''}`,
        ]
      : []),
  ];
}

/** What is drawn over which deliverables, and for whom. */
function burnSentences(plan: LegPlan): string[] {
  const seen = new Set<string>();
  return plan.outputs.flatMap(({ burn, deliverable }) => {
    if (!burn || seen.has(deliverable)) return [];
    seen.add(deliverable);
    const recipients = plan.outputs.flatMap((output) =>
      output.deliverable === deliverable && output.recipient !== undefined ? [output.recipient] : [],
    );
    const words = burn.boxes.map((box) => box.runs.map((run) => run.text).join('')).join(', ');
    const lacking = burn.boxes.some((box) => box.runs.some((run) => run.kind === 'text' && run.text.includes('?')))
      ? '; what the shipped font lacks is drawn as ?'
      : '';
    const over = [words, burn.across ? `${burn.across.text} across` : null, burn.image ? 'an image' : null]
      .filter((part) => part)
      .join('; ');
    return [
      `${over} over the ${deliverable.toLowerCase()}${lacking}${recipients.length > 0 ? `, a copy each for ${recipients.join(', ')}` : ''}`,
    ];
  });
}

/** Seconds since midnight as a clock shows them, to the millisecond: `14:05:09.250`. */
function clockOf(time: number): string {
  const whole = Math.floor(time);
  const two = (value: number): string => String(value).padStart(2, '0');
  return `${two(Math.floor(whole / 3600))}:${two(Math.floor(whole / 60) % 60)}:${two(whole % 60)}.${String(Math.floor((time - whole) * 1000)).padStart(3, '0')}`;
}

/** What becomes of transparency. */
function alphaSentence({ original, outputs }: LegPlan): string | null {
  const keep = outputs.filter((output) => output.video.alpha).map((output) => output.deliverable);
  if (!original.video?.alpha || keep.length === outputs.length) return null;
  return keep.length > 0 ? `Alpha is kept in ${keep.join(', ')}, left out elsewhere` : 'Alpha is left out';
}

/** Where an output says that it begins, and where that comes from. */
function startSentences({ original, outputs: [first] }: LegPlan): string[] {
  const reference = first?.sound.timeReference;
  const own =
    first && reference !== undefined
      ? [`Starts at ${clockOf(reference / first.sound.sampleRate)}, the recorder's own time`]
      : [];
  if (first?.timecode)
    return [
      ...own,
      original.timecode
        ? `Starts at ${first.timecode.start}${first.reel ? `, reel ${first.reel}` : '; no reel in the original, none written'}`
        : `No timecode in the original; ${first.timecode.start} is written, since its wrapper must state one`,
    ];
  if (original.timecode) {
    const rate = first ? formatRate(first.video.rate) : 'this rate';
    return [...own, `${original.timecode.start} does not exist at ${rate}, none written`];
  }
  return own.length > 0 ? own : ['No timecode in the original, none written'];
}

/** What the leg will do to a clip, in plain sentences, the most telling first. */
export function sayPlan(plan: LegPlan): string[] {
  const { video, otherStreams } = plan.original;
  return [
    ...shapeSentences(plan),
    video && video.quarterTurns !== 0 ? `Turned upright by ${video.quarterTurns * 90}°` : null,
    timeSentence(plan),
    scanSentence(plan),
    ...repairSentences(plan),
    video?.colour.range === 'full' ? 'Full range becomes legal' : null,
    ...colourSentences(plan),
    ...burnSentences(plan),
    alphaSentence(plan),
    soundSentence(plan),
    otherStreams.length > 0
      ? `What it carries beside picture and sound is left out: ${[...new Set(otherStreams)].join(', ')}`
      : null,
    ...startSentences(plan),
  ].filter((line): line is string => line !== null && line !== '');
}

/** One output in a line: `ProRes 422 HQ · 1920×1080 · 23.976`. */
export function sayOutput(output: OutputPlan): string {
  if (!hasPicture(output))
    return `${codecRow(output.codec).name} · ${output.sound.tracks.reduce((sum, track) => sum + track.channels, 0)} channels · 48 kHz`;
  return `${codecRow(output.codec).name} · ${formatRaster(output.video.raster)} · ${formatRate(output.video.rate)}`;
}
