import { fail, ok, type Result } from '../result.ts';
import { equal, formatFraction, invert, multiply, toNumber, type Rational } from '../time/rational.ts';
import { layInto, squareSize, type Laid, type PadColour, type RasterWish, type Standing } from './intoRaster.ts';
import { aspectProblem } from './pixelAspects.ts';
import { displayAspect, formatRaster, turned, type Raster, type RasterSteps } from './raster.ts';
import { croppedWindow, turnedWindow, type Crop, type Window } from './window.ts';

/** What is to change about a picture's shape. Anything absent stays as the file states it. */
export interface ShapeCorrection {
  /** The lens's squeeze: the picture is widened by it, over the pixel aspect. */
  squeeze?: Rational;
  /** The pixel aspect that holds instead of the tagged one. */
  pixelAspect?: Rational;
  crop?: Crop;
  /** Turned clockwise by quarters, beyond what the file asks for, then mirrored. */
  turn?: { quarters: number; across: boolean; down: boolean };
  /**
   * How pixels become square: by more or fewer columns, by fewer or more rows, or not at all. By itself the way that
   * loses no sample.
   */
  square?: 'columns' | 'rows' | 'keep';
}

/** One stage on the way of a picture, with its shape there. */
export interface GeometryStage {
  name: 'as stored' | 'cropped' | 'turned' | 'scaled' | 'cut' | 'in its raster';
  raster: Raster;
  pixelAspect: Rational;
  displayAspect: Rational;
}

/** The complete way of a picture: source window → corrected picture → active area in the output's raster. */
export interface Geometry {
  /** What is used of the picture as it lies in the file. */
  window: Window;
  /** The same after the file's own turning, which decoders make: what a crop filter is told. */
  uprightWindow: Window;
  turn: { quarters: number; across: boolean; down: boolean };
  /** The whole window scaled; `view` is the part of it that is kept. */
  scaled: Raster;
  view: Window;
  /** The output's raster, and where the picture lies in it. */
  raster: Raster;
  active: Window;
  padColour: PadColour;
  pixelAspect: Rational;
  /** Display aspect of the result over that of the source, less one: 0.001 is a tenth of a percent too wide. */
  aspectError: number;
  stages: GeometryStage[];
}

/** What a picture is, as far as its geometry goes. */
export interface PictureFacts {
  raster: Raster;
  pixelAspect: Rational;
  /** Quarter turns clockwise that the file asks for. */
  quarterTurns: number;
}

const square: Rational = { num: 1, den: 1 };
const noTurn = { quarters: 0, across: false, down: false } as const;

/** How the pixels of a picture become square: by itself the way that loses no sample. */
function squaredBy(shape: ShapeCorrection, aspect: Rational, fieldwise: boolean): 'columns' | 'rows' {
  if (shape.square === 'columns' || shape.square === 'rows') return shape.square;
  return toNumber(aspect) >= 1 || fieldwise ? 'columns' : 'rows';
}

/** What fields cannot be: turned, upside down, or made square by rows. */
function fieldsHeld(shape: ShapeCorrection, by: 'columns' | 'rows', aspect: Rational): Result<null> {
  const { quarters, down } = shape.turn ?? noTurn;
  if (quarters % 4 !== 0 || down) return fail('fields cannot be turned', 'Deinterlace what is to be turned');
  if (by === 'rows' && toNumber(aspect) !== 1)
    return fail('fields cannot be made square by rows', 'Make pixels square by columns, or deinterlace');
  return ok(null);
}

/** The way stage by stage, but for those that change nothing. */
function stagesOf(way: readonly (readonly [GeometryStage['name'], Raster, Rational])[]): GeometryStage[] {
  const stages: GeometryStage[] = [];
  for (const [name, { width, height }, pixelAspect] of way) {
    const before = stages.at(-1);
    const same =
      before?.raster.width === width && before.raster.height === height && equal(before.pixelAspect, pixelAspect);
    if (same) continue;
    const raster = { width, height };
    stages.push({ name, raster, pixelAspect, displayAspect: displayAspect(raster, pixelAspect) });
  }
  return stages;
}

function padColourOf(wish: RasterWish): PadColour {
  return wish.kind === 'pad' || wish.kind === 'cut' ? (wish.colour ?? 'black') : 'black';
}

/**
 * The way of a picture into a deliverable's raster. Rasters that a codec cannot hold become the nearest with the least
 * error of shape, which is in the answer. Fails for what cannot be: absurd pixels, crops that leave nothing, boxes a
 * codec cannot hold.
 */
export function planGeometry(
  picture: PictureFacts,
  shape: ShapeCorrection,
  wish: RasterWish,
  steps: RasterSteps,
  fieldwise = false,
): Result<Geometry> {
  const stored = picture.raster;
  if (stored.width < 1 || stored.height < 1) return fail(`${formatRaster(stored)} is no raster`, 'Read the file again');
  const corrected = multiply(shape.pixelAspect ?? picture.pixelAspect, shape.squeeze ?? square);
  const absurd = aspectProblem(corrected);
  if (absurd) return fail(absurd, 'State a pixel aspect between 1:4 and 4:1');
  const cropped = croppedWindow(stored, shape.crop, fieldwise);
  if (!cropped.ok) return cropped;
  const window = cropped.value;
  const turn = shape.turn ?? noTurn;
  const turns = picture.quarterTurns + turn.quarters;
  const upright = turned(window, turns);
  const aspect = turns % 2 === 0 ? corrected : invert(corrected);
  const by = squaredBy(shape, aspect, fieldwise);
  const held = fieldwise ? fieldsHeld(shape, by, aspect) : ok(null);
  if (!held.ok) return held;
  const standing: Standing = {
    raster: upright,
    pixelAspect: aspect,
    full: squareSize(upright, aspect, by),
    displayAspect: displayAspect(upright, aspect),
    keepsPixels: shape.square === 'keep',
    fieldwise,
  };
  const laid = layInto(standing, wish, steps);
  if (!laid.ok) return laid;
  const { scaled, view, raster, at, pixelAspect }: Laid = laid.value;
  return ok({
    window,
    uprightWindow: turnedWindow(window, stored, picture.quarterTurns),
    turn: { quarters: ((turn.quarters % 4) + 4) % 4, across: turn.across, down: turn.down },
    scaled,
    view,
    raster,
    active: { ...at, width: view.width, height: view.height },
    padColour: padColourOf(wish),
    pixelAspect,
    aspectError: toNumber(displayAspect(scaled, pixelAspect)) / toNumber(standing.displayAspect) - 1,
    stages: stagesOf([
      ['as stored', stored, corrected],
      ['cropped', window, corrected],
      ['turned', upright, aspect],
      ['scaled', scaled, pixelAspect],
      ['cut', view, pixelAspect],
      ['in its raster', raster, pixelAspect],
    ]),
  });
}

/** The bars that a geometry puts around the picture. */
export function barsOf({ raster, active }: Pick<Geometry, 'raster' | 'active'>): Crop {
  return {
    left: active.x,
    top: active.y,
    right: raster.width - active.x - active.width,
    bottom: raster.height - active.y - active.height,
  };
}

/** The way in a line: `1440×1080 (4:3) → 1920×1080`. */
export function sayStages(geometry: Geometry): string {
  return geometry.stages
    .map(
      (stage) =>
        `${formatRaster(stage.raster)}${stage.pixelAspect.num === stage.pixelAspect.den ? '' : ` (${formatFraction(stage.pixelAspect, ':')})`}`,
    )
    .join(' → ');
}
