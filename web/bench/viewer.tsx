import { useCallback, useEffect, useMemo, useRef, useState, type PointerEvent, type WheelEvent } from 'react';
import { surround } from '../ui/surround.ts';
import { ask } from './ask.ts';
import { GlPicture, probeTriplets, type Mode, type View } from './gl.ts';
import type { CubeData, FrameData } from './messages.ts';

/** Who computes the picture: the graphics card, once it is shown to agree with core, or core itself. */
export type Computed = { by: 'card'; differs: number } | { by: 'core'; why: string };

/** The graphics card must agree with core to one 10-bit code. */
const agreement = 1 / 1023;

export const zooms = ['fit', 1, 2, 4, 8] as const;
export type Zoom = (typeof zooms)[number];

interface ViewerProps {
  frame: FrameData;
  /** Width of one sample over its height. */
  pixelAspect: number;
  cube: CubeData | null;
  mode: Mode;
  zoom: Zoom;
  /** Shares of the picture in the middle of the panes. */
  centre: { x: number; y: number };
  onCentre: (centre: { x: number; y: number }) => void;
  wipe: number;
  onWipe: (wipe: number) => void;
  onComputed: (computed: Computed) => void;
  onPoint: (sample: { x: number; y: number } | null) => void;
  /** Core draws even where the card could. */
  byCore: boolean;
  /** The frame asked for is still on its way, and another stands in for it. */
  coming: boolean;
}

/** What the pointer does over the picture: drags the wipe, reads samples, or moves the picture. */
function pointerFor(zoom: Zoom, mode: Mode): string {
  if (zoom !== 'fit') return 'cursor-grab';
  return mode === 'wipe' ? 'cursor-ew-resize' : 'cursor-crosshair';
}

/** The picture before and after, one sample of it under one grid of dots, both panes moving together. */
export function Viewer(props: ViewerProps) {
  const { frame, cube, mode, zoom, centre, wipe, pixelAspect, byCore, coming, onComputed, onPoint } = props;
  const place = useRef<HTMLDivElement>(null);
  const plain = useRef<HTMLCanvasElement>(null);
  const drawn = useRef<{ before: ImageBitmap; after: ImageBitmap } | null>(null);
  /** What core drew last: of a new frame or chain nothing is drawn yet. */
  const [drawnOf, setDrawnOf] = useState<{ frame: FrameData; cube: CubeData | null } | null>(null);
  const [size, setSize] = useState({ width: 0, height: 0 });
  const [cardCanvas, setCardCanvas] = useState<HTMLCanvasElement | null>(null);
  /** Why the card is not used although nobody asked for core. */
  const [differing, setDiffering] = useState<string | null>(null);
  const card = useMemo<GlPicture | string | null>(() => {
    if (!cardCanvas) return null;
    try {
      return new GlPicture(cardCanvas);
    } catch (error) {
      return (error as Error).message;
    }
  }, [cardCanvas]);
  const refused = byCore ? 'asked for' : (differing ?? (typeof card === 'string' ? card : null));
  const drawer = refused === null ? 'card' : 'core';
  const gl = refused === null && card !== null && typeof card !== 'string' ? card : null;
  const grip = useRef<{ x: number; y: number; centre: { x: number; y: number } } | null>(null);

  useEffect(() => {
    const target = place.current;
    if (!target) return;
    const watcher = new ResizeObserver(() => {
      const ratio = window.devicePixelRatio || 1;
      setSize({ width: Math.floor(target.clientWidth * ratio), height: Math.floor(target.clientHeight * ratio) });
    });
    watcher.observe(target);
    return () => watcher.disconnect();
  }, []);

  // How many canvas dots a sample takes: whole ones from 100 % on, so that samples stay square.
  const pane = mode === 'side by side' ? size.width / 2 : size.width;
  const fit = Math.min(pane / (frame.width * pixelAspect), size.height / frame.height) * 0.985;
  const down = zoom === 'fit' ? fit : zoom;
  const scale = { x: down * pixelAspect, y: down };
  const view: View = { mode, wipe, scale, centre: { x: centre.x * frame.width, y: centre.y * frame.height } };

  useEffect(() => {
    if (refused !== null) onComputed({ by: 'core', why: refused });
  }, [refused, onComputed]);
  useEffect(() => gl?.setFrame(frame), [gl, frame]);
  useEffect(() => {
    if (!gl) return;
    gl.setCube(cube);
    if (!cube) {
      onComputed({ by: 'card', differs: 0 });
      return;
    }
    // Held against core each time: a card that computes otherwise would show what no run makes.
    const values = probeTriplets();
    const shown = gl.through(values);
    let current = true;
    void ask({ kind: 'triplets', values, cube }).then((wanted) => {
      if (!current) return;
      const differs = wanted.reduce((most, value, i) => Math.max(most, Math.abs(value - (shown[i] as number))), 0);
      if (differs <= agreement) onComputed({ by: 'card', differs });
      else setDiffering(`the graphics card differs by ${(differs * 1023).toFixed(1)} of 1023`);
    });
    return () => {
      current = false;
    };
  }, [gl, cube, onComputed]);

  const paint = useCallback(() => {
    if (size.width === 0) return;
    if (gl) gl.draw(view);
    else if (plain.current && drawn.current) paintPlain(plain.current, drawn.current, view);
    // eslint-disable-next-line react-hooks/exhaustive-deps -- the view is made of these
  }, [gl, size, mode, wipe, scale.x, scale.y, view.centre.x, view.centre.y]);
  useEffect(() => {
    const request = requestAnimationFrame(paint);
    return () => cancelAnimationFrame(request);
  }, [paint, frame, cube]);

  // Core's own picture, where the card does not draw.
  useEffect(() => {
    if (drawer === 'card') return;
    let current = true;
    void ask({ kind: 'picture', frame, cube }).then(async ({ before, after }) => {
      const image = (data: Uint8ClampedArray): Promise<ImageBitmap> =>
        createImageBitmap(new ImageData(new Uint8ClampedArray(data), frame.width, frame.height));
      const both = { before: await image(before), after: await image(after) };
      if (!current) return;
      drawn.current = both;
      paint();
      setDrawnOf({ frame, cube });
    });
    return () => {
      current = false;
    };
  }, [frame, cube, drawer, paint]);

  const sampleAt = (event: PointerEvent): { x: number; y: number } | null => {
    const box = event.currentTarget.getBoundingClientRect();
    const ratio = size.width / box.width;
    let x = (event.clientX - box.left) * ratio;
    if (mode === 'side by side' && x >= pane) x -= pane;
    const at = {
      x: Math.floor(view.centre.x + (x - pane / 2) / scale.x),
      y: Math.floor(view.centre.y + ((event.clientY - box.top) * ratio - size.height / 2) / scale.y),
    };
    return at.x >= 0 && at.y >= 0 && at.x < frame.width && at.y < frame.height ? at : null;
  };
  const clamp = (x: number): number => Math.min(1, Math.max(0, x));
  const onMove = (event: PointerEvent<HTMLDivElement>): void => {
    onPoint(sampleAt(event));
    if (!grip.current) return;
    const ratio = size.width / event.currentTarget.clientWidth;
    if (mode === 'wipe' && zoom === 'fit')
      props.onWipe(
        clamp((event.clientX - event.currentTarget.getBoundingClientRect().left) / event.currentTarget.clientWidth),
      );
    else if (zoom !== 'fit') {
      props.onCentre({
        x: clamp(grip.current.centre.x - ((event.clientX - grip.current.x) * ratio) / scale.x / frame.width),
        y: clamp(grip.current.centre.y - ((event.clientY - grip.current.y) * ratio) / scale.y / frame.height),
      });
    }
  };
  const onWheel = (event: WheelEvent<HTMLDivElement>): void => {
    if (zoom === 'fit') return;
    props.onCentre({
      x: clamp(centre.x + event.deltaX / scale.x / frame.width),
      y: clamp(centre.y + event.deltaY / scale.y / frame.height),
    });
  };
  return (
    <div
      ref={place}
      aria-busy={coming || (drawer === 'core' && (drawnOf?.frame !== frame || drawnOf.cube !== cube))}
      className={`relative min-h-0 flex-1 touch-none overflow-hidden ${pointerFor(zoom, mode)}`}
      onPointerDown={(event) => {
        grip.current = { x: event.clientX, y: event.clientY, centre };
        event.currentTarget.setPointerCapture(event.pointerId);
        onMove(event);
      }}
      onPointerMove={onMove}
      onPointerUp={() => {
        grip.current = null;
      }}
      onPointerLeave={() => onPoint(null)}
      onWheel={onWheel}
    >
      {/* A canvas keeps the first kind of drawing it is asked for, so core and card have one each. */}
      {drawer === 'card' ? (
        <canvas
          key="card"
          ref={setCardCanvas}
          width={size.width}
          height={size.height}
          role="img"
          aria-label="The picture before and after its chain"
          data-computed-by="card"
          className="absolute inset-0 size-full"
        />
      ) : (
        <canvas
          key="core"
          ref={plain}
          width={size.width}
          height={size.height}
          role="img"
          aria-label="The picture before and after its chain"
          data-computed-by="core"
          className="absolute inset-0 size-full"
        />
      )}
    </div>
  );
}

/** Both pictures on a plain canvas, in the view's way; difference by the canvas's own arithmetic. */
function paintPlain(
  canvas: HTMLCanvasElement,
  { before, after }: { before: ImageBitmap; after: ImageBitmap },
  view: View,
): void {
  const context = canvas.getContext('2d');
  if (!context) return;
  const { width, height } = canvas;
  context.globalCompositeOperation = 'source-over';
  context.fillStyle = surround.ground;
  context.fillRect(0, 0, width, height);
  context.imageSmoothingEnabled = view.scale.y < 1;
  const put = (image: ImageBitmap, left: number, pane: number): void => {
    context.save();
    context.beginPath();
    context.rect(left, 0, pane, height);
    context.clip();
    context.drawImage(
      image,
      left + pane / 2 - view.centre.x * view.scale.x,
      height / 2 - view.centre.y * view.scale.y,
      image.width * view.scale.x,
      image.height * view.scale.y,
    );
    context.restore();
  };
  switch (view.mode) {
    case 'side by side':
      put(before, 0, Math.floor(width / 2) - 1);
      put(after, Math.floor(width / 2) + 1, Math.floor(width / 2));
      return;
    case 'wipe': {
      put(before, 0, width);
      context.save();
      context.beginPath();
      context.rect(view.wipe * width, 0, width, height);
      context.clip();
      put(after, 0, width);
      context.restore();
      context.fillStyle = surround.ink;
      context.fillRect(view.wipe * width - 1, 0, 2, height);
      return;
    }
    case 'difference':
      put(before, 0, width);
      context.globalCompositeOperation = 'difference';
      put(after, 0, width);
      // Twice as strong, as the card shows it; the surround stays.
      context.save();
      context.beginPath();
      context.rect(
        width / 2 - view.centre.x * view.scale.x,
        height / 2 - view.centre.y * view.scale.y,
        before.width * view.scale.x,
        before.height * view.scale.y,
      );
      context.clip();
      context.globalCompositeOperation = 'lighter';
      context.drawImage(canvas, 0, 0);
      context.restore();
      return;
    case 'before':
      put(before, 0, width);
      return;
    case 'after':
      put(after, 0, width);
  }
}
