import type { Comparison, ComparedSide } from '@relay/contract/checks';
import { surround } from '../ui/surround.ts';
import type { View } from './view.ts';

/** What is drawn on: in the page, or apart from it. */
type Context = CanvasRenderingContext2D | OffscreenCanvasRenderingContext2D;

/**
 * The picture that is up, kept as a copy. Drawn twice from the element, a later one could be drawn the second time; and
 * what decoders hand over is turned into colours anew for every drawing: without a graphics card two drawings of a copy
 * take 10 ms with the copying, of the picture itself 21.
 */
export class KeptPicture {
  constructor(private readonly copy: Context) {}

  take(picture: HTMLVideoElement | VideoFrame): CanvasImageSource {
    const { copy } = this;
    const [width, height] =
      'videoWidth' in picture
        ? [picture.videoWidth, picture.videoHeight]
        : [picture.displayWidth, picture.displayHeight];
    if (copy.canvas.width !== width || copy.canvas.height !== height)
      [copy.canvas.width, copy.canvas.height] = [width, height];
    copy.drawImage(picture, 0, 0);
    return copy.canvas;
  }
}

/** A stretch of the canvas's width. */
interface Pane {
  left: number;
  width: number;
}

/**
 * Two pictures out of the stream on a plain canvas, in the view's way. What moves is drawn so: measured without a
 * graphics card, it takes 13 ms a picture where WebGL takes 50 and more, and with one there is no difference.
 */
export function paintPlain(context: Context, picture: CanvasImageSource, both: Comparison, view: View): void {
  const { width, height } = context.canvas;
  const { looking, wipe } = view;
  context.globalCompositeOperation = 'source-over';
  context.fillStyle = surround.ground;
  context.fillRect(0, 0, width, height);
  // One sample as a square of its own where it is enlarged.
  context.imageSmoothingEnabled = view.smoothly;
  /** Draws a side as it lies with the view's middle in the middle of `pane`, as far as `seen` goes. */
  const put = ({ played, box }: ComparedSide, pane: Pane, seen = pane): void => {
    context.save();
    context.beginPath();
    context.rect(seen.left, 0, seen.width, height);
    context.clip();
    context.drawImage(
      picture,
      played.x,
      played.y,
      played.width,
      played.height,
      pane.left + pane.width / 2 + (box.x - view.centre.x) * view.scale,
      height / 2 + (box.y - view.centre.y) * view.scale,
      box.width * view.scale,
      box.height * view.scale,
    );
    context.restore();
  };
  const whole = { left: 0, width };
  switch (looking) {
    case 'side by side': {
      const half = Math.floor(width / 2);
      put(both.against, { left: 0, width: half }, { left: 0, width: half - 1 });
      put(both.output, { left: half, width: width - half }, { left: half + 1, width: width - half - 1 });
      return;
    }
    case 'wipe':
      put(both.against, whole, { left: 0, width: wipe * width });
      put(both.output, whole, { left: wipe * width, width: width - wipe * width });
      context.fillStyle = surround.ink;
      context.fillRect(wipe * width - 1, 0, 2, height);
      return;
    case 'left alone':
      put(both.against, whole);
      return;
    case 'right alone':
      put(both.output, whole);
      return;
    case 'difference': {
      context.save();
      context.beginPath();
      for (const { box } of [both.against, both.output]) {
        context.rect(
          width / 2 + (box.x - view.centre.x) * view.scale,
          height / 2 + (box.y - view.centre.y) * view.scale,
          box.width * view.scale,
          box.height * view.scale,
        );
        context.clip();
        context.beginPath();
      }
      put(both.against, whole);
      context.globalCompositeOperation = 'difference';
      put(both.output, whole);
      context.globalCompositeOperation = 'lighter';
      for (let gain = 1; gain < view.gain; gain *= 2) context.drawImage(context.canvas, 0, 0);
      context.restore();
    }
  }
}
