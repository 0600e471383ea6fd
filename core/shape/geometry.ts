import { fail, ok, type Result } from '../result.ts';
import { formatFraction, invert, multiply, toNumber, type Rational } from '../time/rational.ts';
import { aspectProblem } from './pixelAspects.ts';
import { displayAspect, formatRaster, nearest, turned, type Raster, type RasterSteps } from './raster.ts';

/** A rectangle of samples. */
export interface Window {
  x: number;
  y: number;
  width: number;
  height: number;
}

export const anchors = [
  'top left',
  'top',
  'top right',
  'left',
  'centre',
  'right',
  'bottom left',
  'bottom',
  'bottom right',
] as const;
/** Where a picture lies that is smaller than its raster, or what of it is kept where it is larger. */
export type Anchor = (typeof anchors)[number];

/** Columns and rows taken off the sides of the picture as it lies in the file. */
export interface Crop {
  left: number;
  top: number;
  right: number;
  bottom: number;
}

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

/** The raster that a deliverable wants. `fit`, `pad` and `fill` never enlarge unless asked to. */
export type RasterWish =
  /** The picture's own size, with square pixels. */
  | { kind: 'source' }
  /** Exactly a half, third or quarter of it each way where that exists, else the nearest. */
  | { kind: 'share'; of: 2 | 3 | 4 }
  /** The largest inside a box; nothing is added. */
  | { kind: 'fit'; width: number; height: number; enlarge?: boolean }
  /** The largest inside a box, and the box filled up with a colour. */
  | { kind: 'pad'; width: number; height: number; enlarge?: boolean; anchor?: Anchor; colour?: PadColour }
  /** The whole box filled, what stands over is cut; a smaller box of its shape where the picture is smaller. */
  | { kind: 'fill'; width: number; height: number; enlarge?: boolean; anchor?: Anchor }
  /** Not scaled: what lies outside the box is cut, what it lacks is filled up. */
  | { kind: 'cut'; width: number; height: number; anchor?: Anchor; colour?: PadColour };

export const padColours = ['black', 'grey', 'white'] as const;
export type PadColour = (typeof padColours)[number];

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

/** Offset of `inner` within `outer` for an anchor, on a multiple of `step`. */
function offset(outer: number, inner: number, where: 'start' | 'middle' | 'end', step: number): number {
  const free = outer - inner;
  const wanted = where === 'start' ? 0 : where === 'end' ? free : free / 2;
  return Math.min(Math.floor(free / step) * step, Math.round(wanted / step - 1e-9) * step) + 0;
}

/** Where a raster of `inner` lies in `outer`. */
export function placed(
  outer: Raster,
  inner: Raster,
  anchor: Anchor,
  steps: RasterSteps = { widthStep: 1, heightStep: 1 },
): { x: number; y: number } {
  const across = anchor.endsWith('left') ? 'start' : anchor.endsWith('right') ? 'end' : 'middle';
  const down = anchor.startsWith('top') ? 'start' : anchor.startsWith('bottom') ? 'end' : 'middle';
  return {
    x: offset(outer.width, inner.width, across, steps.widthStep),
    y: offset(outer.height, inner.height, down, steps.heightStep),
  };
}

/** A window as it lies after turning the raster clockwise by quarters. */
export function turnedWindow(window: Window, raster: Raster, quarters: number): Window {
  const { x, y, width, height } = window;
  switch (((quarters % 4) + 4) % 4) {
    case 1:
      return { x: raster.height - y - height, y: x, width: height, height: width };
    case 2:
      return { x: raster.width - x - width, y: raster.height - y - height, width, height };
    case 3:
      return { x: y, y: raster.width - x - width, width: height, height: width };
    default:
      return window;
  }
}

/** Halves, thirds and quarters of a raster that are whole and that a codec takes. */
export function exactShares(raster: Raster, steps: RasterSteps): { of: 2 | 3 | 4; raster: Raster }[] {
  return ([2, 3, 4] as const).flatMap((of) => {
    const part = { width: raster.width / of, height: raster.height / of };
    return part.width % steps.widthStep === 0 && part.height % steps.heightStep === 0 ? [{ of, raster: part }] : [];
  });
}

/** The window that a crop leaves; a problem where it leaves too little. */
function croppedWindow(raster: Raster, crop: Crop | undefined, fieldwise: boolean): Result<Window> {
  if (!crop) return ok({ x: 0, y: 0, ...raster });
  const sides = [crop.left, crop.top, crop.right, crop.bottom];
  if (sides.some((side) => !Number.isInteger(side) || side < 0))
    return fail('a crop takes whole columns and rows off', 'State how many to take off each side');
  // Rows go in pairs where fields are kept, or the two would change places.
  const top = fieldwise ? Math.ceil(crop.top / 2) * 2 : crop.top;
  const bottom = fieldwise ? Math.ceil(crop.bottom / 2) * 2 : crop.bottom;
  const window = {
    x: crop.left,
    y: top,
    width: raster.width - crop.left - crop.right,
    height: raster.height - top - bottom,
  };
  return window.width >= 16 && window.height >= 16
    ? ok(window)
    : fail(`a crop of ${sides.join(', ')} leaves nothing of ${formatRaster(raster)}`, 'Take less off the sides');
}

/** How a window with pixels of `aspect` becomes square: its size, in samples and not whole yet. */
function squareSize(window: Raster, aspect: Rational, by: 'columns' | 'rows'): { width: number; height: number } {
  const shape = toNumber(displayAspect(window, aspect));
  return by === 'columns'
    ? { width: window.height * shape, height: window.height }
    : { width: window.width, height: window.width / shape };
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
  const own = picture.quarterTurns;
  const turn = shape.turn ?? noTurn;
  if (fieldwise && (turn.quarters % 4 !== 0 || turn.down))
    return fail('fields cannot be turned', 'Deinterlace what is to be turned');
  const turns = own + turn.quarters;
  const upright = turned(window, turns);
  const aspect = turns % 2 === 0 ? corrected : invert(corrected);
  const shown = displayAspect(upright, aspect);
  const wide = toNumber(aspect) >= 1 || fieldwise;
  const by = shape.square === 'columns' || shape.square === 'rows' ? shape.square : wide ? 'columns' : 'rows';
  if (fieldwise && by === 'rows' && toNumber(aspect) !== 1)
    return fail('fields cannot be made square by rows', 'Make pixels square by columns, or deinterlace');
  const full = squareSize(upright, aspect, by);
  const one: RasterSteps = { widthStep: 1, heightStep: 1 };
  const rowStep = fieldwise ? Math.max(2, steps.heightStep) : steps.heightStep;

  let scaled: Raster;
  let raster: Raster;
  let view: Window;
  let at = { x: 0, y: 0 };
  let pixelAspect = square;
  const whole = (of: Raster): Window => ({ x: 0, y: 0, ...of });
  const boxed = 'width' in wish ? { width: wish.width, height: wish.height } : null;
  if (boxed && (boxed.width < steps.widthStep || boxed.height < steps.heightStep))
    return fail(
      `nothing this codec can hold fits within ${formatRaster(boxed)}`,
      `Take ${formatRaster({ width: steps.widthStep, height: steps.heightStep })} at the least`,
    );
  if (boxed && wish.kind !== 'fit' && (boxed.width % steps.widthStep !== 0 || boxed.height % steps.heightStep !== 0)) {
    return fail(
      `${formatRaster(boxed)} is no raster this codec can hold`,
      `Take a width of ${steps.widthStep} and a height of ${steps.heightStep} samples, or a multiple`,
    );
  }
  const inside = (limit: Raster, enlarge: boolean): Raster => {
    const scale = Math.min(enlarge ? Infinity : 1, limit.width / full.width, limit.height / full.height);
    return nearest(full.width * scale, full.height * scale, shown, steps, limit).raster;
  };
  switch (wish.kind) {
    case 'source':
      if (shape.square === 'keep') {
        scaled = nearest(upright.width, upright.height, displayAspect(upright, square), steps).raster;
        pixelAspect = aspect;
      } else scaled = nearest(full.width, full.height, shown, steps).raster;
      [raster, view] = [scaled, whole(scaled)];
      break;
    case 'share': {
      scaled = nearest(full.width / wish.of, full.height / wish.of, shown, steps).raster;
      [raster, view] = [scaled, whole(scaled)];
      break;
    }
    case 'fit':
      scaled = inside({ width: wish.width, height: wish.height }, wish.enlarge ?? false);
      [raster, view] = [scaled, whole(scaled)];
      break;
    case 'pad':
      scaled = inside({ width: wish.width, height: wish.height }, wish.enlarge ?? false);
      [raster, view] = [{ width: wish.width, height: wish.height }, whole(scaled)];
      at = placed(raster, scaled, wish.anchor ?? 'centre', { widthStep: 2, heightStep: rowStep });
      break;
    case 'fill': {
      // A picture that is too small for the box fills as much of the box's shape as it has.
      const less = wish.enlarge ? 1 : Math.min(1, full.width / wish.width, full.height / wish.height);
      const box = { width: wish.width, height: wish.height };
      raster =
        less < 1 ? nearest(box.width * less, box.height * less, displayAspect(box, square), steps, box).raster : box;
      const scale = Math.max(raster.width / full.width, raster.height / full.height);
      scaled = nearest(
        Math.max(raster.width, full.width * scale),
        Math.max(raster.height, full.height * scale),
        shown,
        one,
      ).raster;
      scaled = { width: Math.max(scaled.width, raster.width), height: Math.max(scaled.height, raster.height) };
      view = {
        ...placed(scaled, raster, wish.anchor ?? 'centre', { widthStep: 1, heightStep: fieldwise ? 2 : 1 }),
        ...raster,
      };
      break;
    }
    case 'cut': {
      scaled = nearest(full.width, full.height, shown, one).raster;
      raster = { width: wish.width, height: wish.height };
      const kept = { width: Math.min(scaled.width, raster.width), height: Math.min(scaled.height, raster.height) };
      view = {
        ...placed(scaled, kept, wish.anchor ?? 'centre', { widthStep: 1, heightStep: fieldwise ? 2 : 1 }),
        ...kept,
      };
      at = placed(raster, kept, wish.anchor ?? 'centre', { widthStep: 2, heightStep: rowStep });
      break;
    }
  }
  const stages: GeometryStage[] = [];
  const stage = (name: GeometryStage['name'], of: Raster, with_: Rational): void => {
    const before = stages.at(-1);
    if (
      before &&
      before.raster.width === of.width &&
      before.raster.height === of.height &&
      toNumber(before.pixelAspect) === toNumber(with_)
    )
      return;
    stages.push({
      name,
      raster: { width: of.width, height: of.height },
      pixelAspect: with_,
      displayAspect: displayAspect(of, with_),
    });
  };
  stage('as stored', stored, corrected);
  stage('cropped', window, corrected);
  stage('turned', upright, aspect);
  stage('scaled', scaled, pixelAspect);
  stage('cut', view, pixelAspect);
  stage('in its raster', raster, pixelAspect);
  return ok({
    window,
    uprightWindow: turnedWindow(window, stored, own),
    turn: { quarters: ((turn.quarters % 4) + 4) % 4, across: turn.across, down: turn.down },
    scaled,
    view,
    raster,
    active: { ...at, width: view.width, height: view.height },
    padColour: wish.kind === 'pad' || wish.kind === 'cut' ? (wish.colour ?? 'black') : 'black',
    pixelAspect,
    aspectError: toNumber(displayAspect(scaled, pixelAspect)) / toNumber(shown) - 1,
    stages,
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
