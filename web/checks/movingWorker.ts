import { PlainPainter } from './pairPlain.ts';
import type { Drawn, Laid, ToDraw } from './movingMessages.ts';

/** Draws what moves apart from the page, so that neither waits for the other. */

const made = (): OffscreenCanvasRenderingContext2D => {
  const context = new OffscreenCanvas(1, 1).getContext('2d', { alpha: false });
  if (!context) throw new Error('no canvas apart from the page');
  return context;
};
const canvas = made();
const painter = new PlainPainter(made);

function draw(kind: ToDraw['kind'], { both, view, width, height }: Laid): void {
  if (canvas.canvas.width !== width || canvas.canvas.height !== height)
    [canvas.canvas.width, canvas.canvas.height] = [width, height];
  if (!painter.paint(canvas, both, view)) return;
  const drawn = canvas.canvas.transferToImageBitmap();
  self.postMessage({ kind, drawn } satisfies Drawn, { transfer: [drawn] });
}

async function take(picture: VideoFrame): Promise<void> {
  await painter.takeColours(picture);
  picture.close();
}

self.onmessage = ({ data }: MessageEvent<ToDraw>) => {
  if (data.kind === 'laid') draw(data.kind, data.laid);
  else void take(data.picture).then(() => draw(data.kind, data.laid));
};
