import { anchors, placed, type Anchor, type Window } from '../shape/window.ts';
import type { Raster } from '../shape/raster.ts';
import { plateStrength, textCode } from './contrast.ts';
import { burnFont, drawable, sizeStep } from './font.ts';
import { burnSizes, type BurnFact, type BurnLayout, type BurnLine, type BurnPiece } from './layout.ts';
import { labelAt, type Running } from './running.ts';

/** What is known of a clip when its burn-in is planned. Absent facts leave their place empty. */
export type BurnFacts = Partial<Record<Exclude<BurnFact, 'source' | 'record' | 'frame'>, string | null>>;

/** Text that runs with the frames; null where a clip has none. */
export interface BurnRunning {
  source: Running | null;
  record: Running | null;
  frame: Running;
}

/** One stretch of a line, drawn from `x` on. `text` of running ones is what the first frame shows. */
export type BurnRun =
  { kind: 'text'; x: number; text: string } | { kind: 'running'; x: number; text: string; running: Running };

/** A line on its plate, in samples of the output. */
export interface BurnBox {
  at: Anchor;
  plate: Window;
  baseline: number;
  fontSize: number;
  runs: BurnRun[];
}

/** Words across the picture, turned around its middle. */
export interface BurnAcross {
  text: string;
  fontSize: number;
  /** Clockwise, in degrees. */
  degrees: number;
  opacity: number;
}

/** All that is drawn over one output's pictures: exact, so that preview, run and proof agree. */
export interface BurnPlan {
  raster: Raster;
  /** Codes of text, 0 to 1 of legal white, and how opaque plates are. */
  white: number;
  plateStrength: number;
  boxes: BurnBox[];
  across: BurnAcross | null;
  image: { image: string; at: Window; opacity: number; frames: number | null } | null;
}

/** Share of the raster, each way, in which text is safe (SMPTE ST 2046-1, title-safe area). */
const safe = 0.9;
/** As small as text may become before it is cut. */
const leastSize = 10;
const opacities = { faint: 0.14, clear: 0.3 } as const;

type Cell = { kind: 'text'; text: string } | { kind: 'running'; text: string; running: Running };

function cellsOf(piece: BurnPiece, facts: BurnFacts, running: BurnRunning): Cell | null {
  if (piece.kind === 'text') return { kind: 'text', text: drawable(piece.text) };
  switch (piece.fact) {
    case 'source':
    case 'record':
    case 'frame': {
      const runs = running[piece.fact];
      return runs ? { kind: 'running', text: labelAt(runs, 0), running: runs } : null;
    }
    default: {
      const text = facts[piece.fact];
      return text ? { kind: 'text', text: drawable(text) } : null;
    }
  }
}

/** A line's pieces with a blank between them; null where no fact of it is known and no words stand there. */
function lineCells(line: BurnLine, facts: BurnFacts, running: BurnRunning): Cell[] | null {
  const cells = line.pieces.flatMap((piece) => {
    const cell = cellsOf(piece, facts, running);
    return cell && cell.text.trim() !== '' ? [cell] : [];
  });
  // Words that only introduce a fact say nothing without it.
  const wantsFact = line.pieces.some((piece) => piece.kind === 'fact');
  const hasFact = line.pieces.some((piece) => piece.kind === 'fact' && cellsOf(piece, facts, running) !== null);
  return cells.length === 0 || (wantsFact && !hasFact)
    ? null
    : cells.flatMap((cell, i): Cell[] => (i === 0 ? [cell] : [{ kind: 'text', text: ' ' }, cell]));
}

const lengthOf = (cells: readonly Cell[]): number => cells.reduce((sum, cell) => sum + cell.text.length, 0);

/** Shortened to so many characters, from the middle of its longest words. */
function shortened(cells: Cell[], most: number): Cell[] {
  const over = lengthOf(cells) - most;
  if (over <= 0) return cells;
  const longest = cells.filter((cell) => cell.kind === 'text').sort((a, b) => b.text.length - a.text.length)[0];
  if (!longest) return cells;
  const keep = Math.max(1, longest.text.length - over - 1);
  const head = Math.ceil(keep / 2);
  const text = `${longest.text.slice(0, head)}…${keep - head > 0 ? longest.text.slice(-(keep - head)) : ''}`;
  return cells.map((cell) => (cell === longest ? { kind: 'text', text } : cell));
}

const even = (value: number): number => Math.floor(value / 2) * 2;
const stepped = (size: number): number => Math.max(leastSize, Math.round(size / sizeStep) * sizeStep);
const across = (at: Anchor): 'left' | 'centre' | 'right' =>
  at.endsWith('left') ? 'left' : at.endsWith('right') ? 'right' : 'centre';
const row = (at: Anchor): 'top' | 'middle' | 'bottom' =>
  at.startsWith('top') ? 'top' : at.startsWith('bottom') ? 'bottom' : 'middle';

/** Sizes of a line's plate around its text. */
function plateOf(characters: number, fontSize: number): Raster {
  return {
    width: even(Math.round(characters * burnFont.advance * fontSize + 0.7 * fontSize) + 1),
    height: even(Math.round(1.4 * fontSize) + 1),
  };
}

/**
 * Lays a layout out on a raster. Text is as large as the layout asks for; where lines of one row would meet it is made
 * smaller, down to six tenths, and then cut in its middle.
 */
export function planBurn(
  layout: BurnLayout,
  raster: Raster,
  facts: BurnFacts,
  running: BurnRunning,
  transfer: string | null,
): BurnPlan {
  const { mark } = layout;
  const wanted = mark?.as === 'corner' ? [...layout.lines, { at: mark.at, pieces: mark.pieces }] : layout.lines;
  const lines = wanted.flatMap((line) => {
    const cells = lineCells(line, facts, running);
    return cells ? [{ at: line.at, cells }] : [];
  });
  const area = { width: even(raster.width * safe), height: even(raster.height * safe) };
  // As many characters fit in a tall picture's width as in a wide one's.
  const unit = Math.min(raster.height, (raster.width * 9) / 16);
  const rows = (['top', 'middle', 'bottom'] as const).map((name) => lines.filter((line) => row(line.at) === name));
  const columns = (members: typeof lines): number => new Set(members.map((line) => across(line.at))).size;
  const room = (members: typeof lines): number => {
    const has = columns(members);
    // A line in the middle leaves the outer ones what lies left and right of it.
    return has <= 1
      ? area.width
      : area.width / (members.some((line) => across(line.at) === 'centre') ? 3 : 2) - unit / 54;
  };
  const asked = stepped(unit / burnSizes[layout.size]);
  const fits = Math.min(
    1,
    ...rows.flatMap((members) => members.map((line) => room(members) / plateOf(lengthOf(line.cells), asked).width)),
  );
  // Rounded down where text had to shrink, so that it fits.
  const fontSize =
    fits < 1 ? Math.max(leastSize, Math.floor((asked * Math.max(0.6, fits)) / sizeStep) * sizeStep) : asked;
  const boxes: BurnBox[] = [];
  for (const members of rows) {
    const most = Math.floor((room(members) - 0.7 * fontSize - 2) / (burnFont.advance * fontSize));
    for (const at of anchors) {
      const here = members.filter((line) => line.at === at);
      const plates = here
        .map((line) => ({ cells: shortened(line.cells, most) }))
        .map(({ cells }) => ({ cells, size: plateOf(lengthOf(cells), fontSize) }));
      const stack = {
        width: Math.max(0, ...plates.map(({ size }) => size.width)),
        height: plates.reduce((sum, { size }) => sum + size.height, 0),
      };
      let top = even((raster.height - area.height) / 2) + even(placed(area, stack, at).y);
      for (const { cells, size } of plates) {
        const plate = { x: even((raster.width - area.width) / 2) + even(placed(area, size, at).x), y: top, ...size };
        let x = plate.x + Math.round(0.35 * fontSize);
        const runs = cells.map((cell): BurnRun => {
          const run = { ...cell, x };
          x += Math.round(cell.text.length * burnFont.advance * fontSize);
          return run;
        });
        boxes.push({ at, plate, baseline: plate.y + Math.round(1.03 * fontSize), fontSize, runs });
        top += size.height;
      }
    }
  }
  return {
    raster,
    white: textCode(transfer),
    plateStrength,
    boxes,
    across:
      mark?.as === 'across'
        ? planAcross(lineCells({ at: 'centre', pieces: mark.pieces }, facts, running), raster, opacities[mark.strength])
        : null,
    image: layout.image ? planImage(layout.image, raster) : null,
  };
}

function planAcross(cells: Cell[] | null, raster: Raster, opacity: number): BurnAcross | null {
  if (!cells) return null;
  const text = cells
    .map((cell) => cell.text)
    .join('')
    .slice(0, 80);
  const diagonal = Math.hypot(raster.width, raster.height);
  // Three quarters of the diagonal at most, and never higher than a sixth of the picture.
  const fontSize = stepped(
    Math.min((diagonal * 0.75) / (text.length * burnFont.advance), Math.min(raster.width, raster.height) / 6),
  );
  return { text, fontSize, degrees: -(Math.atan2(raster.height, raster.width) * 180) / Math.PI, opacity };
}

function planImage(
  { image, width, height, at, share, opacity, frames }: NonNullable<BurnLayout['image']>,
  raster: Raster,
): BurnPlan['image'] {
  const scale = Math.min((raster.width * share) / width, (raster.height * share) / height);
  const size = { width: Math.max(2, even(width * scale)), height: Math.max(2, even(height * scale)) };
  // A picture that is to fill the output goes to its edges, others stay within the safe area.
  const area = share >= 1 ? raster : { width: even(raster.width * safe), height: even(raster.height * safe) };
  const within = size.width > area.width || size.height > area.height ? raster : area;
  const { x, y } = placed(within, size, at);
  return {
    image,
    at: { x: even((raster.width - within.width) / 2 + x), y: even((raster.height - within.height) / 2 + y), ...size },
    opacity,
    frames: frames ?? null,
  };
}
