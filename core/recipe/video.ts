import { isInterlaced, type ClipDescription, type ColourTags, type Scan } from '../clip/description.ts';
import { chainEnd } from '../colour/chain/end.ts';
import { tagsOf } from '../colour/tags.ts';
import type { ClipCorrections } from '../corrections/corrections.ts';
import { fail, ok, type Result } from '../result.ts';
import { vc3Hd } from '../size/vc3.ts';
import { planStabilising } from '../repair/stabilise.ts';
import { planGeometry } from '../shape/geometry.ts';
import type { Raster } from '../shape/raster.ts';
import { steadied } from '../time/cadence.ts';
import { planConform, type Conform, type ConformPlan } from '../time/conform.ts';
import { formatRate } from '../time/rate.ts';
import { formatFraction, multiply, rational, type Rational } from '../time/rational.ts';
import { codecRow } from './codecs.ts';
import type { OutputColour, OutputPlan, PictureStep, VideoPlan } from './legPlan.ts';
import type { Deliverable, VideoCodec } from './recipe.ts';
import { wrappers } from './wrappers.ts';

const one: Rational = { num: 1, den: 1 };

/** The matrix that a file's samples have: as tagged, else by raster, as ITU-R BT.601 and BT.709 divide them. */
export function matrixOf(colour: ColourTags, raster: Raster, rgb: boolean): string {
  if (colour.matrix && colour.matrix !== 'gbr') return colour.matrix;
  return !rgb && raster.height <= 576 ? 'smpte170m' : 'bt709';
}

/**
 * The matrix of the samples that are made: as tagged; where the file cannot say it, as whoever reads it by {@link
 * matrixOf} will take them.
 */
export function matrixMade({ colour, samplesOut }: Pick<VideoPlan, 'colour' | 'samplesOut'>): string {
  return samplesOut ?? colour.matrix ?? 'bt709';
}

/**
 * Whether floats go all the way from an output's chain to its file, light above white with them. What is filled up
 * around, or burnt into, goes through whole numbers on its way, which end a little above white.
 */
export function keepsLight({ codec, video, burn }: Pick<OutputPlan, 'codec' | 'video' | 'burn'>): boolean {
  return codecRow(codec).bitDepth === 32 && !burn && !video.steps.some(({ kind }) => kind === 'pad');
}

/** Whether what a chain gives is light itself, which a cube must squeeze. */
export function isLight({ colour }: Pick<OutputPlan, 'colour'>): boolean {
  return (colour?.kind === 'baked' || colour?.kind === 'brought') && chainEnd(colour.chain)?.curve.id === 'linear';
}

/** Tags that say what the picture is after its colour was changed; unknown where the chain does not say. */
function tagsAfter(colour: OutputColour, before: ColourTags): ColourTags {
  if (colour.kind === 'as-shot' || colour.kind === 'beside') return before;
  const state = chainEnd(colour.chain);
  return state ? tagsOf(state) : { primaries: null, transfer: null, matrix: 'bt709', range: 'legal' };
}

/** What pictures are scanned like: as somebody said, else as the file says. */
export function scanOf(scan: Scan, corrections: ClipCorrections): Scan {
  return corrections.scan?.read ?? scan;
}

/**
 * FFmpeg 5.1 writes H.264 of 4:2:2 and 10 bits into MOV at these rasters without its headers, whatever tag it is told
 * (seen by trying at the first).
 */
const headless: readonly Raster[] = [
  { width: 3840, height: 2160 },
  { width: 4096, height: 2160 },
  { width: 2048, height: 1080 },
];

/**
 * As much of the tags as a file can hold. JPEG's samples are what JFIF says they are; VC-3 always states a matrix,
 * which is BT.709 or BT.2020.
 */
function tagsIn(codec: VideoCodec['id'], held: boolean, tags: ColourTags): ColourTags {
  // Images say nothing that can be relied on, and are of full range.
  if (codec === 'pictures') return { primaries: null, transfer: null, matrix: null, range: 'full' };
  const kept: ColourTags = held ? tags : { primaries: null, transfer: null, matrix: null, range: 'legal' };
  return codec === 'mjpeg'
    ? { ...kept, matrix: 'bt470bg', range: 'full' }
    : codec === 'vc3hd' || codec === 'vc3'
      ? { ...kept, matrix: kept.matrix === 'bt2020nc' ? 'bt2020nc' : 'bt709' }
      : kept;
}

/** Alpha goes through what moves and scales pictures, not through LUTs, drawn text or what is put around them. */
function keepsAlpha(
  source: NonNullable<ClipDescription['video']>,
  { codec, burn }: Deliverable,
  colour: OutputColour,
  steps: readonly PictureStep[],
): boolean {
  const through = colour.kind === 'as-shot' || colour.kind === 'beside';
  return (
    source.alpha &&
    codec.id === 'prores' &&
    codec.alpha === 'kept' &&
    !burn &&
    through &&
    !steps.some(({ kind }) => kind === 'view' || kind === 'pad' || kind === 'stabilise' || kind === 'denoise')
  );
}

function isOne({ num, den }: Rational): boolean {
  return num === den;
}

interface PlannedTime extends ConformPlan {
  steps: PictureStep[];
  /** How the pictures are scanned after these steps. */
  scan: Scan;
}

/** The steps that change which pictures there are: conform and scan together, since some of each exclude the other. */
function planTime(
  source: NonNullable<ClipDescription['video']>,
  corrections: ClipCorrections,
  canKeepFields: boolean,
): Result<PlannedTime> {
  const scan = scanOf(source.scan, corrections);
  const interlaced = isInterlaced(scan);
  const topFieldFirst = scan !== 'bottom-field-first';
  const time = {
    rate: source.rate,
    rateConstant: source.rateConstant,
    frames: source.frames,
    duration: source.duration,
  };
  // What varies is made constant also where nobody asked: nothing else can be cut.
  const conform: Conform | null =
    corrections.time ??
    (source.rateConstant ? null : { kind: 'constant', rate: steadied(source.rate, source.duration).rate });
  const pulled = conform?.kind === 'pulldown-out' || conform?.kind === 'pulldown-in';
  // Frames may be relabelled as fields are, but not dropped or mixed.
  // Fields cannot be moved against each other: what is stabilised is deinterlaced first.
  const keeps =
    interlaced &&
    canKeepFields &&
    !corrections.repair?.stabilise &&
    source.rateConstant &&
    (conform === null || conform.kind === 'relabel');
  const double = interlaced && !keeps && !pulled && corrections.scan?.deinterlaced === 'double';
  const before: PictureStep[] =
    interlaced && !keeps && !pulled ? [{ kind: 'deinterlace', topFieldFirst, ...(double ? { double } : {}) }] : [];
  const facts = double ? { ...time, rate: multiply(time.rate, rational(2)), frames: time.frames * 2 } : time;
  const whole: Scan = keeps ? scan : interlaced ? 'progressive' : scan === 'unknown' ? 'progressive' : scan;
  if (!conform) {
    return ok({
      rate: facts.rate,
      frames: facts.frames,
      map: double ? { kind: 'fields' } : { kind: 'every' },
      stretch: one,
      driftSeconds: 0,
      steps: before,
      scan: whole,
    });
  }
  const wanted: Conform =
    conform.kind === 'pulldown-in' && !canKeepFields
      ? { kind: 'resample', rate: rational(30000, 1001), how: 'hold', timecode: conform.timecode }
      : conform;
  // 2:3 film in whole frames has no fields to take apart: it must be said to be fields first.
  const planned = planConform(facts, wanted);
  if (!planned.ok) return planned;
  const { value } = planned;
  const map =
    double && value.map.kind === 'every'
      ? { kind: 'fields' as const }
      : double && value.map.kind !== 'every' && 'ratio' in value.map
        ? { ...value.map, ratio: multiply(value.map.ratio, rational(2)) }
        : value.map;
  const steps: PictureStep[] = [...before];
  switch (wanted.kind) {
    case 'relabel':
      break;
    case 'resample':
    case 'constant':
      if (!source.rateConstant) steps.push({ kind: 'steady', rate: value.rate, frames: value.frames });
      else if (value.map.kind !== 'every')
        steps.push({
          kind: 'resample',
          from: facts.rate,
          rate: value.rate,
          how: wanted.kind === 'resample' ? wanted.how : 'hold',
          frames: value.frames,
        });
      break;
    case 'pulldown-out':
      steps.push({ kind: 'pulldown-out', phase: wanted.phase, topFieldFirst, from: source.rate, frames: value.frames });
      break;
    case 'pulldown-in':
      steps.push({ kind: 'pulldown-in', from: source.rate, frames: value.frames });
  }
  return ok({
    ...value,
    map,
    steps,
    scan: wanted.kind === 'pulldown-in' ? 'top-field-first' : pulled ? 'progressive' : whole,
  });
}

/** How one deliverable's picture comes from a clip. Fails with the reason, without the clip's name. */
export function planVideo(
  clip: ClipDescription,
  deliverable: Deliverable,
  corrections: ClipCorrections,
  colour: OutputColour,
): Result<VideoPlan> {
  const source = clip.video;
  if (!source) return { ok: false, problem: { what: 'it has no picture', remedy: 'Leave it out of the run' } };
  const row = codecRow(deliverable.codec);
  const time = planTime(source, corrections, deliverable.interlaced === 'keep' && row.canHoldFields);
  if (!time.ok) return time;
  const fieldwise = isInterlaced(time.value.scan);
  const shape = planGeometry(
    { raster: source.raster, pixelAspect: source.pixelAspect, quarterTurns: source.quarterTurns },
    corrections.shape ?? {},
    deliverable.raster,
    row.steps,
    fieldwise,
  );
  if (!shape.ok) return shape;
  const geometry = shape.value;
  const { uprightWindow: window, turn, scaled, view, raster, active } = geometry;
  const upright =
    source.quarterTurns % 2 === 0 ? source.raster : { width: source.raster.height, height: source.raster.width };
  const differs = (a: Raster, b: Raster): boolean => a.width !== b.width || a.height !== b.height;
  const steps: PictureStep[] = [...time.value.steps];
  const { repair } = corrections;
  if (repair?.denoise) steps.push({ kind: 'denoise', strength: repair.denoise });
  if (repair?.stabilise)
    steps.push({ kind: 'stabilise', ...planStabilising(repair.stabilise, upright, time.value.rate) });
  if (differs(window, upright)) steps.push({ kind: 'crop', window });
  if (turn.quarters !== 0 || turn.across || turn.down) steps.push({ kind: 'turn', ...turn });
  const turnedSize = turn.quarters % 2 === 0 ? window : { width: window.height, height: window.width };
  if (differs(scaled, turnedSize)) steps.push({ kind: 'scale', raster: scaled, fieldwise });
  if (differs(view, scaled)) steps.push({ kind: 'view', window: view });
  if (differs(raster, active))
    steps.push({ kind: 'pad', raster, at: { x: active.x, y: active.y }, colour: geometry.padColour });
  const range = source.colour.range ?? 'legal';
  if (range === 'full') steps.push({ kind: 'to-legal-range' });
  const matrix = matrixOf(source.colour, source.raster, source.chroma === 'rgb');
  const wrapper = wrappers[deliverable.wrapper];
  if (wrapper.rates && !wrapper.rates.has(formatFraction(time.value.rate).replace(/\/1$/, '')))
    return fail(
      `${wrapper.name} is not made at ${formatRate(time.value.rate)} pictures a second`,
      'Conform the clip to a rate of film or television, or take another wrapper',
    );
  if (!wrapper.pixelAspect && !isOne(geometry.pixelAspect))
    return fail(
      `${wrapper.name} cannot say that pixels are not square`,
      'Let pixels become square, or take another wrapper',
    );
  if (
    deliverable.wrapper === 'mov' &&
    deliverable.codec.id === 'h264' &&
    deliverable.codec.chroma === '4:2:2' &&
    headless.some(({ width, height }) => width === raster.width && height === raster.height)
  ) {
    return fail(
      `H.264 of 4:2:2 cannot be made in MOV at ${raster.width}×${raster.height}: nothing would decode it`,
      'Take MP4 or Matroska, HEVC, or another raster',
    );
  }
  if (deliverable.codec.id === 'vc3hd') {
    const hd = vc3Hd(deliverable.codec.grade, raster, time.value.rate, fieldwise);
    if (!hd.ok) return hd;
  }
  // What an untagged original's samples are taken for is stated in what is made: at another raster they would be taken
  // for something else.
  const tags = tagsIn(
    deliverable.codec.id,
    wrapper.colourTags,
    tagsAfter(colour, { ...source.colour, matrix, range: 'legal' }),
  );
  return ok({
    raster,
    aspectError: geometry.aspectError,
    pixelAspect: geometry.pixelAspect,
    rate: time.value.rate,
    frames: time.value.frames,
    scan: time.value.scan,
    colour: tags,
    ...(tags.matrix === null && row.chroma !== 'rgb' ? { samplesOut: matrixOf(tags, raster, false) } : {}),
    ...(keepsAlpha(source, deliverable, colour, steps) ? { alpha: true as const } : {}),
    samplesIn: {
      matrix,
      range,
      ...(range === 'full' || source.chroma === 'rgb'
        ? {
            from: {
              rgb: source.chroma === 'rgb',
              bitDepth: source.bitDepth,
              ...(source.codecId === 'mjpeg' ? { centred: true as const } : {}),
            },
          }
        : {}),
    },
    steps,
    geometry,
    map: time.value.map,
    stretch: time.value.stretch,
    driftSeconds: time.value.driftSeconds,
  });
}
