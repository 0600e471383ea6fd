import type { BenchAnswer } from '@relay/contract/colour';
import type { OutputPlan } from '@relay/core/recipe/plan';
import type { Geometry } from '@relay/core/shape/geometry';
import { exactShares } from '@relay/core/shape/geometry';
import { codecRow } from '@relay/core/recipe/codecs';
import { formatRaster } from '@relay/core/shape/raster';
import { formatFraction, toNumber } from '@relay/core/time/rational';
import { useEffect, useRef, useState } from 'react';
import { problemOf } from '../ui/pieces.tsx';
import { useStill } from './still.ts';

interface Box { x: number; y: number; width: number; height: number }

/** The largest box of a shape inside another, in its middle. */
function inside(outer: Box, aspect: number): Box {
  const width = Math.min(outer.width, outer.height * aspect);
  const height = width / aspect;
  return { x: outer.x + (outer.width - width) / 2, y: outer.y + (outer.height - height) / 2, width, height };
}

const padded = { black: '#000', grey: '#7e7e7e', white: '#fff' } as const;

/** The picture as stored and as it will be, each at its true shape on screen, with what is used and where it lies. */
export function ShapeView({ bench, outputs, frame }: { bench: BenchAnswer; outputs: readonly OutputPlan[]; frame: number }) {
  const video = bench.description.video as NonNullable<BenchAnswer['description']['video']>;
  const { image, error } = useStill(bench.clip, frame, 1280);
  const [which, setWhich] = useState(0);
  const output = outputs[Math.min(which, outputs.length - 1)];
  const geometry = output?.video.geometry;
  const [marks, setMarks] = useState({ guides: true, circle: false });
  const canvas = useRef<HTMLCanvasElement>(null);
  const place = useRef<HTMLDivElement>(null);
  const [size, setSize] = useState({ width: 0, height: 0 });
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
    context.fillStyle = '#2b2b2b';
    context.fillRect(0, 0, size.width, size.height);
    if (!image || !geometry) return;
    const half = size.width / 2;
    drawBefore(context, inside({ x: 10, y: 8, width: half - 16, height: size.height - 16 }, (video.raster.width * toNumber(video.pixelAspect)) / video.raster.height), image, geometry, video.raster, marks.circle);
    drawAfter(context, inside({ x: half + 6, y: 8, width: half - 16, height: size.height - 16 }, (geometry.raster.width * toNumber(geometry.pixelAspect)) / geometry.raster.height), image, geometry, video, marks);
  }, [image, geometry, size, marks, video]);
  const look = (on: boolean): string => `h-7 rounded px-2 ${on ? 'bg-[#4a4a4a] text-white' : 'text-[#c8c8c8] hover:text-white'}`;
  return (
    <>
      <div className="flex h-10 shrink-0 items-center gap-3 px-3">
        <span role="group" aria-label="Shown for" className="flex">{outputs.map((one, index) => <button key={one.path} type="button" aria-pressed={output === one} onClick={() => setWhich(index)} className={look(output === one)}>{one.deliverable}</button>)}</span>
        <span role="group" aria-label="Marks" className="ml-auto flex">
          <button type="button" aria-pressed={marks.guides} onClick={() => setMarks({ ...marks, guides: !marks.guides })} className={look(marks.guides)}>Guides</button>
          <button type="button" aria-pressed={marks.circle} onClick={() => setMarks({ ...marks, circle: !marks.circle })} className={look(marks.circle)}>Circle test</button>
        </span>
      </div>
      {error && <p role="alert" className="px-4 py-2">{problemOf(error).what}. {problemOf(error).remedy}.</p>}
      <div ref={place} className="relative min-h-0 flex-1"><canvas ref={canvas} role="img" aria-label="The picture as stored, and as it will be at its true shape" className="absolute inset-0 size-full" /></div>
      <div className="flex shrink-0 justify-between px-3 py-1.5"><span>As stored, as tagged</span><span>{output?.deliverable ?? ''}</span></div>
      {geometry && output && (
        <table className="mx-3 mb-3 shrink-0 text-left font-mono text-[12px]">
          <thead className="font-sans text-[#a8a8a8]"><tr><th scope="col" className="py-1 font-normal">Stage</th><th scope="col" className="font-normal">Raster</th><th scope="col" className="font-normal">Pixels</th><th scope="col" className="text-right font-normal">Shown as</th></tr></thead>
          <tbody>
            {geometry.stages.map((stage) => <tr key={stage.name} className="border-t border-[#444]"><td className="py-1 font-sans">{stage.name}</td><td>{formatRaster(stage.raster)}</td><td>{formatFraction(stage.pixelAspect, ':')}</td><td className="text-right">{toNumber(stage.displayAspect).toFixed(4)}:1</td></tr>)}
            <tr className="border-t border-[#444]">
              <td className="py-1 font-sans">active area</td><td>{formatRaster(geometry.active)}</td><td>at {geometry.active.x}, {geometry.active.y}</td>
              <td className="text-right">{Math.abs(geometry.aspectError) < 1e-9 ? 'shape exact' : `${(Math.abs(geometry.aspectError) * 100).toFixed(4)} % too ${geometry.aspectError > 0 ? 'wide' : 'narrow'}`}</td>
            </tr>
            <tr className="border-t border-[#444]"><td className="py-1 font-sans">exact smaller</td><td colSpan={3}>{exactShares(geometry.raster, codecRow(output.codec).steps).map((share) => `1/${share.of} ${formatRaster(share.raster)}`).join('   ') || 'none'}</td></tr>
          </tbody>
        </table>
      )}
    </>
  );
}

/** The whole stored picture, what is not used of it dimmed. */
function drawBefore(context: CanvasRenderingContext2D, box: Box, image: ImageBitmap, { window, turn, scaled }: Geometry, raster: { width: number; height: number }, circle: boolean): void {
  context.drawImage(image, box.x, box.y, box.width, box.height);
  const [sx, sy] = [box.width / raster.width, box.height / raster.height];
  const used = { x: box.x + window.x * sx, y: box.y + window.y * sy, width: window.width * sx, height: window.height * sy };
  context.fillStyle = 'rgba(0, 0, 0, 0.6)';
  context.fillRect(box.x, box.y, box.width, used.y - box.y);
  context.fillRect(box.x, used.y + used.height, box.width, box.y + box.height - used.y - used.height);
  context.fillRect(box.x, used.y, used.x - box.x, used.height);
  context.fillRect(used.x + used.width, used.y, box.x + box.width - used.x - used.width, used.height);
  context.strokeStyle = '#d9d9d9';
  context.lineWidth = 1;
  context.strokeRect(used.x + 0.5, used.y + 0.5, used.width - 1, used.height - 1);
  if (!circle) return;
  // What becomes a circle: as wide here as the scaling will make it round.
  const upright = turn.quarters % 2 === 0 ? scaled : { width: scaled.height, height: scaled.width };
  const radius = Math.min(upright.width, upright.height) * 0.4;
  context.beginPath();
  context.ellipse(used.x + used.width / 2, used.y + used.height / 2, (radius / upright.width) * used.width, (radius / upright.height) * used.height, 0, 0, Math.PI * 2);
  context.stroke();
}

/** The output's raster: the picture in its active area, and what is around it. */
function drawAfter(context: CanvasRenderingContext2D, box: Box, image: ImageBitmap, geometry: Geometry, video: { raster: { width: number; height: number }; quarterTurns: number }, marks: { guides: boolean; circle: boolean }): void {
  const { raster, active, view, scaled, window, turn } = geometry;
  const [sx, sy] = [box.width / raster.width, box.height / raster.height];
  context.fillStyle = padded[geometry.padColour];
  context.fillRect(box.x, box.y, box.width, box.height);
  const shown = { x: box.x + active.x * sx, y: box.y + active.y * sy, width: active.width * sx, height: active.height * sy };
  context.save();
  context.beginPath();
  context.rect(shown.x, shown.y, shown.width, shown.height);
  context.clip();
  const whole = { x: shown.x - view.x * sx, y: shown.y - view.y * sy, width: scaled.width * sx, height: scaled.height * sy };
  context.translate(whole.x + whole.width / 2, whole.y + whole.height / 2);
  context.scale(turn.across ? -1 : 1, turn.down ? -1 : 1);
  const turns = (video.quarterTurns + turn.quarters) % 4;
  context.rotate((turns * Math.PI) / 2);
  const [width, height] = turns % 2 === 0 ? [whole.width, whole.height] : [whole.height, whole.width];
  const [fx, fy] = [image.width / video.raster.width, image.height / video.raster.height];
  context.drawImage(image, window.x * fx, window.y * fy, window.width * fx, window.height * fy, -width / 2, -height / 2, width, height);
  context.restore();
  context.lineWidth = 1;
  if (marks.guides) {
    context.strokeStyle = 'rgba(255, 255, 255, 0.45)';
    // Title-safe area, nine tenths each way (SMPTE ST 2046-1), and the middle.
    context.strokeRect(shown.x + shown.width * 0.05, shown.y + shown.height * 0.05, shown.width * 0.9, shown.height * 0.9);
    context.beginPath();
    context.moveTo(shown.x + shown.width / 2, shown.y + shown.height / 2 - 8);
    context.lineTo(shown.x + shown.width / 2, shown.y + shown.height / 2 + 8);
    context.moveTo(shown.x + shown.width / 2 - 8, shown.y + shown.height / 2);
    context.lineTo(shown.x + shown.width / 2 + 8, shown.y + shown.height / 2);
    context.stroke();
  }
  if (marks.circle) {
    context.strokeStyle = '#d9d9d9';
    context.beginPath();
    context.arc(whole.x + whole.width / 2, whole.y + whole.height / 2, Math.min(whole.width, whole.height) * 0.4, 0, Math.PI * 2);
    context.stroke();
  }
}
