/** Stops above mid grey at which a rendering reaches the display's white. */
const headroomStops = 6.5;
export const midGrey = 0.18;
/** Scene light that is shown as the display's white, and all above it. */
export const sceneWhite = midGrey * 2 ** headroomStops;

/** A rendering's tone for one kind of display; see `estuary.ts`. */
export interface Tone {
  /** cd/m² of the display's white. */
  peakNits: number;
  power: number;
  k: number;
}

/**
 * Light below which the tone's foot lies: there a display's signal grows with the light itself, as BT.709's does near
 * black.
 */
export const foot = 0.004;

/**
 * Scene light with its foot drawn down, and stretched so that `sceneWhite` lies at infinity: there the shoulder ends
 * flat.
 */
function stretched(light: number): number {
  return (light * light) / (light + foot) / (1 - (light / sceneWhite) ** 2) ** 2;
}

function toneThrough(peakNits: number, greyNits: number, power: number): Tone {
  const grey = greyNits / peakNits;
  return { peakNits, power, k: (stretched(midGrey) ** power * (1 - grey)) / grey };
}

/** The power with which a tone through mid grey also passes through a reflecting white at `whiteNits`. */
function powerThrough(peakNits: number, greyNits: number, whiteNits: number): number {
  const odds = (nits: number): number => nits / (peakNits - nits);
  return Math.log(odds(whiteNits) / odds(greyNits)) / Math.log(stretched(1) / stretched(midGrey));
}

/**
 * BT.709 puts mid grey at 1.099 · 0.18^0.45 − 0.099 = 40.9 % of the signal; a BT.1886 display of 100 cd/m² shows that
 * as 11.7.
 */
const sdrGreyNits = 100 * (1.099 * midGrey ** 0.45 - 0.099) ** 2.4;
export const sdrTone = toneThrough(100, sdrGreyNits, 1.2);

/** ITU-R BT.2408-4, table 1: mid grey at 26 and reference white at 203 cd/m², on a display of 1000. */
export const hdrTone = toneThrough(1000, 26, powerThrough(1000, 26, 203));

/**
 * Scene light → display light, 0–1 of its white: x^p / (x^p + k) of the stretched light. Rises everywhere between no
 * light and `sceneWhite`, where it ends flat, and has a continuous slope from end to end.
 */
export function toneOf({ power, k }: Tone, light: number): number {
  if (!(light > 0)) return 0;
  if (light >= sceneWhite) return 1;
  const x = stretched(light) ** power;
  return x / (x + k);
}
