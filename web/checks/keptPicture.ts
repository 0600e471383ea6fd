import type { Raster } from '@relay/core/shape/raster';

/** What is drawn on: in the page, or apart from it. */
export type Context = CanvasRenderingContext2D | OffscreenCanvasRenderingContext2D;

/** As many dots as there are to be, where they are not yet: that empties a canvas. */
export function sized({ canvas }: Context, { width, height }: Raster): void {
  if (canvas.width !== width || canvas.height !== height) [canvas.width, canvas.height] = [width, height];
}

/**
 * The picture that is up, kept as a copy. Drawn twice from the element, a later one could be drawn the second time; and
 * what decoders hand over is turned into colours anew for every drawing: without a graphics card two drawings of a copy
 * take 10 ms with the copying, of the picture itself 21.
 */
export class KeptPicture {
  private isThere = false;
  /** Its samples, where they were asked for and the browser hands them out. */
  colours: ImageData | null = null;

  /** Those of the picture before, to be written over: the last one's may be drawn meanwhile. */
  private spare: ImageData | null = null;

  constructor(private readonly copy: Context) {}

  take(picture: HTMLVideoElement | VideoFrame): void {
    const size =
      'videoWidth' in picture
        ? { width: picture.videoWidth, height: picture.videoHeight }
        : { width: picture.displayWidth, height: picture.displayHeight };
    sized(this.copy, size);
    this.copy.drawImage(picture, 0, 0);
    this.colours = null;
    this.isThere = true;
  }

  async takeColours(frame: VideoFrame): Promise<void> {
    const colours = await coloursOf(frame, this.spare);
    if (!colours) {
      this.take(frame);
      return;
    }
    sized(this.copy, colours);
    this.copy.putImageData(colours, 0, 0);
    [this.spare, this.colours] = [this.colours, colours];
    this.isThere = true;
  }

  get picture(): CanvasImageSource | null {
    return this.isThere ? this.copy.canvas : null;
  }
}

const asColours = { format: 'RGBA', colorSpace: 'srgb' } as const;

/** Bytes that a frame's colours are; -1 where a browser does not turn it into any. */
function bytesOf(frame: VideoFrame): number {
  try {
    return frame.allocationSize(asColours);
  } catch {
    return -1;
  }
}

/** A frame's samples as colours, in `old` where it is as large; null where the browser does not hand them out. */
async function coloursOf(frame: VideoFrame, old: ImageData | null): Promise<ImageData | null> {
  const { displayWidth: width, displayHeight: height, visibleRect } = frame;
  // A browser that does not know how hands out what it has, without a word.
  const isKnown =
    visibleRect?.width === width && visibleRect.height === height && bytesOf(frame) === width * height * 4;
  if (!isKnown) return null;
  const colours = old?.width === width && old.height === height ? old : new ImageData(width, height);
  return frame.copyTo(colours.data, asColours).then(
    () => colours,
    () => null,
  );
}
