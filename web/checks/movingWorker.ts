import { KeptPicture, paintPlain } from './pairPlain.ts';
import type { Drawn, Laid, ToDraw } from './movingMessages.ts';

/** Draws what moves apart from the page, so that neither waits for the other. */

const made = (): OffscreenCanvasRenderingContext2D => {
  const context = new OffscreenCanvas(1, 1).getContext('2d', { alpha: false });
  if (!context) throw new Error('no canvas apart from the page');
  return context;
};
const canvas = made();
const kept = new KeptPicture(made());
let picture: CanvasImageSource | null = null;

function draw(kind: ToDraw['kind'], { both, view, width, height }: Laid): void {
  if (!picture) return;
  if (canvas.canvas.width !== width || canvas.canvas.height !== height)
    [canvas.canvas.width, canvas.canvas.height] = [width, height];
  paintPlain(canvas, picture, both, view);
  const drawn = canvas.canvas.transferToImageBitmap();
  self.postMessage({ kind, drawn } satisfies Drawn, { transfer: [drawn] });
}

self.onmessage = ({ data }: MessageEvent<ToDraw>) => {
  if (data.kind === 'picture') {
    picture = kept.take(data.picture);
    data.picture.close();
  }
  draw(data.kind, data.laid);
};
