/**
 * S-Log3, as published in the technical summary for S-Gamut3.Cine/S-Log3 and S-Gamut3/S-Log3 (2014).
 * Scene reflection (0.18 is mid grey) ↔ code value as a share of 1023, full range of the 10-bit code.
 */
export function slog3FromLinear(reflection: number): number {
  return reflection >= 0.01125
    ? (420 + Math.log10((reflection + 0.01) / (0.18 + 0.01)) * 261.5) / 1023
    : ((reflection * (171.2102946929 - 95)) / 0.01125 + 95) / 1023;
}

export function linearFromSlog3(code: number): number {
  return code >= 171.2102946929 / 1023
    ? 10 ** ((code * 1023 - 420) / 261.5) * (0.18 + 0.01) - 0.01
    : ((code * 1023 - 95) * 0.01125) / (171.2102946929 - 95);
}
