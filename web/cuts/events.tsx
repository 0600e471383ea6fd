import type { CutEventLine } from '@relay/contract/cuts';
import { useVirtualizer } from '@tanstack/react-virtual';
import { useEffect, useRef } from 'react';
import { GradeMark } from './gradeMark.tsx';

const look =
  'grid grid-cols-[44px_60px_92px_minmax(150px,1.3fr)_92px_124px_minmax(120px,1fr)] items-center gap-x-3 px-5';

interface EventsProps {
  events: readonly CutEventLine[];
  at: number | null;
  onAt: (index: number) => void;
}

/** The events as a sheet: what the list says, and what became of it. */
export function Events({ events, at, onAt }: EventsProps) {
  const scroller = useRef<HTMLDivElement>(null);
  const rows = useVirtualizer({
    count: events.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => 32,
    overscan: 12,
    getItemKey: (index) => events[index]?.index ?? index,
  });
  const place = events.findIndex(({ index }) => index === at);
  useEffect(() => {
    if (place >= 0) rows.scrollToIndex(place, { align: 'auto' });
  }, [place, rows]);
  return (
    <div ref={scroller} className="min-h-0 flex-1 overflow-auto">
      <div className="min-w-[760px]">
        <div className={`${look} sticky top-0 z-10 h-7 border-b border-line bg-ground text-dim`} aria-hidden>
          <span>Event</span>
          <span>Tracks</span>
          <span>Record in</span>
          <span>Reel, name</span>
          <span>Source in</span>
          <span>Found</span>
          <span>Original</span>
        </div>
        <div
          role="listbox"
          aria-label="Events"
          tabIndex={0}
          aria-activedescendant={place >= 0 ? `event-${at}` : undefined}
          className="relative"
          style={{ height: Math.max(32, rows.getTotalSize()) }}
        >
          {rows.getVirtualItems().map((row) => {
            const event = events[row.index];
            if (!event) return null;
            return (
              <div
                key={row.key}
                id={`event-${event.index}`}
                role="option"
                aria-selected={event.index === at}
                aria-setsize={events.length}
                aria-posinset={row.index + 1}
                onPointerDown={() => onAt(event.index)}
                className={`${look} absolute inset-x-0 h-8 cursor-pointer border-b border-line/60 ${event.index === at ? 'bg-raised' : 'hover:bg-raised/50'}`}
                style={{ top: row.start }}
              >
                <Cells event={event} />
              </div>
            );
          })}
        </div>
      </div>
    </div>
  );
}

function Cells({ event }: { event: CutEventLine }) {
  const { number, tracks, recordIn, reel, clip, file, sourceIn, grade, original, kind, speed, transition } = event;
  const named = [reel, clip].filter((one) => one !== null).join(' ') || (file ?? '');
  return (
    <>
      <span className="truncate font-mono text-dim" title={number}>
        {number}
      </span>
      <span className="truncate font-mono text-[12px] text-dim">{tracks.join(' ')}</span>
      <span className="font-mono">{recordIn}</span>
      <span className="truncate" title={[named, transition, speed].filter((one) => one !== null).join(', ')}>
        {kind === 'media' ? (
          named || <span className="text-faint">no name</span>
        ) : (
          <span className="text-faint">{kind === 'black' ? 'black' : 'made in the edit'}</span>
        )}
        {(speed ?? transition) !== null && (
          <span className="ml-2 text-dim">{[transition, speed].filter((one) => one !== null).join(', ')}</span>
        )}
      </span>
      <span className="font-mono">{kind === 'media' ? sourceIn : ''}</span>
      <span>{grade && <GradeMark grade={grade} />}</span>
      <span className="truncate text-dim" title={original?.path}>
        {original?.path}
      </span>
    </>
  );
}
