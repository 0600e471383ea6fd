import type { LegLine } from '@relay/contract/runs';
import type { Stretch } from '@relay/core/size/lanes';
import { useVirtualizer } from '@tanstack/react-virtual';
import { useEffect, useRef } from 'react';
import { DragLegs, useLegDrag } from './dragLegs.tsx';
import { rowLook } from '../ui/rowLook.ts';
import { sayClock, saySpan } from '../ui/format.ts';
import { standingOfLeg } from '../ui/standing.ts';
import { Stands } from '../ui/stands.tsx';
import { stateColour } from '../ui/stateMark.tsx';

export interface LanesProps {
  legs: readonly LegLine[];
  stretches: ReadonlyMap<string, Stretch>;
  from: number;
  until: number;
  now: number;
  at: string | null;
  onAt: (id: string) => void;
  /** A leg that waits was drawn to just before another. */
  onMove: (leg: string, before: string) => void;
}

/** Round steps for the clock above the lanes, in seconds. */
const steps = [1, 2, 5, 10, 15, 30, 60, 120, 300, 600, 900, 1800, 3600, 7200, 14_400];

function ticks(from: number, until: number): number[] {
  const step = (steps.find((seconds) => (until - from) / 1000 / seconds <= 9) ?? 28_800) * 1000;
  const first = Math.ceil(from / step) * step;
  return Array.from({ length: Math.floor((until - first) / step) + 1 }, (_, index) => first + index * step);
}

/** Legs as lanes against the clock: done to the left of the clay line, planned to the right of it. */
export function Lanes({ legs, stretches, from, until, now, at, onAt, onMove }: LanesProps) {
  const scroller = useRef<HTMLDivElement>(null);
  const rows = useVirtualizer({
    count: legs.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => 34,
    overscan: 10,
    getItemKey: (index) => legs[index]?.id ?? index,
  });
  const index = legs.findIndex((leg) => leg.id === at);
  useEffect(() => {
    if (index >= 0) rows.scrollToIndex(index, { align: 'auto' });
  }, [index, rows]);
  const place = (time: number): number => (100 * (time - from)) / (until - from);
  const several = legs.some((leg) => leg.wave > 1);
  const short = until - from < 15 * 60_000;
  const marks = ticks(from, until).filter((time) => place(time) > 2 && place(time) < 97);
  return (
    <div className="flex min-h-0 flex-1 flex-col">
      <div className="ml-[188px] mr-[216px] h-6 border-b border-line" aria-hidden>
        <div className="relative h-full font-mono text-[11px] text-faint">
          {marks.map((time) => (
            <span
              key={time}
              className="absolute top-0 -translate-x-1/2 whitespace-nowrap"
              style={{ left: `${place(time)}%` }}
            >
              {sayClock(new Date(time), short)}
            </span>
          ))}
        </div>
      </div>
      <div
        ref={scroller}
        className="relative min-h-0 flex-1 overflow-auto"
        role="listbox"
        aria-label="Legs"
        tabIndex={0}
        aria-activedescendant={at ? `leg-${at}` : undefined}
      >
        <div className="relative" style={{ height: rows.getTotalSize() }}>
          <DragLegs legs={legs} onMove={onMove}>
            {rows.getVirtualItems().map((row) => {
              const leg = legs[row.index];
              return leg ? (
                <Lane
                  key={row.key}
                  leg={leg}
                  stretch={stretches.get(leg.id)}
                  now={now}
                  place={place}
                  at={leg.id === at}
                  several={several}
                  onAt={onAt}
                  style={{ top: row.start, height: row.size }}
                />
              ) : null;
            })}
          </DragLegs>
          {now > from && now < until && (
            <div aria-hidden className="pointer-events-none absolute inset-y-0 right-[216px] left-[188px]">
              <span className="absolute inset-y-0 w-0.5 -translate-x-1/2 bg-clay" style={{ left: `${place(now)}%` }} />
            </div>
          )}
        </div>
      </div>
    </div>
  );
}

interface LaneProps {
  leg: LegLine;
  stretch: Stretch | undefined;
  now: number;
  place: (time: number) => number;
  at: boolean;
  /** The run has more than one wave: lanes say what they make. */
  several: boolean;
  onAt: (id: string) => void;
  style: { top: number; height: number };
}

/** Where a leg lies along the clock, and how much of it is done. */
function LaneBar({ leg, stretch, now, place }: Pick<LaneProps, 'leg' | 'now' | 'place'> & { stretch: Stretch }) {
  const under = leg.state === 'running' || leg.state === 'proving';
  const left = place(stretch.start);
  const width = Math.max(0.4, place(stretch.end) - left);
  const done = under ? Math.min(100, (100 * (now - stretch.start)) / (stretch.end - stretch.start)) : 100;
  return (
    <span
      className="absolute top-1/2 h-[9px] -translate-y-1/2 overflow-hidden rounded-full bg-lane"
      style={{ left: `${left}%`, width: `${width}%` }}
    >
      {leg.state !== 'waiting' && leg.state !== 'held' && (
        <span
          className={`block h-full rounded-full transition-[width] duration-500 ${stateColour[leg.state]}`}
          style={{ width: `${done}%` }}
        />
      )}
    </span>
  );
}

/** How far a leg is, or how long it took. */
function sayLane({ state, framesDone, framesTotal, startedAt, endedAt }: LegLine): string | null {
  if (state === 'running') return `${Math.floor(framesTotal > 0 ? (100 * framesDone) / framesTotal : 0)} %`;
  const made = state === 'proved' || state === 'needs eyes';
  return made && startedAt && endedAt ? saySpan((Date.parse(endedAt) - Date.parse(startedAt)) / 1000) : null;
}

function Lane({ leg, stretch, now, place, at, several, onAt, style }: LaneProps) {
  const { attach, listeners, over, drawn } = useLegDrag(leg);
  return (
    <div
      ref={attach}
      {...listeners}
      id={`leg-${leg.id}`}
      role="option"
      aria-selected={at}
      onClick={() => onAt(leg.id)}
      style={style}
      className={`absolute inset-x-0 flex cursor-pointer items-center border-b border-line/60 ${over ? 'shadow-[inset_0_2px_0_var(--clay)]' : ''} ${drawn ? 'opacity-60' : ''} ${rowLook({ chosen: at })}`}
    >
      <span className="w-[188px] shrink-0 truncate pr-3 pl-6" title={leg.path}>
        <span className="font-semibold">{leg.stem}</span>{' '}
        <span className="text-faint">{several ? leg.makes : leg.roll}</span>
      </span>
      <span aria-hidden className="relative h-full min-w-0 flex-1">
        <span className="absolute inset-x-0 top-1/2 -translate-y-[4px] border-t border-line/50" />
        <span className="absolute inset-x-0 top-1/2 translate-y-[4px] border-t border-line/50" />
        {stretch && <LaneBar leg={leg} stretch={stretch} now={now} place={place} />}
      </span>
      <span className="flex w-[216px] shrink-0 items-center justify-between gap-2 pr-6 pl-4">
        <Stands as={standingOfLeg(leg)} />
        <span className="font-mono whitespace-nowrap text-dim">{sayLane(leg)}</span>
      </span>
    </div>
  );
}
