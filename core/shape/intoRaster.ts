import { fail, ok, type Result } from '../result.ts';
import { toNumber, type Rational } from '../time/rational.ts';
import { displayAspect, formatRaster, nearest, type Raster, type RasterSteps } from './raster.ts';
import { placed, type Anchor, type Window } from './window.ts';

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

/** A picture as it stands when it is laid into a raster: cropped, turned, its pixels not square yet. */
export interface Standing {
  raster: Raster;
  pixelAspect: Rational;
  /** Its size once pixels are square, in samples that are not whole yet. */
  full: { width: number; height: number };
  displayAspect: Rational;
  /** Its pixels stay as they are, where the picture's own size is kept. */
  keepsPixels: boolean;
  /** Fields are kept: rows go in pairs. */
  fieldwise: boolean;
}

/** A picture in its raster. */
export interface Laid {
  /** The whole picture scaled, and the part of it that is kept. */
  scaled: Raster;
  view: Window;
  raster: Raster;
  /** Where that part lies in the raster. */
  at: { x: number; y: number };
  pixelAspect: Rational;
}

const square: Rational = { num: 1, den: 1 };
const everySample: RasterSteps = { widthStep: 1, heightStep: 1 };

function whole({ width, height }: Raster): Window {
  return { x: 0, y: 0, width, height };
}

/** A picture that is scaled to its raster, and fills it. */
function filling(raster: Raster, pixelAspect = square): Laid {
  return { scaled: raster, view: whole(raster), raster, at: { x: 0, y: 0 }, pixelAspect };
}

function ownSize({ raster, pixelAspect, full, displayAspect: shown, keepsPixels }: Standing, steps: RasterSteps): Laid {
  return keepsPixels
    ? filling(nearest(raster.width, raster.height, displayAspect(raster, square), steps).raster, pixelAspect)
    : filling(nearest(full.width, full.height, shown, steps).raster);
}

/** The largest that fits within a box. */
function inside(
  { full, displayAspect: shown }: Standing,
  { width, height, enlarge = false }: Raster & { enlarge?: boolean },
  steps: RasterSteps,
): Raster {
  const scale = Math.min(enlarge ? Infinity : 1, width / full.width, height / full.height);
  return nearest(full.width * scale, full.height * scale, shown, steps, { width, height }).raster;
}

/** Steps on which a picture may lie within a raster: chroma goes in pairs of columns, fields in pairs of rows. */
function placeSteps({ fieldwise }: Standing, { heightStep }: RasterSteps): RasterSteps {
  return { widthStep: 2, heightStep: fieldwise ? Math.max(2, heightStep) : heightStep };
}

function viewSteps({ fieldwise }: Standing): RasterSteps {
  return { widthStep: 1, heightStep: fieldwise ? 2 : 1 };
}

function padded(picture: Standing, wish: Extract<RasterWish, { kind: 'pad' }>, steps: RasterSteps): Laid {
  const scaled = inside(picture, wish, steps);
  const raster = { width: wish.width, height: wish.height };
  const at = placed(raster, scaled, wish.anchor ?? 'centre', placeSteps(picture, steps));
  return { scaled, view: whole(scaled), raster, at, pixelAspect: square };
}

function filled(picture: Standing, wish: Extract<RasterWish, { kind: 'fill' }>, steps: RasterSteps): Laid {
  const { full, displayAspect: shown } = picture;
  const box = { width: wish.width, height: wish.height };
  // A picture that is too small for the box fills as much of the box's shape as it has.
  const less = wish.enlarge ? 1 : Math.min(1, full.width / box.width, full.height / box.height);
  const raster =
    less < 1 ? nearest(box.width * less, box.height * less, displayAspect(box, square), steps, box).raster : box;
  const scale = Math.max(raster.width / full.width, raster.height / full.height);
  const near = nearest(
    Math.max(raster.width, full.width * scale),
    Math.max(raster.height, full.height * scale),
    shown,
    everySample,
  ).raster;
  const scaled = { width: Math.max(near.width, raster.width), height: Math.max(near.height, raster.height) };
  const view = { ...placed(scaled, raster, wish.anchor ?? 'centre', viewSteps(picture)), ...raster };
  return { scaled, view, raster, at: { x: 0, y: 0 }, pixelAspect: square };
}

function cutOut(picture: Standing, wish: Extract<RasterWish, { kind: 'cut' }>, steps: RasterSteps): Laid {
  const { full, displayAspect: shown } = picture;
  const scaled = nearest(full.width, full.height, shown, everySample).raster;
  const raster = { width: wish.width, height: wish.height };
  const kept = { width: Math.min(scaled.width, raster.width), height: Math.min(scaled.height, raster.height) };
  const view = { ...placed(scaled, kept, wish.anchor ?? 'centre', viewSteps(picture)), ...kept };
  const at = placed(raster, kept, wish.anchor ?? 'centre', placeSteps(picture, steps));
  return { scaled, view, raster, at, pixelAspect: square };
}

/** Refuses a box that a codec cannot hold. */
function boxHeld(wish: RasterWish, { widthStep, heightStep }: RasterSteps): Result<null> {
  if (!('width' in wish)) return ok(null);
  const box = { width: wish.width, height: wish.height };
  if (box.width < widthStep || box.height < heightStep)
    return fail(
      `nothing this codec can hold fits within ${formatRaster(box)}`,
      `Take ${formatRaster({ width: widthStep, height: heightStep })} at the least`,
    );
  if (wish.kind !== 'fit' && (box.width % widthStep !== 0 || box.height % heightStep !== 0))
    return fail(
      `${formatRaster(box)} is no raster this codec can hold`,
      `Take a width of ${widthStep} and a height of ${heightStep} samples, or a multiple`,
    );
  return ok(null);
}

/** Lays a picture into the raster that a deliverable wants. Fails for boxes that its codec cannot hold. */
export function layInto(picture: Standing, wish: RasterWish, steps: RasterSteps): Result<Laid> {
  const held = boxHeld(wish, steps);
  if (!held.ok) return held;
  const { full, displayAspect: shown } = picture;
  switch (wish.kind) {
    case 'source':
      return ok(ownSize(picture, steps));
    case 'share':
      return ok(filling(nearest(full.width / wish.of, full.height / wish.of, shown, steps).raster));
    case 'fit':
      return ok(filling(inside(picture, wish, steps)));
    case 'pad':
      return ok(padded(picture, wish, steps));
    case 'fill':
      return ok(filled(picture, wish, steps));
    case 'cut':
      return ok(cutOut(picture, wish, steps));
  }
}

/** How a picture with pixels of `aspect` becomes square: its size, in samples and not whole yet. */
export function squareSize(raster: Raster, aspect: Rational, by: 'columns' | 'rows'): Standing['full'] {
  const shape = toNumber(displayAspect(raster, aspect));
  return by === 'columns'
    ? { width: raster.height * shape, height: raster.height }
    : { width: raster.width, height: raster.width / shape };
}

/** Halves, thirds and quarters of a raster that are whole and that a codec takes. */
export function exactShares(raster: Raster, steps: RasterSteps): { of: 2 | 3 | 4; raster: Raster }[] {
  return ([2, 3, 4] as const).flatMap((of) => {
    const part = { width: raster.width / of, height: raster.height / of };
    return part.width % steps.widthStep === 0 && part.height % steps.heightStep === 0 ? [{ of, raster: part }] : [];
  });
}
