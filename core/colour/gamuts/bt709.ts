import { d65, type Gamut } from '../gamut.ts';

/** ITU-R BT.709-6, item 1.3. */
export const bt709: Gamut = { red: [0.64, 0.33], green: [0.3, 0.6], blue: [0.15, 0.06], white: d65 };
