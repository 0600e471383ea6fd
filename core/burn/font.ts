/**
 * The font that burn-ins are drawn with, Spline Sans Mono 600: every character as wide as any other. Measures are parts
 * of the font size, measured from FFmpeg's drawing of it at 100: M 0…57 wide 60 apart; Å 96 above the baseline, g 22
 * below.
 */
export const burnFont = { family: 'Spline Sans Mono', weight: 600, advance: 0.6, above: 1, below: 0.3 } as const;

/** Sizes are multiples of this, so that a character is a whole number of samples wide and runs join without gaps. */
export const sizeStep = 5;

/** What the font's two files hold, as the package that ships them states it. */
const ranges = {
  latin: [
    [0x20, 0x7e],
    [0xa0, 0xff],
    [0x131, 0x131],
    [0x152, 0x153],
    [0x2bb, 0x2bc],
    [0x2c6, 0x2c6],
    [0x2da, 0x2da],
    [0x2dc, 0x2dc],
    [0x2010, 0x2027],
    [0x2030, 0x205e],
    [0x20ac, 0x20ac],
    [0x2122, 0x2122],
    [0x2191, 0x2191],
    [0x2193, 0x2193],
    [0x2212, 0x2212],
    [0x2215, 0x2215],
  ],
  'latin-ext': [
    [0x100, 0x2ba],
    [0x2bd, 0x2c5],
    [0x1e00, 0x1e9f],
    [0x1ef2, 0x1eff],
    [0x20a0, 0x20ab],
    [0x20ad, 0x20c0],
    [0x2113, 0x2113],
  ],
} as const;
export type FontFile = keyof typeof ranges;
export const fontFiles = Object.keys(ranges) as FontFile[];

/** The file that holds a character; null where none does. */
export function fontFileOf(character: string): FontFile | null {
  const code = character.codePointAt(0) ?? 0;
  return fontFiles.find((file) => ranges[file].some(([from, to]) => code >= from && code <= to)) ?? null;
}

/** Text as it can be drawn, one cell for each character: marks joined to their letters, what the font lacks as `?`. */
export function drawable(text: string): string {
  return [
    ...text
      .normalize('NFC')
      .replace(/\p{M}+/gu, '')
      .replace(/[\p{Cc}\p{Cf}]+/gu, ' '),
  ]
    .map((character) => (fontFileOf(character) ? character : '?'))
    .join('');
}
