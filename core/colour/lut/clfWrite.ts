import type { Triplet } from '../matrix.ts';
import type { Cdl, ColourOp, LogChannel } from '../ops/op.ts';

function xml(text: string): string {
  return text.replaceAll('&', '&amp;').replaceAll('<', '&lt;').replaceAll('>', '&gt;').replaceAll('"', '&quot;');
}

function said(value: number): string {
  return String(Number(value.toPrecision(9)));
}

const ends = 'inBitDepth="32f" outBitDepth="32f"';
const row = (values: ArrayLike<number>, from: number, count: number): string =>
  Array.from({ length: count }, (_, i) => said(values[from + i] as number)).join(' ');

function sopLines({ slope, offset, power, saturation }: Cdl, indent: string): string[] {
  const three = (values: Triplet): string => values.map(said).join(' ');
  return [
    `${indent}<SOPNode>`,
    `${indent}  <Slope>${three(slope)}</Slope>`,
    `${indent}  <Offset>${three(offset)}</Offset>`,
    `${indent}  <Power>${three(power)}</Power>`,
    `${indent}</SOPNode>`,
    `${indent}<SatNode>`,
    `${indent}  <Saturation>${said(saturation)}</Saturation>`,
    `${indent}</SatNode>`,
  ];
}

function logLines(to: 'log' | 'linear', channels: readonly [LogChannel, LogChannel, LogChannel]): string[] {
  const camera = channels.some((channel) => channel.linSideBreak !== null);
  const style = `${camera ? 'cameraL' : 'l'}${to === 'log' ? 'inToLog' : 'ogToLin'}`;
  return [
    `  <Log ${ends} style="${style}">`,
    ...channels.map(
      (p, c) =>
        `    <LogParams channel="${'RGB'[c]}" base="${said(p.base)}" linSideSlope="${said(p.linSideSlope)}" linSideOffset="${said(p.linSideOffset)}" logSideSlope="${said(p.logSideSlope)}" logSideOffset="${said(p.logSideOffset)}"${camera ? ` linSideBreak="${said(p.linSideBreak ?? 0)}"` : ''}${p.linearSlope !== null ? ` linearSlope="${said(p.linearSlope)}"` : ''}/>`,
    ),
    '  </Log>',
  ];
}

// eslint-disable-next-line complexity -- one branch for each kind of step that the format has
function opLines(op: ColourOp): string[] {
  switch (op.op) {
    case 'matrix': {
      const m = op.matrix;
      const rows = [0, 1, 2].map((r) => `      ${row(m, r * 3, 3)} ${said(op.offset[r as 0 | 1 | 2])}`);
      return [`  <Matrix ${ends}>`, '    <Array dim="3 4">', ...rows, '    </Array>', '  </Matrix>'];
    }
    case 'range': {
      const bound = (name: string, value: number): string => `    <${name}>${said(value)}</${name}>`;
      // Any two points say a scale and an offset; where it clamps, its bounds are those points.
      const low = op.min ?? (op.max === null ? op.offset : null);
      const high = op.max ?? (op.min === null ? op.scale + op.offset : null);
      const pair = (name: string, out: number | null): string[] =>
        out === null ? [] : [bound(`${name}InValue`, (out - op.offset) / op.scale), bound(`${name}OutValue`, out)];
      return [
        `  <Range ${ends}${op.min === null && op.max === null ? ' style="noClamp"' : ''}>`,
        ...pair('min', low),
        ...pair('max', high),
        '  </Range>',
      ];
    }
    case 'log':
      return logLines(op.to, op.channels);
    case 'exponent':
      return [
        `  <Exponent ${ends} style="${op.style}${op.reverse ? 'Rev' : 'Fwd'}">`,
        ...op.exponent.map(
          (exponent, c) =>
            `    <ExponentParams channel="${'RGB'[c]}" exponent="${said(exponent)}"${op.style.startsWith('monCurve') ? ` offset="${said(op.offset[c as 0 | 1 | 2])}"` : ''}/>`,
        ),
        '  </Exponent>',
      ];
    case 'cdl':
      return [
        `  <ASC_CDL ${ends} style="${op.reverse ? 'Rev' : 'Fwd'}${op.clamp ? '' : 'NoClamp'}">`,
        ...sopLines(op.cdl, '    '),
        '  </ASC_CDL>',
      ];
    case 'lut1d': {
      if (op.reverse) throw new RangeError('an inverted table is written as a table of its own first');
      const { size, values, halfDomain } = op.lut;
      const rows = Array.from({ length: size }, (_, i) => `      ${row(values, i * 3, 3)}`);
      return [
        ...domainLines(op.lut),
        `  <LUT1D ${ends}${halfDomain ? ' halfDomain="true"' : ''}>`,
        `    <Array dim="${size} 3">`,
        rows.join('\n'),
        '    </Array>',
        '  </LUT1D>',
      ];
    }
    case 'lut3d': {
      if (op.reverse) throw new RangeError('an inverted cube is written as a cube of its own first');
      const { size, values } = op.lut;
      const rows: string[] = [];
      for (let r = 0; r < size; r += 1)
        for (let g = 0; g < size; g += 1)
          for (let b = 0; b < size; b += 1) rows.push(`      ${row(values, (r + size * (g + size * b)) * 3, 3)}`);
      return [
        ...domainLines(op.lut),
        `  <LUT3D ${ends} interpolation="${op.interpolation}">`,
        `    <Array dim="${size} ${size} ${size} 3">`,
        rows.join('\n'),
        '    </Array>',
        '  </LUT3D>',
      ];
    }
    case 'curve':
    case 'rendering':
      throw new RangeError('a published curve or a rendering is baked before it is written');
  }
}

/** A table's or cube's domain of its own, as the matrix that CLF wants before it. */
function domainLines({
  domainMin,
  domainMax,
  ...rest
}: {
  domainMin: readonly [number, number, number];
  domainMax: readonly [number, number, number];
  halfDomain?: boolean;
}): string[] {
  if (rest.halfDomain || (domainMin.every((value) => value === 0) && domainMax.every((value) => value === 1)))
    return [];
  const k = domainMin.map((min, c) => 1 / ((domainMax[c] as number) - min));
  const [x, y, z] = k as [number, number, number];
  return opLines({
    op: 'matrix',
    matrix: [x, 0, 0, 0, y, 0, 0, 0, z],
    offset: [-domainMin[0] * x, -domainMin[1] * y, -domainMin[2] * z],
  });
}

/**
 * A .clf file (Academy S-2014-006, version 3) of steps.
 * @throws RangeError for steps that CLF has no word for: bake those first
 */
export function writeClf(
  ops: readonly ColourOp[],
  about: { id: string; name: string; notes?: readonly string[] },
): string {
  return [
    '<?xml version="1.0" encoding="UTF-8"?>',
    `<ProcessList compCLFversion="3.0" id="${xml(about.id)}" name="${xml(about.name)}">`,
    ...(about.notes ?? []).map((note) => `  <Description>${xml(note)}</Description>`),
    ...ops.map((op) => opLines(op).join('\n')),
    '</ProcessList>',
    '',
  ].join('\n');
}

/** A .cc, .ccc or .cdl file (ASC CDL v1.2) of corrections. */
export function writeCdlFile(kind: 'cc' | 'ccc' | 'cdl', corrections: readonly { id: string; cdl: Cdl }[]): string {
  const space = ' xmlns="urn:ASC:CDL:v1.2"';
  const one = ({ id, cdl }: { id: string; cdl: Cdl }, indent: string, own: string): string[] => [
    `${indent}<ColorCorrection id="${xml(id)}"${own}>`,
    ...sopLines(cdl, `${indent}  `),
    `${indent}</ColorCorrection>`,
  ];
  const body = (): string[] => {
    switch (kind) {
      case 'cc':
        return one(
          corrections[0] ?? {
            id: 'none',
            cdl: { slope: [1, 1, 1], offset: [0, 0, 0], power: [1, 1, 1], saturation: 1 },
          },
          '',
          space,
        );
      case 'ccc':
        return [
          `<ColorCorrectionCollection${space}>`,
          ...corrections.flatMap((each) => one(each, '  ', '')),
          '</ColorCorrectionCollection>',
        ];
      case 'cdl':
        return [
          `<ColorDecisionList${space}>`,
          ...corrections.flatMap((each) => ['  <ColorDecision>', ...one(each, '    ', ''), '  </ColorDecision>']),
          '</ColorDecisionList>',
        ];
    }
  };
  return ['<?xml version="1.0" encoding="UTF-8"?>', ...body(), ''].join('\n');
}
