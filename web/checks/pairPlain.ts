import type { Comparison, ComparedSide } from '@relay/contract/checks';
import { surround } from '../ui/theme.ts';
import type { View } from './view.ts';

/** The picture of a stream that is up, kept while the stream goes on. */
export interface Kept {
  picture: CanvasImageSource;
  /** Seconds of the stream that it stands at; null where the browser does not say. */
  seconds: number | null;
}

/**
 * Keeps the picture that is up: drawn twice from the element, a later one could be drawn the second time. It is kept as a
 * copy, since what decoders hand over is turned into colours anew for every drawing: without a graphics card two drawings
 * of a copy take 10 ms with the copying, of the picture itself 21.
 */
export class PictureKeeper {
  private readonly copy = document.createElement('canvas').getContext('2d', { alpha: false });

  keep(video: HTMLVideoElement): Kept | null {
    const { copy } = this;
    if (!copy) return null;
    if (copy.canvas.width !== video.videoWidth || copy.canvas.height !== video.videoHeight)
      [copy.canvas.width, copy.canvas.height] = [video.videoWidth, video.videoHeight];
    if (!('VideoFrame' in window)) {
      copy.drawImage(video, 0, 0);
      return { picture: copy.canvas, seconds: null };
    }
    const frame = new VideoFrame(video);
    const seconds = frame.timestamp / 1e6;
    copy.drawImage(frame, 0, 0);
    frame.close();
    return { picture: copy.canvas, seconds };
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
export function paintPlain(
  context: CanvasRenderingContext2D,
  picture: CanvasImageSource,
  both: Comparison,
  view: View,
): void {
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
