import { d65, type Gamut } from '../gamut.ts';

/** S-Gamut3.Cine, from the same technical summary as S-Log3 (2014). */
export const sgamut3cine: Gamut = { red: [0.766, 0.275], green: [0.225, 0.8], blue: [0.089, -0.087], white: d65 };
