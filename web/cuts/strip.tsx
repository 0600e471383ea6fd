import type { CutEventLine, RehearsalAnswer } from '@relay/contract/cuts';
import { useEffect, useMemo, useReducer, useRef, useState, type PointerEvent } from 'react';
import { counted, kindOf, kinds, type Kind } from './grades.ts';
import { stripTicks, within, zoomed, type StripView } from './stripView.ts';

/** Pixels of a track, of what is above them, and of their names. */
const [laneHeight, head, names] = [22, 20, 40];

interface StripProps {
  rehearsal: RehearsalAnswer;
  view: StripView;
  onView: (view: StripView) => void;
  at: number | null;
  onAt: (index: number) => void;
  /** A frame of the record as its label's first eight letters. */
  clock: (frame: number) => string;
  perSecond: number;
}

/** The cut against its record time: tracks above each other, every event in the shape and colour of its grade. */
export function Strip({ rehearsal, view, onView, at, onAt, clock, perSecond }: StripProps) {
  const { tracks, events, record } = rehearsal;
  const canvas = useRef<HTMLCanvasElement>(null);
  const [width, setWidth] = useState(800);
  const height = head + Math.max(1, tracks.length) * laneHeight;
  const lanes = useMemo(() => new Map(tracks.map(({ id }, index) => [id, index])), [tracks]);
  useEffect(() => {
    const box = canvas.current?.parentElement;
    if (!box) return undefined;
    const watch = new ResizeObserver(([entry]) => setWidth(Math.max(200, entry?.contentRect.width ?? 0)));
    watch.observe(box);
    return () => watch.disconnect();
  }, []);
  // Colours are read as it is drawn.
  const [, drawAgain] = useReducer((times: number) => times + 1, 0);
  useEffect(() => {
    const watch = new MutationObserver(drawAgain);
    watch.observe(document.documentElement, { attributes: true });
    return () => watch.disconnect();
  }, []);
  const frameAt = (x: number): number => view.from + ((x - names) / (width - names)) * (view.to - view.from);
  useEffect(() => {
    const context = canvas.current?.getContext('2d');
    if (context) draw(context, { rehearsal, view, at, lanes, width, height, clock, perSecond });
  });
  // A wheel's page would scroll besides.
  useEffect(() => {
    const element = canvas.current;
    const turn = (event: WheelEvent): void => {
      event.preventDefault();
      const x = event.clientX - (element?.getBoundingClientRect().left ?? 0);
      const by = ((view.to - view.from) / (width - names)) * event.deltaX;
      onView(
        Math.abs(event.deltaX) > Math.abs(event.deltaY)
          ? within({ from: view.from + by, to: view.to + by }, record)
          : zoomed(view, Math.exp(-event.deltaY / 400), frameAt(x), record),
      );
    };
    element?.addEventListener('wheel', turn, { passive: false });
    return () => element?.removeEventListener('wheel', turn);
  });
  const choose = (event: PointerEvent): void => {
    const box = event.currentTarget.getBoundingClientRect();
    const frame = frameAt(event.clientX - box.left);
    const track = tracks[Math.floor((event.clientY - box.top - head) / laneHeight)]?.id;
    const found = events.findLast(
      ({ record: { from, to }, tracks: on }) =>
        track !== undefined && on.includes(track) && from <= frame && frame < to,
    );
    if (found) onAt(found.index);
  };
  const counts = counted(events);
  return (
    <canvas
      ref={canvas}
      role="img"
      aria-label={`The cut against its record: ${kinds.map((kind) => `${counts[kind]} ${kind}`).join(', ')}`}
      onPointerDown={choose}
      style={{ width, height }}
      className="block cursor-pointer touch-none"
    />
  );
}

interface Drawing {
  rehearsal: RehearsalAnswer;
  view: StripView;
  at: number | null;
  lanes: ReadonlyMap<string, number>;
  width: number;
  height: number;
  clock: (frame: number) => string;
  perSecond: number;
}

function draw(context: CanvasRenderingContext2D, drawing: Drawing): void {
  const { rehearsal, view, at, lanes, width, height } = drawing;
  const { canvas } = context;
  const sharp = window.devicePixelRatio || 1;
  [canvas.width, canvas.height] = [width * sharp, height * sharp];
  context.setTransform(sharp, 0, 0, sharp, 0, 0);
  const style = getComputedStyle(canvas);
  const colour = (name: string): string => style.getPropertyValue(`--${name}`).trim();
  const x = (frame: number): number => names + ((frame - view.from) / (view.to - view.from)) * (width - names);
  context.font = `11px ${style.getPropertyValue('--font-mono') || 'monospace'}`;
  context.textBaseline = 'middle';
  drawHead(context, drawing, x, colour);
  for (const [id, lane] of lanes) {
    context.fillStyle = colour('line');
    context.fillRect(names, head + lane * laneHeight + laneHeight - 1, width - names, 1);
    context.fillStyle = colour('dim');
    context.fillText(id, 4, head + lane * laneHeight + laneHeight / 2);
  }
  context.save();
  context.beginPath();
  context.rect(names, 0, width - names, height);
  context.clip();
  for (const event of rehearsal.events) {
    const { record } = event;
    if (record.to < view.from || record.from > view.to) continue;
    for (const track of event.tracks) {
      const lane = lanes.get(track);
      if (lane === undefined) continue;
      const [left, right] = [x(record.from), x(record.to)];
      drawEvent(
        context,
        event,
        { left, width: Math.max(1.5, right - left - 1), top: head + lane * laneHeight + 2 },
        colour,
      );
      if (event.index === at) {
        context.strokeStyle = colour('clay');
        context.lineWidth = 2;
        context.strokeRect(left - 1, head + lane * laneHeight + 1, Math.max(3, right - left), laneHeight - 3);
      }
    }
  }
  for (const marker of rehearsal.markers) {
    context.fillStyle = colour('sky');
    context.fillRect(x(marker.at), head - 5, 2, 5);
  }
  context.restore();
}

function drawHead(
  context: CanvasRenderingContext2D,
  { rehearsal, view, width, clock, perSecond }: Drawing,
  x: (frame: number) => number,
  colour: (name: string) => string,
): void {
  context.fillStyle = colour('faint');
  for (const frame of stripTicks(view, perSecond, rehearsal.record.from, Math.max(2, (width - names) / 90))) {
    const at = x(frame);
    if (at < names || at > width - 52) continue;
    context.fillRect(at, head - 4, 1, 4);
    context.fillText(clock(frame), at + 3, 8);
  }
}

const colours: Readonly<Record<Kind, string>> = {
  found: 'teal',
  nearly: 'amber',
  several: 'amber',
  'not found': 'rose',
};

/** A whole bar is found; one that stops short nearly; two are several; an empty one with a stroke is not found. */
function drawEvent(
  context: CanvasRenderingContext2D,
  { grade }: CutEventLine,
  { left, width, top }: { left: number; width: number; top: number },
  colour: (name: string) => string,
): void {
  const height = laneHeight - 5;
  if (grade === null) {
    context.fillStyle = colour('raised');
    context.fillRect(left, top + height / 2 - 1, width, 2);
    return;
  }
  const kind = kindOf(grade);
  context.fillStyle = colour(colours[kind]);
  switch (kind) {
    case 'found':
      context.fillRect(left, top, width, height);
      return;
    case 'nearly':
      context.fillRect(left, top + height / 2, width, height / 2);
      return;
    case 'several':
      context.fillRect(left, top, width, height / 3);
      context.fillRect(left, top + (2 * height) / 3, width, height / 3);
      return;
    case 'not found':
      context.strokeStyle = colour(colours[kind]);
      context.lineWidth = 1.5;
      context.strokeRect(left + 0.75, top + 0.75, Math.max(0.5, width - 1.5), height - 1.5);
      context.beginPath();
      context.moveTo(left, top + height);
      context.lineTo(left + Math.min(width, 2 * height), top);
      context.stroke();
  }
}
