import { burnFont } from '@relay/core/burn/font';
import type { BurnPlan } from '@relay/core/burn/plan';
import { labelAt } from '@relay/core/burn/running';
import type { Box } from '../bench/drawShape.ts';

const family = `'Spline Sans Mono Variable', monospace`;

function grey(code: number): string {
  const level = Math.round(code * 255);
  return `rgb(${level} ${level} ${level})`;
}

/** Text in cells, as the run draws it. */
function write(context: CanvasRenderingContext2D, text: string, x: number, baseline: number, fontSize: number): void {
  context.font = `${burnFont.weight} ${fontSize}px ${family}`;
  [...text].forEach((character, i) => context.fillText(character, x + i * burnFont.advance * fontSize, baseline));
}

/**
 * A burn-in over an output that is shown in `box`: the same plan that the run draws from. `frame` is the output's, from
 * 0.
 */
export function drawBurn(
  context: CanvasRenderingContext2D,
  box: Box,
  burn: BurnPlan,
  frame: number,
  image: ImageBitmap | null,
): void {
  context.save();
  context.translate(box.x, box.y);
  context.scale(box.width / burn.raster.width, box.height / burn.raster.height);
  context.beginPath();
  context.rect(0, 0, burn.raster.width, burn.raster.height);
  context.clip();
  context.textBaseline = 'alphabetic';
  if (burn.image && image && (burn.image.frames === null || frame < burn.image.frames)) {
    const { at, opacity } = burn.image;
    context.globalAlpha = opacity;
    context.drawImage(image, at.x, at.y, at.width, at.height);
  }
  if (burn.across) {
    const { text, fontSize, degrees, opacity } = burn.across;
    context.save();
    context.translate(burn.raster.width / 2, burn.raster.height / 2);
    context.rotate((degrees * Math.PI) / 180);
    context.globalAlpha = opacity;
    context.fillStyle = grey(burn.white);
    write(context, text, -(text.length * burnFont.advance * fontSize) / 2, fontSize * 0.35, fontSize);
    context.restore();
  }
  for (const { plate, runs, baseline, fontSize } of burn.boxes) {
    context.globalAlpha = burn.plateStrength;
    context.fillStyle = '#000';
    context.fillRect(plate.x, plate.y, plate.width, plate.height);
    context.globalAlpha = 1;
    context.fillStyle = grey(burn.white);
    for (const run of runs)
      write(context, run.kind === 'running' ? labelAt(run.running, frame) : run.text, run.x, baseline, fontSize);
  }
  context.restore();
}
