import { bt1886 } from '../curves/gamma.ts';
import type { Curve } from '../curve.ts';
import type { ColourState } from '../states.ts';
import { hdrTone, sdrTone, type Tone } from './tone.ts';

/** How a state's signal becomes light on the display that it is made for. */
export interface Display {
  /** The curve that codes display light for it. */
  curve: Curve;
  tone: Tone;
  /** The curve's light for the tone's white. */
  white: number;
  /** HLG is coded as scene light: the display's own system gamma is taken off first (BT.2100, table 5). */
  systemGamma: number | null;
}

/** The display of a state; null for cameras' logs and linear light, which nobody looks at. */
export function displayOf({ curve }: ColourState): Display | null {
  switch (curve.id) {
    // Television codes a camera's light, and is looked at on a BT.1886 display (BT.2035).
    case 'bt709':
    case 'bt2020':
      return { curve: bt1886, tone: sdrTone, white: 1, systemGamma: null };
    case 'pq':
      return { curve, tone: hdrTone, white: hdrTone.peakNits / 100, systemGamma: null };
    case 'hlg':
      return { curve, tone: hdrTone, white: 1, systemGamma: 1.2 };
    default:
      return curve.light === 'display' ? { curve, tone: sdrTone, white: 1, systemGamma: null } : null;
  }
}
