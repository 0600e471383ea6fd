import type { Drawn, Laid, ToDraw } from './movingMessages.ts';
import { PlainPainter } from './pairPlain.ts';

/** Told when a picture is on the canvas, and which second of its stream it is; null where the browser does not say. */
export type OnDrawn = (seconds: number | null) => void;

/** Draws the pictures of a stream on a canvas. */
export interface Moving {
  show: (video: HTMLVideoElement, laid: Laid, drawn: OnDrawn) => void;
  /** The picture that is up, laid otherwise. */
  lay: (laid: Laid) => void;
  end: () => void;
}

/**
 * Apart from the page, which draws itself anew for every frame too: on two cores without a graphics card both together
 * take longer than a frame of the screen, and then every other picture is missed. While one is drawn, of those that
 * follow the last one waits.
 */
function apart(canvas: HTMLCanvasElement): Moving {
  const worker = new Worker(new URL('./movingWorker.ts', import.meta.url), { type: 'module' });
  const say = (message: ToDraw, handed: Transferable[] = []): void => worker.postMessage(message, handed);
  const seen = canvas.getContext('bitmaprenderer');
  interface Waiting {
    picture: VideoFrame;
    laid: Laid;
    drawn: OnDrawn;
  }
  let waiting: Waiting | null = null;
  let drawing: { seconds: number; drawn: OnDrawn } | null = null;
  const next = (): void => {
    if (drawing || !waiting) return;
    const { picture, laid, drawn } = waiting;
    waiting = null;
    drawing = { seconds: picture.timestamp / 1e6, drawn };
    say({ kind: 'picture', picture, laid }, [picture]);
  };
  worker.onmessage = ({ data }: MessageEvent<Drawn>) => {
    const { width, height } = data.drawn;
    if (canvas.width !== width || canvas.height !== height) [canvas.width, canvas.height] = [width, height];
    seen?.transferFromImageBitmap(data.drawn);
    if (data.kind === 'laid') return;
    const over = drawing;
    drawing = null;
    next();
    over?.drawn(over.seconds);
  };
  return {
    show: (video, laid, drawn) => {
      waiting?.picture.close();
      waiting = { picture: new VideoFrame(video), laid, drawn };
      next();
    },
    lay: (laid) => say({ kind: 'laid', laid }),
    end: () => {
      waiting?.picture.close();
      worker.terminate();
    },
  };
}

function unseen(): CanvasRenderingContext2D {
  const context = document.createElement('canvas').getContext('2d', { alpha: false });
  if (!context) throw new Error('no other canvas');
  return context;
}

/** In the page, where the browser knows no other way. */
function here(canvas: HTMLCanvasElement): Moving {
  const context = canvas.getContext('2d', { alpha: false });
  let painter: PlainPainter | null = null;
  const lay = ({ both, view, width, height }: Laid): void => {
    if (!context) return;
    if (canvas.width !== width || canvas.height !== height) [canvas.width, canvas.height] = [width, height];
    painter?.paint(context, both, view);
  };
  return {
    show: (video, laid, drawn) => {
      painter ??= new PlainPainter(unseen);
      painter.take(video);
      lay(laid);
      drawn(null);
    },
    lay,
    end: () => undefined,
  };
}

/** Draws what moves on a canvas that nothing was drawn on yet. */
export function movingOn(canvas: HTMLCanvasElement): Moving {
  return 'VideoFrame' in window && 'OffscreenCanvas' in window ? apart(canvas) : here(canvas);
}
