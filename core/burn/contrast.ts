/** How opaque plates are: what lies below shines through by the rest. */
export const plateStrength = 0.7;

/** The contrast that text keeps on its plate, over any picture: WCAG 2, 1.4.3 (AA). */
export const leastContrast = 4.5;

/**
 * The brightest that a legal-range picture's code can be, in parts of reference white: 254 of 8 bits (BT.709: 235 is
 * white).
 */
const brightestCode = (254 - 16) / 219;

/**
 * Code of the text, from 0 (black) to 1 (legal white): reference white of 203 cd/m² in HDR (ITU-R BT.2408: 0.58 in PQ,
 * 0.75 in HLG).
 */
export function textCode(transfer: string | null): number {
  return transfer === 'smpte2084' ? 0.58 : transfer === 'arib-std-b67' ? 0.75 : 1;
}

/** SMPTE ST 2084: cd/m² of a code. */
function pqLight(code: number): number {
  const [m1, m2, c1, c2, c3] = [2610 / 16384, (2523 / 4096) * 128, 3424 / 4096, (2413 / 4096) * 32, (2392 / 4096) * 32];
  const p = Math.max(0, code) ** (1 / m2);
  return 10_000 * (Math.max(0, p - c1) / (c2 - c3 * p)) ** (1 / m1);
}

/** Relative luminance of a grey code, 0 to 1 of legal white, on the display it is made for; 1 is that of text. */
export function relativeLight(code: number, transfer: string | null): number {
  if (transfer === 'smpte2084') return pqLight(code) / pqLight(textCode(transfer));
  // BT.2100 HLG: scene light by the inverse OETF, then the display's gamma of 1.2.
  if (transfer === 'arib-std-b67') {
    const scene = (v: number): number =>
      v <= 0.5 ? (v * v) / 3 : (Math.exp((v - 0.55991073) / 0.17883277) + 0.28466892) / 12;
    return (scene(code) / scene(textCode(transfer))) ** 1.2;
  }
  // Displays of BT.1886 have 2.4; 2.2 is what desktop players do, and gives less contrast.
  return code ** 2.2;
}

/**
 * Contrast of text on a plate over the brightest picture there can be, (L1 + 0.05) / (L2 + 0.05) as WCAG 2 defines it.
 */
export function plateContrast(transfer: string | null, strength = plateStrength): number {
  // PQ and HLG codes above 1 would be outside of what the curves are defined for.
  const brightest = transfer === 'smpte2084' || transfer === 'arib-std-b67' ? 1 : brightestCode;
  return 1.05 / (relativeLight(brightest * (1 - strength), transfer) + 0.05);
}
