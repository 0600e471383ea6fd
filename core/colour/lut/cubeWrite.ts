import type { Lut1d, Lut3d } from './lut.ts';

/**
 * Seven decimals lie below single precision's own steps from 0.5 on; what is much larger or smaller keeps seven digits.
 */
function said(value: number): string {
  const size = Math.abs(value);
  if (size >= 100 || (size < 1e-4 && size !== 0)) return String(Number(value.toPrecision(8)));
  // By whole numbers: a third of the time of toFixed, and a cube has a hundred thousand of these.
  const tenMillionths = Math.round(size * 1e7);
  const whole = Math.floor(tenMillionths / 1e7);
  return `${value < 0 ? '-' : ''}${whole}.${String(tenMillionths - whole * 1e7).padStart(7, '0')}`;
}

/** Rows as one text: there may be more than a call takes arguments. */
function rowsOf(values: Float32Array): string {
  const rows: string[] = [];
  for (let i = 0; i < values.length; i += 3)
    rows.push(`${said(values[i] as number)} ${said(values[i + 1] as number)} ${said(values[i + 2] as number)}`);
  return rows.join('\n');
}

function domainLines({ domainMin, domainMax }: Lut1d | Lut3d): string[] {
  const usual = domainMin.every((value) => value === 0) && domainMax.every((value) => value === 1);
  return usual ? [] : [`DOMAIN_MIN ${domainMin.map(said).join(' ')}`, `DOMAIN_MAX ${domainMax.map(said).join(' ')}`];
}

/**
 * A .cube file (Cube LUT Specification 1.0): a table, a cube, or both. With both, the table's domain must be the same
 * in all channels, and the cube's 0–1, since the form has one range for each.
 * @throws RangeError for a half-domain table, or a domain that the form cannot say
 */
export function writeCube(content: { table?: Lut1d; cube?: Lut3d; title?: string; notes?: readonly string[] }): string {
  const { table, cube, title, notes = [] } = content;
  if (table?.halfDomain) throw new RangeError('a half-domain table has no place in a .cube file');
  const lines = notes.map((note) => `# ${note.replaceAll(/[\r\n]+/g, ' ')}`);
  const called = title?.replaceAll(/["\r\n]+/g, ' ');
  // The form with both has no place for a title that every reader takes: it stands among the notes.
  if (called) lines.push(table && cube ? `# ${called}` : `TITLE "${called}"`);
  if (table && cube) {
    const same =
      new Set(table.domainMin).size === 1 &&
      new Set(table.domainMax).size === 1 &&
      new Set(cube.domainMin).size === 1 &&
      new Set(cube.domainMax).size === 1;
    if (!same) throw new RangeError('a table before a cube needs one domain for all channels');
    lines.push(
      `LUT_1D_SIZE ${table.size}`,
      `LUT_1D_INPUT_RANGE ${said(table.domainMin[0])} ${said(table.domainMax[0])}`,
      `LUT_3D_SIZE ${cube.size}`,
      `LUT_3D_INPUT_RANGE ${said(cube.domainMin[0])} ${said(cube.domainMax[0])}`,
      rowsOf(table.values),
      rowsOf(cube.values),
    );
  } else if (table) lines.push(`LUT_1D_SIZE ${table.size}`, ...domainLines(table), rowsOf(table.values));
  else if (cube) lines.push(`LUT_3D_SIZE ${cube.size}`, ...domainLines(cube), rowsOf(cube.values));
  return `${lines.join('\n')}\n`;
}
