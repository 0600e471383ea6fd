import { leastContrast, relativeLight } from '../burn/contrast.ts';
import type { BurnBox, BurnPlan } from '../burn/plan.ts';
import type { Comparison } from './proof.ts';

/** Luma of one decoded frame: 16 bits, legal range, the output's raster. */
export interface BurnSample {
  frame: number;
  luma: Uint16Array;
}

const legal = (code: number): number => Math.max(0, (code / 256 - 16) / 219);

/** What of a plate's samples is text: brighter than halfway between the plate's brightest and the text. */
function measured(
  { plate }: BurnBox,
  { raster, plateStrength, white }: BurnPlan,
  luma: Uint16Array,
): { text: number; ground: number; share: number } {
  const values: number[] = [];
  for (let y = plate.y; y < Math.min(raster.height, plate.y + plate.height); y += 1) {
    for (let x = plate.x; x < Math.min(raster.width, plate.x + plate.width); x += 1)
      values.push(luma[y * raster.width + x] as number);
  }
  values.sort((a, b) => a - b);
  const halfway = (16 + 219 * white * (1 + (1 - plateStrength)) * 0.5) * 256;
  const firstText = values.findIndex((value) => value > halfway);
  const textCount = firstText < 0 ? 0 : values.length - firstText;
  // The strokes' cores, and the plate with what shines through it at its brightest but for their soft edges.
  const text = textCount === 0 ? 0 : (values[values.length - 1 - Math.floor(textCount * 0.25)] as number);
  const ground = values[Math.floor((values.length - 1) * 0.5)] as number;
  return { text, ground, share: textCount / Math.max(1, values.length) };
}

/** Whether the planned lines are there and can be read: contrast measured on a decoded frame's luma, plate by plate. */
export function burnComparison(burn: BurnPlan, transfer: string | null, sample: BurnSample | null): Comparison[] {
  if (burn.boxes.length === 0) return [];
  const planned = `${burn.boxes.length} ${burn.boxes.length === 1 ? 'line' : 'lines'}, contrast ${leastContrast}:1 at least`;
  if (!sample) return [{ name: 'burn-in', planned, found: 'no frame to look at', holds: false }];
  const seen = burn.boxes.map((box) => {
    const { text, ground, share } = measured(box, burn, sample.luma);
    return {
      words: box.runs.map((run) => run.text).join(''),
      contrast: (relativeLight(legal(text), transfer) + 0.05) / (relativeLight(legal(ground), transfer) + 0.05),
      share,
    };
  });
  const missing = seen.find(({ share }) => share < 0.01);
  const worst = seen.reduce((a, b) => (b.contrast < a.contrast ? b : a));
  return [
    {
      name: 'burn-in',
      planned,
      found: missing
        ? `${missing.words} is not to be seen on frame ${sample.frame + 1}`
        : `contrast ${worst.contrast.toFixed(1)}:1 at least, on frame ${sample.frame + 1}`,
      holds: missing === undefined && worst.contrast >= leastContrast,
    },
  ];
}
