import type { Comparison } from '@relay/contract/checks';
import {
  useEffect,
  useLayoutEffect,
  useRef,
  useState,
  type KeyboardEvent,
  type PointerEvent,
  type WheelEvent,
} from 'react';
import type { Planes } from '../api/planes.ts';
import { PairPicture, type SideName } from './pairGl.ts';
import { movingOn, type OnDrawn } from './moving.ts';
import type { Laid } from './movingMessages.ts';
import { centreOf, dragged, scaleOf, type Looking, type Place, type View, type Zoom } from './view.ts';

/** What somebody chose of how the two are looked at. */
export interface Choice {
  looking: Looking;
  zoom: Zoom;
  gain: number;
  /** Share of the width left of which the left one is seen. */
  wipe: number;
  /** Shares of what is seen, in the middle. */
  centre: Place;
}

/** The canvas's size in dots of the screen. */
interface Dots {
  width: number;
  height: number;
}

interface PairViewProps {
  both: Comparison;
  choice: Choice;
  /** Which of two that take turns is up. */
  blinking: 'left alone' | 'right alone' | null;
  label: string;
  onChoice: (change: Partial<Choice>) => void;
  onDots: (dots: Dots) => void;
  /** Told what draws, for whoever has a picture. */
  onDrawer: (drawer: Drawer | null) => void;
  onProblem: (why: string) => void;
}

/** Draws what somebody hands over: frames in full depth, or the picture of the stream that is up. */
export interface Drawer {
  still: (frames: Readonly<Record<SideName, Planes>>) => void;
  moving: (video: HTMLVideoElement, drawn: OnDrawn) => void;
}

/** So near to the wipe's line, in dots of the page, it is the line that is dragged. */
const nearLine = 14;

/** What stands and what moves lie on each other, each drawn in its own way; one of them is seen. */
function seenAs(label: string | null) {
  return label === null
    ? ({ 'aria-hidden': true, className: 'invisible absolute inset-0 size-full' } as const)
    : ({ role: 'img', 'aria-label': label, className: 'absolute inset-0 size-full' } as const);
}

/** Two pictures on one canvas, moved, enlarged and wiped together. */
export function PairView(props: PairViewProps) {
  const { both, choice, blinking, label, onChoice, onDots, onDrawer, onProblem } = props;
  const place = useRef<HTMLDivElement>(null);
  const [canvas, setCanvas] = useState<HTMLCanvasElement | null>(null);
  const [plain, setPlain] = useState<HTMLDivElement | null>(null);
  const [moves, setMoves] = useState(false);
  const [dots, setDots] = useState<Dots>({ width: 0, height: 0 });
  const grip = useRef<{ at: Place; centre: Place; line: boolean } | null>(null);
  const tell = useRef({ onDots, onDrawer, onProblem });
  useEffect(() => {
    tell.current = { onDots, onDrawer, onProblem };
  });
  useEffect(() => {
    const target = place.current;
    if (!target) return;
    const watcher = new ResizeObserver(() => {
      const ratio = window.devicePixelRatio || 1;
      const now = {
        width: Math.floor(target.clientWidth * ratio),
        height: Math.floor(target.clientHeight * ratio),
      };
      setDots(now);
      tell.current.onDots(now);
    });
    watcher.observe(target);
    return () => watcher.disconnect();
  }, []);

  const looking = blinking ?? choice.looking;
  const { zoom, wipe, gain } = choice;
  const scale = scaleOf(both, choice.looking, zoom, dots);
  const view: View = {
    looking,
    wipe,
    gain,
    scale,
    centre: centreOf(both, choice.looking, zoom, choice.centre),
    smoothly: zoom === 'fit' || looking === 'difference',
  };
  const current = useRef({ both, view, dots });
  const redraw = useRef<() => void>(() => undefined);
  // Before anything is seen: a canvas of another size is empty.
  useLayoutEffect(() => {
    current.current = { both, view, dots };
    redraw.current();
  });
  useEffect(() => {
    if (!canvas || !plain) return;
    // A canvas keeps the first kind of drawing that it is asked for: each time there is another.
    const moved = document.createElement('canvas');
    moved.className = 'size-full';
    plain.append(moved);
    const moving = movingOn(moved);
    const laid = (): Laid => {
      const { both: now, view: how, dots: size } = current.current;
      return { both: now, view: how, width: Math.max(1, size.width), height: Math.max(1, size.height) };
    };
    let turn = 0;
    let picture: PairPicture | null = null;
    try {
      picture = new PairPicture(canvas);
    } catch (error) {
      tell.current.onProblem((error as Error).message);
    }
    redraw.current = () => picture?.clear();
    redraw.current();
    tell.current.onDrawer({
      still: (frames) => {
        turn += 1;
        for (const side of ['against', 'output'] as const) picture?.setStill(side, frames[side]);
        redraw.current = () => picture?.draw(current.current.both, current.current.view);
        redraw.current();
        setMoves(false);
      },
      moving: (video, drawn) => {
        const mine = turn;
        moving.show(video, laid(), (seconds) => {
          // What was drawn after somebody stopped is not seen any more.
          if (mine !== turn) return;
          redraw.current = () => moving.lay(laid());
          setMoves(true);
          drawn(seconds);
        });
      },
    });
    return () => {
      moving.end();
      moved.remove();
      redraw.current = () => undefined;
      tell.current.onDrawer(null);
    };
  }, [canvas, plain]);

  const at = (event: PointerEvent<HTMLDivElement>): { x: number; y: number; width: number } => {
    const box = event.currentTarget.getBoundingClientRect();
    return { x: event.clientX - box.left, y: event.clientY - box.top, width: box.width };
  };
  const move = (event: PointerEvent<HTMLDivElement>): void => {
    if (!grip.current) return;
    const { x, y, width } = at(event);
    if (grip.current.line) {
      onChoice({ wipe: Math.min(1, Math.max(0, x / width)) });
      return;
    }
    const ratio = dots.width / width;
    const by = { x: (x - grip.current.at.x) * ratio, y: (y - grip.current.at.y) * ratio };
    onChoice({ centre: dragged(both, choice.looking, grip.current.centre, by, scale) });
  };
  const pan = (by: Place): void =>
    onChoice({ centre: dragged(both, choice.looking, choice.centre, { x: -by.x, y: -by.y }, scale) });
  const onWheel = (event: WheelEvent<HTMLDivElement>): void => {
    if (zoom !== 'fit') pan({ x: event.deltaX, y: event.deltaY });
  };
  const onKeyDown = (event: KeyboardEvent<HTMLDivElement>): void => {
    const step = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[event.key];
    if (!step || !(event.ctrlKey || event.metaKey) || zoom === 'fit') return;
    event.preventDefault();
    pan({ x: ((step[0] ?? 0) * dots.width) / 8, y: ((step[1] ?? 0) * dots.height) / 8 });
  };
  const pointer =
    choice.looking === 'wipe' && zoom === 'fit' ? 'cursor-ew-resize' : zoom === 'fit' ? '' : 'cursor-grab';
  return (
    <div
      ref={place}
      role="group"
      aria-label="Pictures"
      tabIndex={0}
      className={`relative min-h-0 flex-1 touch-none overflow-hidden ${pointer}`}
      onPointerDown={(event) => {
        const { x, y, width } = at(event);
        const line = choice.looking === 'wipe' && (zoom === 'fit' || Math.abs(x - wipe * width) < nearLine);
        if (zoom === 'fit' && !line) return;
        grip.current = { at: { x, y }, centre: choice.centre, line };
        event.currentTarget.setPointerCapture(event.pointerId);
        move(event);
      }}
      onPointerMove={move}
      onPointerUp={() => {
        grip.current = null;
      }}
      onPointerCancel={() => {
        grip.current = null;
      }}
      onWheel={onWheel}
      onKeyDown={onKeyDown}
    >
      <canvas
        ref={setCanvas}
        width={Math.max(1, dots.width)}
        height={Math.max(1, dots.height)}
        {...seenAs(moves ? null : label)}
      />
      <div ref={setPlain} {...seenAs(moves ? label : null)} />
    </div>
  );
}
