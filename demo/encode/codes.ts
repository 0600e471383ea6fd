import { bt709 as bt709Curve } from '@relay/core/colour/curves/bt709';
import { slog3 } from '@relay/core/colour/curves/slog3';
import { between } from '@relay/core/colour/gamut';
import { bt709 } from '@relay/core/colour/gamuts/bt709';
import { sgamut3cine } from '@relay/core/colour/gamuts/sgamut3cine';
import type { Recording } from '../originals.ts';
import type { Canvas } from '../scene/canvas.ts';
import { seeded } from '../scene/noise.ts';

/** The picture profile of the demo's display-referred cameras: one stop up, shoulders above a lit card, then BT.709. */
function displayCode(light: number): number {
  const exposed = light * 2.2;
  return bt709Curve.fromLinear(Math.min(1, (exposed * (1 + exposed / 9)) / (1 + exposed)));
}

/** A table from light to 16-bit codes: fine steps below 1, coarser ones up to 32. */
const fine = 32_768;
const coarsePerUnit = 512;
const brightest = 32;

function table(code: (light: number) => number): Uint16Array {
  return Uint16Array.from({ length: fine + (brightest - 1) * coarsePerUnit + 1 }, (_, index) => {
    const light = index < fine ? index / fine : 1 + (index - fine) / coarsePerUnit;
    return Math.max(0, Math.min(65_535, Math.round(code(light) * 65_535)));
  });
}

/** Turns scene light into interleaved 16-bit R'G'B' as the camera would record it, with its noise. */
export function coder(
  recording: Recording,
  noise: number,
  seed: number,
): (canvas: Canvas, out: Uint16Array, frame: number) => void {
  const codes = table(recording === 'slog3' ? slog3.fromLinear : displayCode);
  const m = recording === 'slog3' ? between(bt709, sgamut3cine) : null;
  const random = seeded(seed + 500);
  const grain = Int16Array.from({ length: 1 << 16 }, () => Math.round((random() + random() + random() - 1.5) * noise));
  // Scalars only in the loop: it runs for every sample of every frame.
  const last = codes.length - 1;
  const code = (light: number): number => {
    if (light < 1) return codes[light <= 0 ? 0 : (light * fine) | 0] as number;
    return codes[light >= brightest ? last : (fine + (light - 1) * coarsePerUnit) | 0] as number;
  };
  const [m0, m1, m2, m3, m4, m5, m6, m7, m8] = m ?? [1, 0, 0, 0, 1, 0, 0, 0, 1];
  return (canvas, out, frame) => {
    const light = canvas.light;
    const count = light.length;
    let at = Math.imul(frame + 1, 40_503) & 0xffff;
    for (let i = 0; i < count; i += 3) {
      const r = light[i] as number;
      const g = light[i + 1] as number;
      const b = light[i + 2] as number;
      // A new stretch of the grain for every sixteenth sample keeps rows from repeating.
      at = (at + ((i & 47) === 0 ? 7919 + (i >> 9) : 3)) & 0xffff;
      const cr = code(m0 * r + m1 * g + m2 * b) + (grain[at] as number);
      const cg = code(m3 * r + m4 * g + m5 * b) + (grain[(at + 1) & 0xffff] as number);
      const cb = code(m6 * r + m7 * g + m8 * b) + (grain[(at + 2) & 0xffff] as number);
      out[i] = cr < 0 ? 0 : cr > 65_535 ? 65_535 : cr;
      out[i + 1] = cg < 0 ? 0 : cg > 65_535 ? 65_535 : cg;
      out[i + 2] = cb < 0 ? 0 : cb > 65_535 ? 65_535 : cb;
    }
  };
}
