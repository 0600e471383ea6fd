import { fromIctcp, toIctcp } from '../ictcp.ts';
import type { Matrix3 } from '../matrix.ts';
import type { Transform } from '../ops/op.ts';
import { foot, toneOf, type Tone } from './tone.ts';

/** How much of the display's gamut is left as it is; beyond, colours are drawn in smoothly towards its edge. */
const untouched = 0.75;
/**
 * How far light at the display's white turns white. Less, and strong colours beside bright greys would darken their
 * other channels (seen by examining the rendering's own LUT).
 */
const mostBleached = 0.95;

/** Plainly: `Math.hypot` guards against numbers so large or small that their squares are lost, which these are not. */
function lengthOf(x: number, y: number): number {
  return Math.sqrt(x * x + y * y);
}

/**
 * *Estuary*, our rendering of scene light for a display. The tone follows the light's strength (a mean that leans to
 * the strongest channel, so that neutrals go exactly through the tone); towards the display's white colours bleach, as
 * overexposed light does; what the display's gamut does not hold is drawn in along lines of one hue and intensity of
 * BT.2100's ICtCp. Hue is therefore that of the scene's own light at the same strength.
 *
 * `into2020` brings scene light of the camera's gamut to BT.2020, `from2020` BT.2020 to the display's gamut. Gives
 * light of the display's gamut, 0–1 of its white.
 */
// eslint-disable-next-line max-lines-per-function -- one formula for each sample, with its numbers in locals: a call for each costs more than the sum
export function compileEstuary(into2020: Matrix3, from2020: Matrix3, tone: Tone): Transform {
  const peak = tone.peakNits;
  const light = new Float64Array(3);
  const work = new Float64Array(3);
  const hueOf = new Float64Array(3);
  /** Intensity of what is looked for, and the cosine and sine of its hue: numbers that a function keeps would each be made anew. */
  const aim = new Float64Array(3);
  /**
   * Light of the display's gamut at a chroma, in `work`; gives how far it lies inside (above 0) or outside the
   * display's cube.
   */
  const inside = (chroma: number): number => {
    work[0] = aim[0] as number;
    work[1] = chroma * (aim[1] as number);
    work[2] = chroma * (aim[2] as number);
    fromIctcp(work);
    const r = work[0] / peak;
    const g = work[1] / peak;
    const b = work[2] / peak;
    const x = from2020[0] * r + from2020[1] * g + from2020[2] * b;
    const y = from2020[3] * r + from2020[4] * g + from2020[5] * b;
    const z = from2020[6] * r + from2020[7] * g + from2020[8] * b;
    work[0] = x;
    work[1] = y;
    work[2] = z;
    return Math.min(x, y, z, 1 - x, 1 - y, 1 - z);
  };
  const give = (rgb: Float64Array): void => {
    for (let c = 0; c < 3; c += 1) rgb[c] = Math.min(1, Math.max(0, work[c] as number));
  };
  return (rgb) => {
    const r = rgb[0] as number;
    const g = rgb[1] as number;
    const b = rgb[2] as number;
    light[0] = into2020[0] * r + into2020[1] * g + into2020[2] * b;
    light[1] = into2020[3] * r + into2020[4] * g + into2020[5] * b;
    light[2] = into2020[6] * r + into2020[7] * g + into2020[8] * b;
    let cubes = 0;
    let squares = 0;
    for (let c = 0; c < 3; c += 1) {
      const x = Math.max(0, light[c] as number);
      cubes += x * x * x;
      squares += x * x;
    }
    const strength = squares > 0 ? cubes / squares : 0;
    if (!(strength > 1e-12)) {
      rgb.fill(0);
      return;
    }
    const shown = toneOf(tone, strength);
    const gain = (shown / strength) * peak;
    const bleach = mostBleached * shown * Math.sqrt(shown);
    for (let c = 0; c < 3; c += 1) {
      const x = (light[c] as number) * gain;
      hueOf[c] = x;
      light[c] = x + (shown * peak - x) * bleach;
    }
    toIctcp(hueOf);
    toIctcp(light);
    aim[0] = light[0];
    // Near black colours fade, as they do for eyes and for sensors.
    const chroma = lengthOf(light[1], light[2]) * (strength / (strength + foot));
    const own = lengthOf(hueOf[1] as number, hueOf[2] as number);
    if (own < 1e-9 || chroma < 1e-9) {
      inside(0);
      give(rgb);
      return;
    }
    aim[1] = (hueOf[1] as number) / own;
    aim[2] = (hueOf[2] as number) / own;
    // Far enough inside: nothing to draw in.
    let outer = chroma / untouched;
    let atOuter = inside(outer);
    if (atOuter >= 0) {
      inside(chroma);
      give(rgb);
      return;
    }
    let inner = 0;
    let atInner = inside(0);
    if (atInner <= 0) {
      inside(0);
      give(rgb);
      return;
    }
    // The edge of the display's gamut along this hue: false position (Illinois), which keeps it between its bounds.
    let side = 0;
    for (let round = 0; round < 24 && outer - inner > 1e-6; round += 1) {
      const at = inner + ((outer - inner) * atInner) / (atInner - atOuter);
      const here = inside(at);
      if (Math.abs(here) < 1e-7) {
        inner = at;
        break;
      }
      if (here > 0) {
        inner = at;
        atInner = here;
        if (side === 1) atOuter /= 2;
        side = 1;
      } else {
        outer = at;
        atOuter = here;
        if (side === -1) atInner /= 2;
        side = -1;
      }
    }
    const share = chroma / inner;
    const beyond = (share - untouched) / (1 - untouched);
    inside(inner * (share <= untouched ? share : untouched + ((1 - untouched) * beyond) / (1 + beyond)));
    give(rgb);
  };
}
