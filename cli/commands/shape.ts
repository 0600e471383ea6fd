import { stepsNamed } from '@relay/core/recipe/codecs';
import { barsOf, planGeometry, sayStages } from '@relay/core/shape/geometry';
import { exactShares, padColours, type PadColour, type RasterWish } from '@relay/core/shape/intoRaster';
import { anchors, type Anchor, type Crop } from '@relay/core/shape/window';
import { formatSqueeze, parsePixelAspect, parseSqueeze } from '@relay/core/shape/pixelAspects';
import { formatRaster, type Raster } from '@relay/core/shape/raster';
import type { Result } from '@relay/core/result';
import { rational, toNumber } from '@relay/core/time/rational';
import { Misuse, printJson } from './output.ts';

function rasterOf(text: string, option: string): Raster {
  const sides = /^\s*(\d{1,5})\s*[x×]\s*(\d{1,5})\s*$/i.exec(text);
  const raster = { width: Number(sides?.[1] ?? 0), height: Number(sides?.[2] ?? 0) };
  if (raster.width < 1 || raster.height < 1 || raster.width > 32_768 || raster.height > 32_768)
    throw new Misuse(`${option} needs a raster such as 1920x1080`);
  return raster;
}

function chosen<T extends string>(value: string | undefined, all: readonly T[], option: string, none: T): T {
  if (value === undefined) return none;
  const wanted = value.replaceAll('-', ' ').toLowerCase();
  const found = all.find((one) => one === wanted);
  if (!found) throw new Misuse(`${option} is one of ${all.join(', ')}`);
  return found;
}

function good<T>(result: Result<T>): T {
  if (!result.ok) throw new Misuse(`${result.problem.what}. ${result.problem.remedy}`);
  return result.value;
}

function cropOf(text: string): Crop {
  const sides = text.split(',').map(Number);
  if (sides.length !== 4 || sides.some((side) => !Number.isInteger(side) || side < 0))
    throw new Misuse('--crop takes four numbers: left,top,right,bottom');
  const [left, top, right, bottom] = sides as [number, number, number, number];
  return { left, top, right, bottom };
}

const fits = ['fit', 'pad', 'fill', 'cut', 'crop'] as const;

export interface ShapeOptions {
  raster: string;
  par?: string;
  squeeze?: string;
  crop?: string;
  turn?: string;
  square?: string;
  fit?: string;
  to?: string;
  anchor?: string;
  colour?: string;
  enlarge?: boolean;
  fields?: boolean;
  codec?: string;
  json?: boolean;
}

/**
 * `relay shape --raster WxH [--par N:D] [--squeeze X] [--crop L,T,R,B] [--turn DEG] [--fit KIND] [--to WxH] [--codec
 * NAME] --json`.
 */
// eslint-disable-next-line complexity -- one branch for each option that may be given
export function shapeCommand(values: ShapeOptions): number {
  const raster = rasterOf(values.raster, '--raster');
  const codec = stepsNamed(values.codec ?? 'none');
  if (!codec)
    throw new Misuse(
      `${values.codec} is no codec here: prores-proxy, prores-lt, prores-422, prores-hq, prores-4444, prores-4444xq, h264, or a sampling such as 4:2:2`,
    );
  const kind = chosen(values.fit, fits, '--fit', 'fit');
  if (values.fit && !values.to) throw new Misuse('--fit needs --to WxH');
  const turn = values.turn === undefined ? 0 : Number(values.turn);
  if (![0, 90, 180, 270].includes(turn)) throw new Misuse('--turn is 0, 90, 180 or 270');
  const to = values.to ? rasterOf(values.to, '--to') : null;
  const anchor: Anchor = chosen(values.anchor, anchors, '--anchor', 'centre');
  const colour: PadColour = chosen(values.colour, padColours, '--colour', 'black');
  const enlarge = values.enlarge ?? false;
  const wish: RasterWish = !to
    ? { kind: 'source' }
    : kind === 'fit'
      ? { kind, ...to, enlarge }
      : kind === 'pad'
        ? { kind, ...to, enlarge, anchor, colour }
        : kind === 'fill'
          ? { kind, ...to, enlarge, anchor }
          : { kind: 'cut', ...to, anchor, colour };
  const pixelAspect = values.par ? good(parsePixelAspect(values.par)) : rational(1);
  const squeeze = values.squeeze ? good(parseSqueeze(values.squeeze)) : null;
  const square = values.square
    ? chosen(values.square, ['columns', 'rows', 'keep'] as const, '--square', 'columns')
    : null;
  const geometry = good(
    planGeometry(
      { raster, pixelAspect, quarterTurns: 0 },
      {
        ...(squeeze ? { squeeze } : {}),
        ...(values.crop ? { crop: cropOf(values.crop) } : {}),
        ...(turn ? { turn: { quarters: turn / 90, across: false, down: false } } : {}),
        ...(square ? { square } : {}),
      },
      wish,
      codec.steps,
      values.fields ?? false,
    ),
  );
  const shares = exactShares(geometry.raster, codec.steps);
  if (values.json) {
    printJson({
      ...geometry,
      codec: codec.name,
      squeeze,
      bars: barsOf(geometry),
      displayAspect: geometry.stages.at(-1)?.displayAspect,
      exactShares: shares,
    });
    return 0;
  }
  const error = geometry.aspectError;
  process.stdout.write(
    [
      `${squeeze ? `Squeeze ${formatSqueeze(squeeze)}×: ` : ''}${sayStages(geometry)}`,
      ...geometry.stages.map(
        (stage) =>
          `  ${stage.name}: ${formatRaster(stage.raster)}, pixels ${stage.pixelAspect.num}:${stage.pixelAspect.den}, shown ${toNumber(stage.displayAspect).toFixed(4)}:1`,
      ),
      Math.abs(error) < 1e-9
        ? 'Shape exact'
        : `Shape ${(Math.abs(error) * 100).toFixed(4)} % too ${error > 0 ? 'wide' : 'narrow'}, since ${codec.name} holds whole samples only`,
      ...(shares.length > 0
        ? [`Exact smaller sizes: ${shares.map((share) => `1/${share.of} ${formatRaster(share.raster)}`).join(', ')}`]
        : []),
    ].join('\n') + '\n',
  );
  return 0;
}
