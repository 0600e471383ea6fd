import type { Window } from '../shape/window.ts';
import { burnFont } from './font.ts';
import type { BurnPlan } from './plan.ts';

function meet(a: Window, b: Window): boolean {
  return a.x < b.x + b.width && b.x < a.x + a.width && a.y < b.y + b.height && b.y < a.y + a.height;
}

/** Whether anything is drawn within a window of an output's frame, so that it cannot be held against the original. */
export function burnt(burn: BurnPlan | null | undefined, window: Window, frame: number): boolean {
  if (!burn) return false;
  const { image, across, raster } = burn;
  if (burn.boxes.some(({ plate }) => meet(plate, window))) return true;
  if (image && (image.frames === null || frame < image.frames) && meet(image.at, window)) return true;
  if (!across) return false;
  // The window's middle in the turned text's own directions; its reach there is at most half its diagonal.
  const [dx, dy] = [window.x + window.width / 2 - raster.width / 2, window.y + window.height / 2 - raster.height / 2];
  const angle = (across.degrees * Math.PI) / 180;
  const along = dx * Math.cos(angle) + dy * Math.sin(angle);
  const beside = -dx * Math.sin(angle) + dy * Math.cos(angle);
  const reach = Math.hypot(window.width, window.height) / 2;
  const half = (across.text.length * burnFont.advance * across.fontSize) / 2;
  return Math.abs(along) <= half + reach && Math.abs(beside) <= across.fontSize * 0.8 + reach;
}
