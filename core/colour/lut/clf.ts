import { fail, ok, type Result } from '../../result.ts';
import type { Matrix3, Triplet } from '../matrix.ts';
import { logProblem } from '../ops/log.ts';
import type { ColourOp, ExponentStyle, LogChannel } from '../ops/op.ts';
import { descriptionsOf, readSopAndSat } from './cdlFile.ts';
import { halfToNumber } from './half.ts';
import { largest1d, largest3d, unitMax, unitMin } from './lut.ts';
import { largestText, LineProblem, numberIn, type LutFile } from './read.ts';
import { numbersIn, readXml, type XmlElement } from './xml.ts';

const again = 'Correct it, or export the file again';
/** What 1.0 is in each bit depth of S-2014-006. */
const depths: Readonly<Record<string, number>> = {
  '8i': 255,
  '10i': 1023,
  '12i': 4095,
  '16i': 65_535,
  '16f': 1,
  '32f': 1,
};

function depthOf(element: XmlElement, name: 'inBitDepth' | 'outBitDepth'): number {
  const value = element.attributes[name];
  const scale = value === undefined ? undefined : depths[value];
  if (scale === undefined)
    throw new LineProblem(
      element.line,
      value === undefined
        ? `<${element.name}> has no ${name}`
        : `${JSON.stringify(value.slice(0, 20))} is no bit depth`,
      'Bit depths are 8i, 10i, 12i, 16i, 16f and 32f',
    );
  return scale;
}

function numberAttribute(element: XmlElement, name: string): number | null {
  const value = element.attributes[name];
  return value === undefined ? null : numberIn(value.trim(), element.line);
}

function onlyChild(element: XmlElement, name: string): XmlElement {
  const [first, second] = element.children.filter((child) => child.name === name);
  if (!first) throw new LineProblem(element.line, `<${element.name}> has no <${name}>`, again);
  if (second) throw new LineProblem(second.line, `<${name}> stands there twice`, again);
  return first;
}

/** The sizes of an Array's `dim`. */
function dimensions(array: XmlElement, count: number): number[] {
  const words = (array.attributes.dim ?? '').trim().split(/\s+/);
  const sizes = words.map(Number);
  if (words.length !== count || !sizes.every((size) => Number.isInteger(size) && size > 0)) {
    throw new LineProblem(
      array.line,
      `dim="${(array.attributes.dim ?? '').slice(0, 40)}" is not ${count} whole numbers`,
      again,
    );
  }
  return sizes;
}

function arrayNumbers(array: XmlElement, count: number): number[] {
  const numbers = numbersIn(array, count, numberIn);
  if (numbers.length < count)
    throw new LineProblem(
      array.line,
      `the array ends after ${numbers.length} of ${count} numbers`,
      'It was cut short, or its size is wrong: copy or export it again',
    );
  return numbers;
}

function readMatrix(element: XmlElement): ColourOp {
  const [from, to] = [depthOf(element, 'inBitDepth'), depthOf(element, 'outBitDepth')];
  const array = onlyChild(element, 'Array');
  const words = (array.attributes.dim ?? '').trim().split(/\s+/).length;
  const [rows = 0, columns = 0] = dimensions(array, words === 3 ? 3 : 2);
  if (rows !== 3 || (columns !== 3 && columns !== 4))
    throw new LineProblem(
      array.line,
      `a matrix of ${rows} × ${columns} is not read`,
      'Matrices are 3 × 3, or 3 × 4 with offsets',
    );
  const n = arrayNumbers(array, rows * columns);
  const k = from / to;
  const cell = (row: number, column: number): number => (n[row * columns + column] as number) * k;
  const offset = (row: number): number => (columns === 4 ? (n[row * 4 + 3] as number) / to : 0);
  const matrix: Matrix3 = [
    cell(0, 0),
    cell(0, 1),
    cell(0, 2),
    cell(1, 0),
    cell(1, 1),
    cell(1, 2),
    cell(2, 0),
    cell(2, 1),
    cell(2, 2),
  ];
  return { op: 'matrix', matrix, offset: [offset(0), offset(1), offset(2)] };
}

function readRange(element: XmlElement): ColourOp[] {
  const [from, to] = [depthOf(element, 'inBitDepth'), depthOf(element, 'outBitDepth')];
  const bound = (name: string, scale: number): number | null => {
    const child = element.children.find((one) => one.name === name);
    if (!child) return null;
    const [value, ...more] = numbersIn(child, 2, numberIn);
    if (value === undefined || more.length > 0) throw new LineProblem(child.line, `<${name}> takes one number`, again);
    return value / scale;
  };
  const [minIn, maxIn, minOut, maxOut] = [
    bound('minInValue', from),
    bound('maxInValue', from),
    bound('minOutValue', to),
    bound('maxOutValue', to),
  ];
  if ((minIn === null) !== (minOut === null))
    throw new LineProblem(element.line, 'a Range has minInValue and minOutValue both, or neither', again);
  if ((maxIn === null) !== (maxOut === null))
    throw new LineProblem(element.line, 'a Range has maxInValue and maxOutValue both, or neither', again);
  const style = element.attributes.style ?? 'Clamp';
  if (!/^(no)?clamp$/i.test(style))
    throw new LineProblem(
      element.line,
      `style ${JSON.stringify(style.slice(0, 30))} of a Range is not known`,
      'Styles are Clamp and noClamp',
    );
  const clamps = /^clamp$/i.test(style);
  let scale = 1;
  let offset = 0;
  if (minIn !== null && maxIn !== null && minOut !== null && maxOut !== null) {
    if (!(maxIn > minIn)) throw new LineProblem(element.line, 'maxInValue must lie above minInValue', again);
    if (!(maxOut > minOut)) throw new LineProblem(element.line, 'maxOutValue must lie above minOutValue', again);
    scale = (maxOut - minOut) / (maxIn - minIn);
    offset = minOut - minIn * scale;
  } else {
    if (!clamps) throw new LineProblem(element.line, 'a Range that does not clamp needs all four values', again);
    if (minIn !== null && minOut !== null) offset = minOut - minIn;
    else if (maxIn !== null && maxOut !== null) offset = maxOut - maxIn;
    else throw new LineProblem(element.line, 'a Range without values does nothing', again);
  }
  return [{ op: 'range', scale, offset, min: clamps ? minOut : null, max: clamps ? maxOut : null }];
}

/** Parameters for each channel: those without one are for all, those with one for theirs. */
function byChannel(element: XmlElement, name: string): [XmlElement | null, XmlElement | null, XmlElement | null] {
  const found = element.children.filter((child) => child.name === name);
  const of = (channel: string): XmlElement | null =>
    found.find((child) => child.attributes.channel === channel) ??
    found.find((child) => child.attributes.channel === undefined) ??
    null;
  const odd = found.find(
    (child) => child.attributes.channel !== undefined && !/^[RGB]$/.test(child.attributes.channel),
  );
  if (odd)
    throw new LineProblem(
      odd.line,
      `channel ${JSON.stringify((odd.attributes.channel ?? '').slice(0, 20))} is not known`,
      'Channels are R, G and B',
    );
  return [of('R'), of('G'), of('B')];
}

function readLog(element: XmlElement): ColourOp {
  const style = element.attributes.style ?? '';
  const plain: LogChannel = {
    base: 2,
    linSideSlope: 1,
    linSideOffset: 0,
    logSideSlope: 1,
    logSideOffset: 0,
    linSideBreak: null,
    linearSlope: null,
  };
  const all = (channel: LogChannel): readonly [LogChannel, LogChannel, LogChannel] => [channel, channel, channel];
  switch (style) {
    case 'log10':
      return { op: 'log', to: 'log', channels: all({ ...plain, base: 10 }) };
    case 'antiLog10':
      return { op: 'log', to: 'linear', channels: all({ ...plain, base: 10 }) };
    case 'log2':
      return { op: 'log', to: 'log', channels: all(plain) };
    case 'antiLog2':
      return { op: 'log', to: 'linear', channels: all(plain) };
    case 'linToLog':
    case 'logToLin':
    case 'cameraLinToLog':
    case 'cameraLogToLin': {
      const camera = style.startsWith('camera');
      const channels = byChannel(element, 'LogParams').map((params): LogChannel => {
        if (!params) throw new LineProblem(element.line, `style ${style} needs <LogParams>`, again);
        const get = (name: keyof LogChannel): number | null => numberAttribute(params, name);
        const linSideBreak = camera ? get('linSideBreak') : null;
        if (camera && linSideBreak === null)
          throw new LineProblem(params.line, `style ${style} needs linSideBreak`, again);
        const channel: LogChannel = {
          base: get('base') ?? 2,
          linSideSlope: get('linSideSlope') ?? 1,
          linSideOffset: get('linSideOffset') ?? 0,
          logSideSlope: get('logSideSlope') ?? 1,
          logSideOffset: get('logSideOffset') ?? 0,
          linSideBreak,
          linearSlope: camera ? get('linearSlope') : null,
        };
        const problem = logProblem(channel);
        if (problem) throw new LineProblem(params.line, problem, again);
        return channel;
      }) as [LogChannel, LogChannel, LogChannel];
      return { op: 'log', to: style.endsWith('LinToLog') || style === 'linToLog' ? 'log' : 'linear', channels };
    }
    default:
      throw new LineProblem(
        element.line,
        `style ${JSON.stringify(style.slice(0, 30))} of a Log is not known`,
        'Styles are log10, antiLog10, log2, antiLog2, linToLog, logToLin, cameraLinToLog and cameraLogToLin',
      );
  }
}

function readExponent(element: XmlElement): ColourOp {
  const match = /^(basic|basicMirror|basicPassThru|monCurve|monCurveMirror)(Fwd|Rev)$/.exec(
    element.attributes.style ?? '',
  );
  if (!match)
    throw new LineProblem(
      element.line,
      `style ${JSON.stringify((element.attributes.style ?? '').slice(0, 30))} of an Exponent is not known`,
      'Styles are basic, basicMirror, basicPassThru, monCurve and monCurveMirror, each with Fwd or Rev',
    );
  const params = byChannel(element, 'ExponentParams');
  const value = (name: string, fallback: number | null) =>
    params.map((one) => {
      const given = one ? numberAttribute(one, name) : (fallback ?? 1);
      if (given === null && fallback === null) throw new LineProblem(element.line, `an Exponent needs ${name}`, again);
      return given ?? (fallback as number);
    }) as unknown as Triplet;
  const exponent = value('exponent', null);
  const offset = value('offset', 0).map((one, c) => (params[c] ? one : 0)) as unknown as Triplet;
  if (!exponent.every((one) => one >= 0.01 && one <= 100))
    throw new LineProblem(element.line, 'an exponent lies outside 0.01–100', again);
  const monCurve = match[1]?.startsWith('monCurve');
  if (monCurve && !(exponent.every((one) => one >= 1 && one <= 10) && offset.every((one) => one >= 0 && one <= 0.9)))
    throw new LineProblem(element.line, 'a monCurve takes exponents of 1–10 and offsets of 0–0.9', again);
  if (!params.some(Boolean)) throw new LineProblem(element.line, '<Exponent> has no <ExponentParams>', again);
  return { op: 'exponent', style: match[1] as ExponentStyle, reverse: match[2] === 'Rev', exponent, offset };
}

function readCdl(element: XmlElement): ColourOp {
  const style = (element.attributes.style ?? 'Fwd').toLowerCase();
  const known: Readonly<Record<string, { reverse: boolean; clamp: boolean }>> = {
    fwd: { reverse: false, clamp: true },
    rev: { reverse: true, clamp: true },
    fwdnoclamp: { reverse: false, clamp: false },
    revnoclamp: { reverse: true, clamp: false },
    'v1.2_fwd': { reverse: false, clamp: true },
    'v1.2_rev': { reverse: true, clamp: true },
    noclampfwd: { reverse: false, clamp: false },
    noclamprev: { reverse: true, clamp: false },
  };
  const how = known[style];
  if (!how)
    throw new LineProblem(
      element.line,
      `style ${JSON.stringify(style.slice(0, 30))} of an ASC_CDL is not known`,
      'Styles are Fwd, Rev, FwdNoClamp and RevNoClamp',
    );
  return { op: 'cdl', cdl: readSopAndSat(element), ...how };
}

function notIndexed(element: XmlElement): void {
  const map = element.children.find((child) => child.name === 'IndexMap');
  if (map)
    throw new LineProblem(
      map.line,
      'an IndexMap is not read',
      'Export the file as CLF 3, where a Range before the LUT does its work',
    );
}

function readLut1d(element: XmlElement): ColourOp {
  notIndexed(element);
  const scale = depthOf(element, 'outBitDepth');
  const array = onlyChild(element, 'Array');
  const [size = 0, channels = 0] = dimensions(array, 2);
  const halfDomain = element.attributes.halfDomain === 'true';
  const rawHalfs = element.attributes.rawHalfs === 'true';
  if (channels !== 1 && channels !== 3)
    throw new LineProblem(
      array.line,
      `a table of ${channels} channels is not read`,
      'Tables have one channel or three',
    );
  if (size < 2 || size > largest1d)
    throw new LineProblem(
      array.line,
      `a table of ${size} entries is not read`,
      `Tables have 2 to ${largest1d} entries`,
    );
  if (halfDomain && size !== largest1d)
    throw new LineProblem(array.line, `a half-domain table has ${largest1d} entries, not ${size}`, again);
  const n = arrayNumbers(array, size * channels);
  const values = new Float32Array(size * 3);
  for (let i = 0; i < size; i += 1) {
    for (let c = 0; c < 3; c += 1) {
      const raw = n[i * channels + (channels === 3 ? c : 0)] as number;
      const value = rawHalfs ? halfToNumber(raw & 0xffff) : raw / scale;
      if (rawHalfs && (!Number.isInteger(raw) || raw < 0 || raw > 65_535))
        throw new LineProblem(array.line, `${raw} is no raw half`, again);
      // Entries for infinities and NaNs in the domain are never asked for.
      values[i * 3 + c] = Number.isFinite(value) ? value : 0;
    }
  }
  return { op: 'lut1d', reverse: false, lut: { size, values, domainMin: unitMin, domainMax: unitMax, halfDomain } };
}

function readLut3d(element: XmlElement): ColourOp {
  notIndexed(element);
  const scale = depthOf(element, 'outBitDepth');
  const array = onlyChild(element, 'Array');
  const [r = 0, g = 0, b = 0, channels = 0] = dimensions(array, 4);
  if (r !== g || g !== b || channels !== 3)
    throw new LineProblem(
      array.line,
      `dim="${array.attributes.dim ?? ''}" is no cube of three channels`,
      'The three edges are equally long',
    );
  if (r < 2 || r > largest3d)
    throw new LineProblem(array.line, `a cube of ${r} points an edge is not read`, `Cubes have 2 to ${largest3d}`);
  const interpolation = element.attributes.interpolation ?? 'trilinear';
  if (interpolation !== 'trilinear' && interpolation !== 'tetrahedral')
    throw new LineProblem(
      element.line,
      `interpolation ${JSON.stringify(interpolation.slice(0, 30))} is not known`,
      'It is trilinear or tetrahedral',
    );
  const n = arrayNumbers(array, r ** 3 * 3);
  const values = new Float32Array(n.length);
  // CLF has blue fastest; ours has red fastest.
  for (let x = 0, from = 0; x < r; x += 1) {
    for (let y = 0; y < r; y += 1) {
      for (let z = 0; z < r; z += 1, from += 3) {
        const to = (x + r * (y + r * z)) * 3;
        for (let c = 0; c < 3; c += 1) values[to + c] = (n[from + c] as number) / scale;
      }
    }
  }
  return {
    op: 'lut3d',
    reverse: false,
    interpolation,
    lut: { size: r, values, domainMin: unitMin, domainMax: unitMax },
  };
}

const readers: Readonly<Record<string, (element: XmlElement) => ColourOp | ColourOp[]>> = {
  Matrix: readMatrix,
  Range: readRange,
  Log: readLog,
  Exponent: readExponent,
  ASC_CDL: readCdl,
  LUT1D: readLut1d,
  LUT3D: readLut3d,
};
const silent = new Set(['Description', 'InputDescriptor', 'OutputDescriptor', 'Info']);

/**
 * Reads a .clf file (Academy S-2014-006, versions 2 and 3). Values are normalised: 1.0 is full scale of whatever bit
 * depth it states.
 */
export function readClf(text: string): Result<LutFile> {
  if (text.length > largestText) return fail('the file is too large for a LUT', 'Make it again with fewer points');
  try {
    const root = readXml(text);
    if (root.name !== 'ProcessList')
      return fail(`line ${root.line}: <${root.name.slice(0, 60)}> is no ProcessList`, 'Give a .clf file');
    const version = root.attributes.compCLFversion;
    if (version !== undefined && !/^[23](\.\d+)?$/.test(version.trim()))
      return fail(`line ${root.line}: CLF version ${version.slice(0, 20)} is not known`, 'Export it as version 2 or 3');
    const ops: ColourOp[] = [];
    const warnings: string[] = [];
    for (const child of root.children) {
      const reader = Object.hasOwn(readers, child.name) ? readers[child.name] : undefined;
      if (reader) {
        if (ops.length >= 200) throw new LineProblem(child.line, 'there are more than 200 steps', 'Bake them to fewer');
        if (child.attributes.bypass === 'true') warnings.push(`line ${child.line}: ${child.name} is bypassed`);
        else ops.push(...[reader(child)].flat());
      } else if (!silent.has(child.name))
        throw new LineProblem(
          child.line,
          `<${child.name.slice(0, 60)}> is no step of CLF that is read`,
          `Steps are ${Object.keys(readers).join(', ')}`,
        );
    }
    if (root.children.every((child) => silent.has(child.name)))
      return fail('there is no step in it', 'Export the file again');
    return ok({
      format: 'clf',
      title: root.attributes.name ?? root.attributes.id ?? null,
      notes: descriptionsOf(root),
      warnings,
      ops,
    });
  } catch (error) {
    if (error instanceof LineProblem) return { ok: false, problem: error.problem };
    throw error;
  }
}
