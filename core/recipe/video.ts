import { isInterlaced, type ClipDescription, type ColourTags } from '../clip/description.ts';
import { chainEnd } from '../colour/chain/end.ts';
import { tagsOf } from '../colour/tags.ts';
import type { ClipCorrections } from '../corrections/corrections.ts';
import { fail, ok, type Result } from '../result.ts';
import { vc3Hd } from '../size/vc3.ts';
import { planStabilising } from '../repair/stabilise.ts';
import { planGeometry, type Geometry } from '../shape/geometry.ts';
import type { Raster } from '../shape/raster.ts';
import { formatRate } from '../time/rate.ts';
import { formatFraction, type Rational } from '../time/rational.ts';
import { codecRow } from './codecs.ts';
import { planTime } from './pictureTime.ts';
import type { OutputColour, OutputPlan, PictureStep, VideoPlan } from './legPlan.ts';
import type { Deliverable, VideoCodec } from './recipe.ts';
import { wrappers } from './wrappers.ts';

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

type Video = NonNullable<ClipDescription['video']>;

/** Alpha goes through what moves and scales pictures, not through LUTs, drawn text or what is put around them. */
function keepsAlpha(
  source: Video,
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

/** The steps that move and scale a picture on its way, which are those of its geometry that change something. */
function geometrySteps(source: Video, geometry: Geometry, fieldwise: boolean): PictureStep[] {
  const { uprightWindow: window, turn, scaled, view, raster, active, padColour } = geometry;
  const differs = (a: Raster, b: Raster): boolean => a.width !== b.width || a.height !== b.height;
  const turnedSize = turn.quarters % 2 === 0 ? window : { width: window.height, height: window.width };
  const steps: PictureStep[] = [];
  if (differs(window, uprightOf(source))) steps.push({ kind: 'crop', window });
  if (turn.quarters !== 0 || turn.across || turn.down) steps.push({ kind: 'turn', ...turn });
  if (differs(scaled, turnedSize)) steps.push({ kind: 'scale', raster: scaled, fieldwise });
  if (differs(view, scaled)) steps.push({ kind: 'view', window: view });
  if (differs(raster, active)) steps.push({ kind: 'pad', raster, at: { x: active.x, y: active.y }, colour: padColour });
  return steps;
}

/** The raster as decoders give it, turned as the file asks. */
function uprightOf({ quarterTurns, raster }: Video): Raster {
  return quarterTurns % 2 === 0 ? raster : { width: raster.height, height: raster.width };
}

function repairSteps(source: Video, { repair }: ClipCorrections, rate: Rational): PictureStep[] {
  const steps: PictureStep[] = [];
  if (repair?.denoise) steps.push({ kind: 'denoise', strength: repair.denoise });
  if (repair?.stabilise)
    steps.push({ kind: 'stabilise', ...planStabilising(repair.stabilise, uprightOf(source), rate) });
  return steps;
}

/** What a wrapper or a codec cannot take of a picture as it is planned. */
function takenBy(
  { wrapper: id, codec }: Deliverable,
  { raster, pixelAspect }: Geometry,
  rate: Rational,
  fieldwise: boolean,
): Result<null> {
  const wrapper = wrappers[id];
  if (wrapper.rates && !wrapper.rates.has(formatFraction(rate).replace(/\/1$/, '')))
    return fail(
      `${wrapper.name} is not made at ${formatRate(rate)} pictures a second`,
      'Conform the clip to a rate of film or television, or take another wrapper',
    );
  if (!wrapper.pixelAspect && !isOne(pixelAspect))
    return fail(
      `${wrapper.name} cannot say that pixels are not square`,
      'Let pixels become square, or take another wrapper',
    );
  const is422 = codec.id === 'h264' && codec.chroma === '4:2:2';
  if (is422 && wrapper.headless?.some(({ width, height }) => width === raster.width && height === raster.height))
    return fail(
      `H.264 of 4:2:2 cannot be made in ${wrapper.name} at ${raster.width}×${raster.height}: nothing would decode it`,
      'Take MP4 or Matroska, HEVC, or another raster',
    );
  const hd = codec.id === 'vc3hd' ? vc3Hd(codec.grade, raster, rate, fieldwise) : ok(null);
  return hd.ok ? ok(null) : hd;
}

/** Matrix and range of the samples that come in, for the scaler to be told. */
function samplesOf({ colour, raster, chroma, bitDepth, codecId }: Video): VideoPlan['samplesIn'] {
  const range = colour.range ?? 'legal';
  const rgb = chroma === 'rgb';
  const samples = { matrix: matrixOf(colour, raster, rgb), range };
  if (range !== 'full' && !rgb) return samples;
  return { ...samples, from: { rgb, bitDepth, ...(codecId === 'mjpeg' ? { centred: true as const } : {}) } };
}

/** How one deliverable's picture comes from a clip. Fails with the reason, without the clip's name. */
export function planVideo(
  clip: ClipDescription,
  deliverable: Deliverable,
  corrections: ClipCorrections,
  colour: OutputColour,
): Result<VideoPlan> {
  const source = clip.video;
  if (!source) return fail('it has no picture', 'Leave it out of the run');
  const row = codecRow(deliverable.codec);
  const time = planTime(source, corrections, deliverable.interlaced === 'keep' && row.canHoldFields);
  if (!time.ok) return time;
  const { rate, frames, scan, map, stretch, driftSeconds } = time.value;
  const fieldwise = isInterlaced(scan);
  const shape = planGeometry(
    { raster: source.raster, pixelAspect: source.pixelAspect, quarterTurns: source.quarterTurns },
    corrections.shape ?? {},
    deliverable.raster,
    row.steps,
    fieldwise,
  );
  if (!shape.ok) return shape;
  const geometry = shape.value;
  const taken = takenBy(deliverable, geometry, rate, fieldwise);
  if (!taken.ok) return taken;
  const samplesIn = samplesOf(source);
  const steps: PictureStep[] = [
    ...time.value.steps,
    ...repairSteps(source, corrections, rate),
    ...geometrySteps(source, geometry, fieldwise),
    ...(samplesIn.range === 'full' ? [{ kind: 'to-legal-range' as const }] : []),
  ];
  // What an untagged original's samples are taken for is stated in what is made: at another raster they would be taken
  // for something else.
  const tags = tagsIn(
    deliverable.codec.id,
    wrappers[deliverable.wrapper].colourTags,
    tagsAfter(colour, { ...source.colour, matrix: samplesIn.matrix, range: 'legal' }),
  );
  const { raster, aspectError, pixelAspect } = geometry;
  return ok({
    raster,
    aspectError,
    pixelAspect,
    rate,
    frames,
    scan,
    colour: tags,
    ...(tags.matrix === null && row.chroma !== 'rgb' ? { samplesOut: matrixOf(tags, raster, false) } : {}),
    ...(keepsAlpha(source, deliverable, colour, steps) ? { alpha: true as const } : {}),
    samplesIn,
    steps,
    geometry,
    map,
    stretch,
    driftSeconds,
  });
}
