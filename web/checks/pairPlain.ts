import type { Comparison, ComparedSide } from '@relay/contract/checks';
import { sharedBy } from '@relay/core/shape/compared';
import type { Window } from '@relay/core/shape/window';
import { surround } from '../ui/surround.ts';
import { difference } from './difference.ts';
import { KeptPicture, sized, type Context } from './keptPicture.ts';
import type { View } from './view.ts';

/** Another canvas, which nobody sees. */
export type Made = () => Context;

/** Draws the pictures of a stream on a plain canvas, the last of them as often as it is laid otherwise. */
export class PlainPainter {
  private readonly kept: KeptPicture;
  private readonly apart: readonly [Context, Context];

  constructor(made: Made) {
    this.kept = new KeptPicture(made());
    this.apart = [made(), made()];
  }

  take(picture: HTMLVideoElement | VideoFrame): void {
    this.kept.take(picture);
  }

  /** The same, with its samples at hand. */
  takeColours(frame: VideoFrame): Promise<void> {
    return this.kept.takeColours(frame);
  }

  /** The picture that was taken last in the view's way; whether there was one. */
  paint(context: Context, both: Comparison, view: View): boolean {
    const { picture, colours } = this.kept;
    if (picture === null) return false;
    clear(context, view);
    if (view.looking !== 'difference') {
      paintBoth(context, picture, both, view);
      return true;
    }
    const shared = sharedBy({ first: both.output.box, second: both.against.box });
    if (shared.width <= 0 || shared.height <= 0) return true;
    const [one] = this.apart;
    if (colours && liesAlike(both)) countedDifference(colours, both, view.gain, one);
    else drawnDifference(picture, both, { shared, gain: view.gain }, this.apart);
    context.drawImage(
      one.canvas,
      context.canvas.width / 2 + (shared.x - view.centre.x) * view.scale,
      context.canvas.height / 2 + (shared.y - view.centre.y) * view.scale,
      shared.width * view.scale,
      shared.height * view.scale,
    );
    return true;
  }
}

/** A stretch of the canvas's width. */
interface Pane {
  left: number;
  width: number;
}

/** Nothing but what surrounds pictures. */
function clear(context: Context, { smoothly }: View): void {
  context.globalCompositeOperation = 'source-over';
  context.fillStyle = surround.ground;
  context.fillRect(0, 0, context.canvas.width, context.canvas.height);
  // One sample as a square of its own where it is enlarged.
  context.imageSmoothingEnabled = smoothly;
}

/** Whether each sample of one lies on one of the other. */
function liesAlike({ output, against }: Comparison): boolean {
  const same = (one: Window, other: Window): boolean =>
    (['x', 'y', 'width', 'height'] as const).every((side) => Math.abs(one[side] - other[side]) < 1e-6);
  const { width, height } = against.played;
  return same(output.box, against.box) && output.played.width === width && output.played.height === height;
}

/**
 * What two pictures of the stream differ by, strengthened, sample by sample: half as long as a canvas takes, which goes
 * over it once more for every doubling. Differences are taken of the samples that come, and enlarged afterwards.
 */
function countedDifference(colours: ImageData, { output, against }: Comparison, gain: number, to: Context): void {
  const { width, height } = against.played;
  sized(to, against.played);
  const amounts = new ImageData(width, height);
  difference(colours, [against.played, output.played], gain, amounts);
  to.putImageData(amounts, 0, 0);
}

/** The same where they lie otherwise, or no samples are at hand: of what both have, as fine as the finer of them. */
function drawnDifference(
  picture: CanvasImageSource,
  { output, against }: Comparison,
  { shared, gain: wanted }: { shared: Window; gain: number },
  [one, other]: readonly [Context, Context],
): void {
  const fine = (way: 'width' | 'height'): number =>
    Math.max(output.played[way] / output.box[way], against.played[way] / against.box[way]);
  const size = {
    width: Math.max(1, Math.round(shared.width * fine('width'))),
    height: Math.max(1, Math.round(shared.height * fine('height'))),
  };
  const take = (from: Context, { played, box }: ComparedSide): void => {
    sized(from, size);
    from.globalCompositeOperation = 'source-over';
    const [across, down] = [played.width / box.width, played.height / box.height];
    from.drawImage(
      picture,
      played.x + (shared.x - box.x) * across,
      played.y + (shared.y - box.y) * down,
      shared.width * across,
      shared.height * down,
      0,
      0,
      size.width,
      size.height,
    );
  };
  take(one, against);
  take(other, output);
  one.globalCompositeOperation = 'difference';
  one.drawImage(other.canvas, 0, 0);
  one.globalCompositeOperation = 'lighter';
  for (let gain = 1; gain < wanted; gain *= 2) one.drawImage(one.canvas, 0, 0);
}

/**
 * Two pictures out of the stream beside each other, parted by a line, or one of them. Measured without a graphics card,
 * a plain canvas takes 13 ms a picture where WebGL takes 50 and more; with one there is no difference.
 */
function paintBoth(context: Context, picture: CanvasImageSource, both: Comparison, view: View): void {
  const { width, height } = context.canvas;
  const { looking, wipe } = view;
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
    default:
      put(both.output, whole);
  }
}
