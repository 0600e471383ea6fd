import { csvCell } from '../identity/csv.ts';
import { sayChain } from '../colour/chain/say.ts';
import { rollOf } from '../clip/roll.ts';
import type { Verdict } from '../proof/proof.ts';
import { codecRow } from '../recipe/codecs.ts';
import { planMark } from '../recipe/mark.ts';
import type { LegPlan, OutputPlan } from '../recipe/legPlan.ts';
import { sayPlan } from '../recipe/sentence.ts';
import { formatRaster } from '../shape/raster.ts';
import { writeMap } from '../time/frameMap.ts';
import { formatRate } from '../time/rate.ts';
import { formatFraction } from '../time/rational.ts';

/** Names of the relink sheet beside the outputs. */
export const sheetNames = { csv: 'relink.csv', json: 'relink.json' } as const;

/** One line of a relink sheet: everything with which an output leads back to its original. */
export interface RelinkRow {
  stem: string;
  roll: string;
  reel: string;
  startTimecode: string;
  frames: number;
  rate: string;
  rateFraction: string;
  original: string;
  originalBytes: number;
  originalFrames: number;
  originalRate: string;
  originalRaster: string;
  originalPixelAspect: string;
  originalXxh3: string;
  output: string;
  role: string;
  codec: string;
  raster: string;
  pixelAspect: string;
  channelsByTrack: string;
  corrected: string;
  /**
   * What became of the colour, and the LUT that lies beside the output, if one does. Absent in rows from before there
   * were chains.
   */
  colour?: string;
  lut?: string;
  /**
   * Which original frames the output shows: `every` or a map that core reads; and the seconds by which it is longer.
   * Absent in rows from before conforms.
   */
  frameMap?: string;
  driftSeconds?: string;
  /**
   * The original's own timecode at the output's beginning: there the output's may be another. Of a part it is that of its
   * first frame.
   */
  originalTimecode?: string;
  /** The first frame of the original, from 0, that the output was made from: the frame map counts from there. Absent where it is the first of all. */
  originalFrom?: number;
  /** Where the picture lies in its raster. */
  activeArea?: string;
  state: Verdict;
  outputBytes: number;
  outputXxh3: string;
  /**
   * What it was made from and how, as a mark: another mark is another plan. Absent in rows from before runs could be
   * made again.
   */
  planMark?: string;
  /** The folder that the output's path is below: in sheets of several places. Else it is the sheet's own. */
  place?: string;
}

/** The state of an output when its line is written. */
export interface PlacedOutput {
  state: Verdict;
  frames: number;
  outputBytes: number;
  outputXxh3: string;
  originalXxh3: string;
}

function colourOf({ colour }: OutputPlan): string {
  switch (colour?.kind) {
    case 'baked':
    case 'brought':
      return `${colour.kind}: ${sayChain(colour.chain)}`;
    case 'beside':
      return `as shot; LUT: ${sayChain(colour.chain)}`;
    default:
      return 'as shot';
  }
}

// eslint-disable-next-line complexity -- a list of columns, each of which a clip may lack
export function relinkRow(plan: LegPlan, output: OutputPlan, placed: PlacedOutput, whole: string): RelinkRow {
  const { video, part } = plan.original;
  return {
    stem: plan.original.stem,
    roll: rollOf(plan.original.path, whole),
    reel: plan.corrections.identity?.reel ?? plan.original.reel ?? '',
    startTimecode: output.timecode?.start ?? '',
    frames: video ? placed.frames : 0,
    rate: video ? formatRate(output.video.rate) : '',
    rateFraction: video ? formatFraction(output.video.rate) : '',
    original: plan.original.path,
    originalBytes: plan.original.sizeBytes,
    originalFrames: part?.of ?? video?.frames ?? 0,
    ...(part ? { originalFrom: part.from } : {}),
    originalRate: video
      ? video.rateConstant
        ? formatRate(video.rate)
        : `varies, ${formatRate(video.rate)} on average`
      : '',
    originalRaster: video ? formatRaster(video.raster) : '',
    originalPixelAspect: video ? formatFraction(video.pixelAspect, ':') : '',
    originalXxh3: placed.originalXxh3,
    output: output.path,
    role: output.role,
    codec: codecRow(output.codec).name,
    raster: video ? formatRaster(output.video.raster) : '',
    pixelAspect: video ? formatFraction(output.video.pixelAspect, ':') : '',
    channelsByTrack: output.sound.tracks.map((track) => track.channels).join(' '),
    corrected: sayPlan(plan).join('. '),
    colour: colourOf(output),
    lut: output.colour?.kind === 'beside' ? output.colour.path : '',
    frameMap: output.video.map ? writeMap(output.video.map) : 'every',
    driftSeconds: (output.video.driftSeconds ?? 0).toFixed(6),
    originalTimecode: plan.original.timecode?.start ?? '',
    activeArea: output.video.geometry
      ? `${output.video.geometry.active.width}x${output.video.geometry.active.height}+${output.video.geometry.active.x}+${output.video.geometry.active.y}`
      : '',
    state: placed.state,
    outputBytes: placed.outputBytes,
    outputXxh3: placed.outputXxh3,
    planMark: planMark(plan, output),
  };
}

/**
 * What tells one original, or one part of one, from every other in a sheet: its path alone does not, for two cards that
 * were read each by itself may hold the same.
 */
export function originalKey({
  original,
  originalFrom,
  originalXxh3,
  roll,
}: Pick<RelinkRow, 'original' | 'originalFrom' | 'originalXxh3' | 'roll'>): string {
  return JSON.stringify([roll, original, originalXxh3, originalFrom ?? 0]);
}

export const columns: readonly (keyof RelinkRow)[] = [
  'stem',
  'roll',
  'reel',
  'startTimecode',
  'frames',
  'rate',
  'rateFraction',
  'original',
  'originalBytes',
  'originalFrames',
  'originalRate',
  'originalRaster',
  'originalPixelAspect',
  'originalXxh3',
  'output',
  'role',
  'codec',
  'raster',
  'pixelAspect',
  'channelsByTrack',
  'corrected',
  'colour',
  'lut',
  'frameMap',
  'driftSeconds',
  'originalTimecode',
  'originalFrom',
  'activeArea',
  'state',
  'outputBytes',
  'outputXxh3',
  'planMark',
  'place',
];

/** Columns that hold numbers written out: a minus before them begins no formula. */
const numbers: ReadonlySet<keyof RelinkRow> = new Set(['driftSeconds']);

function cell(row: RelinkRow, column: keyof RelinkRow): string {
  const value = row[column] ?? '';
  return numbers.has(column) && /^-?\d+(?:\.\d+)?$/.test(String(value)) ? String(value) : csvCell(value);
}

/** The sheet as CSV (RFC 4180, UTF-8, a header line). */
export function relinkCsv(rows: readonly RelinkRow[]): string {
  return (
    [columns.join(','), ...rows.map((row) => columns.map((column) => cell(row, column)).join(','))].join('\r\n') +
    '\r\n'
  );
}

/** The sheet as JSON; `version` changes when a field changes its meaning. */
export function relinkJson(rows: readonly RelinkRow[]): string {
  return `${JSON.stringify({ version: 1, rows }, null, 2)}\n`;
}
