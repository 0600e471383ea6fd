import { toNumber, type Rational } from '../time/rational.ts';
import type { Geometry } from './geometry.ts';
import { turned, type Raster } from './raster.ts';
import { turnedWindow, type Window } from './window.ts';

/**
 * Two pictures on one plane at their true shape: the same place of the scene lies on the same place of it. Its unit is
 * the height of one of the first picture's samples, its origin that picture's top left corner; boxes may be of
 * fractions.
 */
export interface Compared {
  first: Window;
  second: Window;
}

/** How a picture came to be, as far as its place goes; the geometry is absent in plans from before there was any. */
export interface Placed {
  raster: Raster;
  pixelAspect: Rational;
  geometry?: Geometry | undefined;
}

/** What an original is before anything is done to it. */
export interface Whole {
  raster: Raster;
  /** Quarter turns clockwise that the file asks for. */
  quarterTurns: number;
}

/** A window mirrored as the picture that it lies in. */
function mirrored({ x, y, width, height }: Window, raster: Raster, turn: Geometry['turn']): Window {
  return {
    x: turn.across ? raster.width - x - width : x,
    y: turn.down ? raster.height - y - height : y,
    width,
    height,
  };
}

/** Quarters by which the whole original is turned on its way to an output. */
export function quartersOf({ geometry }: Placed, { quarterTurns }: Whole): number {
  return quarterTurns + (geometry?.turn.quarters ?? 0);
}

/** The box of an output on a plane of its own. */
function ownBox({ raster, pixelAspect }: Placed): Window {
  return { x: 0, y: 0, width: raster.width * toNumber(pixelAspect), height: raster.height };
}

/** An output and its whole original, what was cropped away included, turned as the output is. */
export function besideOriginal(output: Placed, original: Whole): Compared {
  const turns = quartersOf(output, original);
  const whole = turned(original.raster, turns);
  const { geometry, raster } = output;
  const all = { x: 0, y: 0 };
  const window = geometry ? turnedWindow(geometry.window, original.raster, turns) : { ...all, ...whole };
  const used = geometry ? mirrored(window, whole, geometry.turn) : window;
  const scaled = geometry?.scaled ?? raster;
  const view = geometry?.view ?? all;
  const active = geometry?.active ?? all;
  const wide = toNumber(output.pixelAspect);
  const [across, down] = [scaled.width / used.width, scaled.height / used.height];
  return {
    first: ownBox(output),
    second: {
      x: (active.x - view.x - used.x * across) * wide,
      y: active.y - view.y - used.y * down,
      width: whole.width * across * wide,
      height: whole.height * down,
    },
  };
}

/**
 * Two outputs of one original, each by its own way from it. Where they are turned otherwise, nothing lies on the same
 * place, and the second is fitted into the first's box.
 */
export function besideOutput(first: Placed, second: Placed, original: Whole): Compared {
  const own = ownBox(second);
  if (((quartersOf(first, original) - quartersOf(second, original)) % 4) + 0 !== 0) {
    const box = ownBox(first);
    const scale = Math.min(box.width / own.width, box.height / own.height);
    const [width, height] = [own.width * scale, own.height * scale];
    return { first: box, second: { x: (box.width - width) / 2, y: (box.height - height) / 2, width, height } };
  }
  const { first: box, second: here } = besideOriginal(first, original);
  const there = besideOriginal(second, original).second;
  const [across, down] = [here.width / there.width, here.height / there.height];
  return {
    first: box,
    second: {
      x: here.x + (own.x - there.x) * across,
      y: here.y + (own.y - there.y) * down,
      width: own.width * across,
      height: own.height * down,
    },
  };
}

/** The box around both. */
export function bothOf({ first, second }: Compared): Window {
  const [x, y] = [Math.min(first.x, second.x), Math.min(first.y, second.y)];
  return {
    x,
    y,
    width: Math.max(first.x + first.width, second.x + second.width) - x,
    height: Math.max(first.y + first.height, second.y + second.height) - y,
  };
}

/** What lies in both boxes: without width or height, where nothing does. */
export function sharedBy({ first, second }: Compared): Window {
  const [x, y] = [Math.max(first.x, second.x), Math.max(first.y, second.y)];
  return {
    x,
    y,
    width: Math.max(0, Math.min(first.x + first.width, second.x + second.width) - x),
    height: Math.max(0, Math.min(first.y + first.height, second.y + second.height) - y),
  };
}
