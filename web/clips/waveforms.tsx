import type { LookAnswer } from '@relay/contract/clips';
import { useEffect, useRef } from 'react';

const rowHeight = 34;

/**
 * The outline of every channel's sound under each other, to the length of the filmstrip; the one that is listened to
 * alone stands out.
 */
export function Waveforms({ outlines, alone }: { outlines: LookAnswer['outlines']; alone: number | null }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    const target = canvas.current;
    const context = target?.getContext('2d');
    if (!target || !context) return;
    const draw = (): void => {
      const width = target.clientWidth;
      const ratio = window.devicePixelRatio || 1;
      target.width = width * ratio;
      target.height = outlines.length * rowHeight * ratio;
      context.setTransform(ratio, 0, 0, ratio, 0, 0);
      const style = getComputedStyle(document.documentElement);
      outlines.forEach((outline, row) => {
        const middle = row * rowHeight + rowHeight / 2;
        const heard = alone === null || alone === row;
        context.fillStyle = style.getPropertyValue('--line');
        context.fillRect(0, middle, width, 1);
        context.fillStyle = style.getPropertyValue(heard ? '--sky' : '--lane');
        const bins = outline.low.length;
        for (let x = 0; x < width; x += 1) {
          const [from, to] = [
            Math.floor((x * bins) / width),
            Math.max(Math.floor((x * bins) / width) + 1, Math.floor(((x + 1) * bins) / width)),
          ];
          let [low, high] = [0, 0];
          for (let bin = from; bin < to; bin += 1) {
            low = Math.min(low, outline.low[bin] ?? 0);
            high = Math.max(high, outline.high[bin] ?? 0);
          }
          // Drawn by the root, so that quiet rooms are seen beside a bell.
          const [up, down] = [Math.sqrt(high), Math.sqrt(-low)].map((size) => size * (rowHeight / 2 - 2)) as [
            number,
            number,
          ];
          if (up + down > 0.5) context.fillRect(x, middle - up, 1, up + down);
        }
      });
    };
    draw();
    const watcher = new ResizeObserver(draw);
    watcher.observe(target);
    return () => watcher.disconnect();
  }, [outlines, alone]);
  return (
    <span className="relative mt-2 block">
      <canvas
        ref={canvas}
        role="img"
        aria-label={`Sound of ${outlines.length} channel${outlines.length === 1 ? '' : 's'}`}
        className="block w-full"
        style={{ height: outlines.length * rowHeight }}
      />
      {outlines.map((outline, row) => (
        <span
          key={`${outline.track} ${outline.channel}`}
          aria-hidden
          className="absolute left-1 rounded bg-sheet/80 px-1 font-mono text-[11px] leading-4 text-dim"
          style={{ top: row * rowHeight + 2 }}
        >
          {row + 1}
        </span>
      ))}
    </span>
  );
}
