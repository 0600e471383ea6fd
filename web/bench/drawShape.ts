import { surround } from '../ui/surround.ts';
import type { Geometry } from '@relay/core/shape/geometry';
import type { Raster } from '@relay/core/shape/raster';

export interface Box {
  x: number;
  y: number;
  width: number;
  height: number;
}

/** The largest box of a shape inside another, in its middle. */
export function inside(outer: Box, aspect: number): Box {
  const width = Math.min(outer.width, outer.height * aspect);
  const height = width / aspect;
  return { x: outer.x + (outer.width - width) / 2, y: outer.y + (outer.height - height) / 2, width, height };
}

const padded = { black: '#000', grey: '#7e7e7e', white: '#fff' } as const;

/** The whole stored picture, what is not used of it dimmed. */
export function drawBefore(
  context: CanvasRenderingContext2D,
  box: Box,
  image: ImageBitmap,
  { geometry: { window, turn, scaled }, raster }: { geometry: Geometry; raster: Raster },
  circle: boolean,
): void {
  context.drawImage(image, box.x, box.y, box.width, box.height);
  const [sx, sy] = [box.width / raster.width, box.height / raster.height];
  const used = {
    x: box.x + window.x * sx,
    y: box.y + window.y * sy,
    width: window.width * sx,
    height: window.height * sy,
  };
  context.fillStyle = 'rgba(0, 0, 0, 0.6)';
  context.fillRect(box.x, box.y, box.width, used.y - box.y);
  context.fillRect(box.x, used.y + used.height, box.width, box.y + box.height - used.y - used.height);
  context.fillRect(box.x, used.y, used.x - box.x, used.height);
  context.fillRect(used.x + used.width, used.y, box.x + box.width - used.x - used.width, used.height);
  context.strokeStyle = surround.ink;
  context.lineWidth = 1;
  context.strokeRect(used.x + 0.5, used.y + 0.5, used.width - 1, used.height - 1);
  if (!circle) return;
  // What becomes a circle: as wide here as the scaling will make it round.
  const upright = turn.quarters % 2 === 0 ? scaled : { width: scaled.height, height: scaled.width };
  const radius = Math.min(upright.width, upright.height) * 0.4;
  context.beginPath();
  context.ellipse(
    used.x + used.width / 2,
    used.y + used.height / 2,
    (radius / upright.width) * used.width,
    (radius / upright.height) * used.height,
    0,
    0,
    Math.PI * 2,
  );
  context.stroke();
}

/** The output's raster: the picture in its active area, and what is around it. */
export function drawAfter(
  context: CanvasRenderingContext2D,
  box: Box,
  image: ImageBitmap,
  { geometry, video }: { geometry: Geometry; video: { raster: Raster; quarterTurns: number } },
  marks: { guides: boolean; circle: boolean },
): void {
  const { raster, active, view, scaled, window, turn } = geometry;
  const [sx, sy] = [box.width / raster.width, box.height / raster.height];
  context.fillStyle = padded[geometry.padColour];
  context.fillRect(box.x, box.y, box.width, box.height);
  const shown = {
    x: box.x + active.x * sx,
    y: box.y + active.y * sy,
    width: active.width * sx,
    height: active.height * sy,
  };
  context.save();
  context.beginPath();
  context.rect(shown.x, shown.y, shown.width, shown.height);
  context.clip();
  const whole = {
    x: shown.x - view.x * sx,
    y: shown.y - view.y * sy,
    width: scaled.width * sx,
    height: scaled.height * sy,
  };
  context.translate(whole.x + whole.width / 2, whole.y + whole.height / 2);
  context.scale(turn.across ? -1 : 1, turn.down ? -1 : 1);
  const turns = (video.quarterTurns + turn.quarters) % 4;
  context.rotate((turns * Math.PI) / 2);
  const [width, height] = turns % 2 === 0 ? [whole.width, whole.height] : [whole.height, whole.width];
  const [fx, fy] = [image.width / video.raster.width, image.height / video.raster.height];
  context.drawImage(
    image,
    window.x * fx,
    window.y * fy,
    window.width * fx,
    window.height * fy,
    -width / 2,
    -height / 2,
    width,
    height,
  );
  context.restore();
  context.lineWidth = 1;
  if (marks.guides) {
    context.strokeStyle = 'rgba(255, 255, 255, 0.45)';
    // Title-safe area, nine tenths each way (SMPTE ST 2046-1), and the middle.
    context.strokeRect(
      shown.x + shown.width * 0.05,
      shown.y + shown.height * 0.05,
      shown.width * 0.9,
      shown.height * 0.9,
    );
    context.beginPath();
    context.moveTo(shown.x + shown.width / 2, shown.y + shown.height / 2 - 8);
    context.lineTo(shown.x + shown.width / 2, shown.y + shown.height / 2 + 8);
    context.moveTo(shown.x + shown.width / 2 - 8, shown.y + shown.height / 2);
    context.lineTo(shown.x + shown.width / 2 + 8, shown.y + shown.height / 2);
    context.stroke();
  }
  if (marks.circle) {
    context.strokeStyle = surround.ink;
    context.beginPath();
    context.arc(
      whole.x + whole.width / 2,
      whole.y + whole.height / 2,
      Math.min(whole.width, whole.height) * 0.4,
      0,
      Math.PI * 2,
    );
    context.stroke();
  }
}
