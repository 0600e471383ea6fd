/** A 5 × 7 alphabet of our own drawing: seven rows of five dots each, written as five-bit numbers in base 32. */
const glyphs: Readonly<Record<string, string>> = {
  '0': 'ehjlphe', '1': '4c4444e', '2': 'eh1248v', '3': 'eh161he', '4': '26aiv22', '5': 'vgu11he', '6': '68guhhe', '7': 'v124888',
  '8': 'ehhehhe', '9': 'ehhf12c', A: 'ehhvhhh', B: 'uhhuhhu', C: 'ehggghe', D: 'sihhhis', E: 'vgguggv', F: 'vggugg' + 'g', G: 'ehgnhhf',
  H: 'hhhvhhh', I: 'e44444e', J: '72222ic', K: 'hikokih', L: 'ggggggv', M: 'hrllhhh', N: 'hhpljhh', O: 'ehhhhhe', P: 'uhhuggg',
  Q: 'ehhhlid', R: 'uhhukih', S: 'fgge11u', T: 'v444444', U: 'hhhhhhe', V: 'hhhhha4', W: 'hhhllrh', X: 'hha4ahh', Y: 'hhha444', Z: 'v1248gv',
  ':': '0cc0cc0', ';': '0cc0c48', '.': '00000cc', '-': '000v000', '/': '01248g0', '_': '000000v', ' ': '0000000',
};

/** Whether the dot at column x (0–4), row y (0–6) of a character is set; unknown characters are blank. */
export function dot(character: string, x: number, y: number): boolean {
  const row = parseInt((glyphs[character.toUpperCase()] ?? glyphs[' '])?.[y] ?? '0', 32);
  return ((row >> (4 - x)) & 1) === 1;
}
