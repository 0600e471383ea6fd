import { useEffect, useRef, useState, type ReactNode } from 'react';
import { surround } from './surround.ts';

export interface Size {
  width: number;
  height: number;
}

/**
 * A canvas as large as its place, sharp on any screen, on the neutral surround; drawn again at every change. What lies
 * over it gets its size.
 */
export function PictureCanvas({
  label,
  draw,
  over,
}: {
  label: string;
  draw: (context: CanvasRenderingContext2D, size: Size) => void;
  over?: (size: Size) => ReactNode;
}) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const place = useRef<HTMLDivElement>(null);
  const [size, setSize] = useState<Size>({ width: 0, height: 0 });
  useEffect(() => {
    const target = place.current;
    if (!target) return;
    const watcher = new ResizeObserver(() => setSize({ width: target.clientWidth, height: target.clientHeight }));
    watcher.observe(target);
    return () => watcher.disconnect();
  }, []);
  useEffect(() => {
    const target = canvas.current;
    const context = target?.getContext('2d');
    if (!target || !context || size.width === 0) return;
    const ratio = window.devicePixelRatio || 1;
    target.width = size.width * ratio;
    target.height = size.height * ratio;
    context.setTransform(ratio, 0, 0, ratio, 0, 0);
    context.fillStyle = surround.ground;
    context.fillRect(0, 0, size.width, size.height);
    draw(context, size);
  });
  return (
    <div ref={place} className="relative min-h-0 flex-1">
      <canvas ref={canvas} role="img" aria-label={label} className="absolute inset-0 size-full" />
      {size.width > 0 && over?.(size)}
    </div>
  );
}
