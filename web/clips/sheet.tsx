import type { ClipLine, ClipSort, LegState } from '@relay/contract/api';
import { formatLength } from '@relay/core/time/timecode';
import { formatRaster } from '@relay/core/shape/raster';
import { useVirtualizer } from '@tanstack/react-virtual';
import { useEffect, useRef, type MouseEvent } from 'react';
import { Bytes } from '../ui/pieces.tsx';
import { sayDepth, sayRate } from '../ui/format.ts';
import { stateColour } from '../ui/stateMark.tsx';
import type { SheetLine } from './groups.ts';
import type { Selection } from './selection.ts';

interface Column {
  name: string;
  sort?: ClipSort;
  width: string;
  right?: boolean;
  /** Left out while the docket takes its room: it says the same. */
  roomyOnly?: boolean;
}

const columns: readonly Column[] = [
  { name: '', width: '74px' },
  { name: 'Clip', sort: 'name', width: 'minmax(92px,1fr)' },
  { name: 'Starts', sort: 'starts', width: '92px' },
  { name: 'Length', sort: 'length', width: '92px' },
  { name: 'Raster', sort: 'raster', width: '84px', right: true, roomyOnly: true },
  { name: 'Depth', width: '50px', roomyOnly: true },
  { name: 'Rate', sort: 'rate', width: '54px', right: true },
  { name: 'Sound', width: '46px', right: true },
  { name: 'Size', sort: 'size', width: '70px', right: true },
  { name: 'To know', sort: 'notes', width: 'minmax(120px,1.6fr)' },
  { name: 'Way', width: '84px' },
];

function templateOf(narrow: boolean): { gridTemplateColumns: string } {
  return { gridTemplateColumns: columns.filter((column) => !(narrow && column.roomyOnly)).map((column) => column.width).join(' ') };
}

export interface SheetProps {
  lines: readonly SheetLine[];
  selection: Selection;
  sort: ClipSort;
  direction: 'up' | 'down';
  dense: boolean;
  narrow: boolean;
  onSort: (sort: ClipSort) => void;
  onRow: (id: string, event: MouseEvent) => void;
  onHeading: (ids: string[]) => void;
}

/** The clips of a production; only the rows in view are in the page, so ten thousand are as light as ten. */
export function Sheet({ lines, selection, sort, direction, dense, narrow, onSort, onRow, onHeading }: SheetProps) {
  const scroller = useRef<HTMLDivElement>(null);
  const rows = useVirtualizer({
    count: lines.length, getScrollElement: () => scroller.current, overscan: 12,
    estimateSize: (index) => (lines[index]?.kind === 'heading' ? 30 : dense ? 30 : 40),
    getItemKey: (index) => {
      const line = lines[index];
      return line?.kind === 'clip' ? line.clip.id : `heading ${line?.key ?? index}`;
    },
  });
  useEffect(() => rows.measure(), [dense, lines, rows]);
  const at = lines.findIndex((line) => line.kind === 'clip' && line.clip.id === selection.at);
  useEffect(() => {
    if (at >= 0) rows.scrollToIndex(at, { align: 'auto' });
  }, [at, rows]);
  return (
    <div ref={scroller} className="min-h-0 flex-1 overflow-auto" tabIndex={0} role="grid" aria-label="Clips" aria-multiselectable aria-rowcount={lines.length} aria-activedescendant={selection.at ? `clip-${selection.at}` : undefined}>
      <div className="min-w-[800px]">
        <div role="row" className="sticky top-0 z-10 grid items-center gap-x-3 border-b border-line bg-sheet px-5 py-2 text-dim" style={templateOf(narrow)}>
          {columns.filter((column) => !(narrow && column.roomyOnly)).map((column) => (
            <div key={column.name} role="columnheader" aria-sort={column.sort === sort ? (direction === 'up' ? 'ascending' : 'descending') : undefined} className={column.right ? 'text-right' : ''}>
              {column.sort
                ? <button type="button" onClick={() => onSort(column.sort as ClipSort)} className={column.sort === sort ? 'text-ink' : 'hover:text-ink'}>{column.name}{column.sort === sort && <span aria-hidden> {direction === 'up' ? '↑' : '↓'}</span>}</button>
                : column.name}
            </div>
          ))}
        </div>
        <div className="relative" style={{ height: rows.getTotalSize() }}>
          {rows.getVirtualItems().map((row) => {
            const line = lines[row.index];
            if (!line) return null;
            const style = { transform: `translateY(${row.start}px)`, height: row.size };
            return line.kind === 'heading'
              ? (
                <div key={row.key} role="row" className="absolute inset-x-0 top-0 flex items-center border-b border-line/60 px-5 text-dim" style={style}>
                  <button type="button" role="gridcell" onClick={() => onHeading(line.ids)} title="Select this group" className="truncate font-medium hover:text-ink">{line.text}</button>
                </div>
              )
              : <ClipRow key={row.key} clip={line.clip} dense={dense} narrow={narrow} chosen={selection.chosen.has(line.clip.id)} at={selection.at === line.clip.id} style={style} index={row.index} onRow={onRow} />;
          })}
        </div>
      </div>
    </div>
  );
}

interface RowProps {
  clip: ClipLine;
  dense: boolean;
  narrow: boolean;
  chosen: boolean;
  at: boolean;
  index: number;
  style: { transform: string; height: number };
  onRow: (id: string, event: MouseEvent) => void;
}

function ClipRow({ clip, dense, narrow, chosen, at, index, style, onRow }: RowProps) {
  const { description } = clip;
  const { video } = description;
  const first = clip.notes[0];
  return (
    <div
      id={`clip-${clip.id}`} role="row" aria-selected={chosen} aria-rowindex={index + 1} onClick={(event) => onRow(clip.id, event)}
      className={`absolute inset-x-0 top-0 grid items-center gap-x-3 border-b border-line/60 px-5 select-none ${chosen ? 'bg-raised' : 'hover:bg-raised/50'} ${at ? 'shadow-[inset_3px_0_0_var(--sky)]' : ''}`}
      style={{ ...templateOf(narrow), ...style }}
    >
      <span role="gridcell" className="flex items-center">
        {clip.poster
          ? <img src={`/api/clips/${clip.id}/poster`} alt="" loading="lazy" className={`${dense ? 'h-6' : 'h-[34px]'} max-w-[60px] rounded-[3px] bg-neutral-surround object-contain`} />
          : <span className={`${dense ? 'h-6' : 'h-[34px]'} w-[60px] rounded-[3px] bg-neutral-surround`} />}
      </span>
      <span role="gridcell" className="truncate font-semibold" title={clip.path}>{clip.stem}</span>
      <span role="gridcell" className="truncate font-mono">{description.timecode?.start ?? <span className="text-faint">none</span>}</span>
      <span role="gridcell" className="truncate font-mono">{video ? formatLength(video.frames, video.rate) : ''}</span>
      {!narrow && <span role="gridcell" className="truncate text-right font-mono text-dim">{video ? formatRaster(video.raster) : ''}</span>}
      {!narrow && <span role="gridcell" className="truncate font-mono text-dim">{video ? sayDepth(video) : ''}</span>}
      <span role="gridcell" className="text-right font-mono">{video ? sayRate(video) : ''}</span>
      <span role="gridcell" className="text-right font-mono text-dim" title={`${description.audio.length} tracks`}>{description.audio.reduce((sum, track) => sum + track.channels, 0) || '–'}</span>
      <span role="gridcell" className="text-right"><Bytes value={description.sizeBytes} /></span>
      <span role="gridcell" className="flex items-center gap-2 truncate">
        {first
          ? (
            <>
              <span aria-hidden className={first.level === 'decide' ? 'size-2 shrink-0 rotate-45 bg-amber' : 'size-1.5 shrink-0 rounded-full bg-faint'} />
              <span className={`truncate ${first.level === 'decide' ? '' : 'text-dim'}`} title={clip.notes.map((note) => note.text).join('; ')}>{clip.notes.map((note) => note.text).join('; ')}</span>
            </>
          )
          : <span className="text-faint">nothing</span>}
      </span>
      <span role="gridcell"><Way way={clip.way} /></span>
    </div>
  );
}

/** The clip's way so far: a stretch of lane for each deliverable. */
function Way({ way }: { way: ClipLine['way'] }) {
  const lanes = way.length > 0 ? way : [{ role: 'intermediate', state: 'waiting' as LegState, share: 0 }, { role: 'proxy', state: 'waiting' as LegState, share: 0 }];
  const words = way.length > 0 ? way.map((lane) => `${lane.role}: ${lane.state}`).join(', ') : 'nothing run yet';
  return (
    <span role="img" aria-label={words} title={words} className="flex gap-1">
      {lanes.map((lane) => {
        const under = lane.state === 'running' || lane.state === 'proving';
        return (
          <span key={lane.role} className="h-[5px] flex-1 overflow-hidden rounded-full bg-lane">
            {lane.state !== 'waiting' && <span className={`block h-full rounded-full ${stateColour[lane.state]}`} style={{ width: under ? `${Math.max(6, lane.share * 100)}%` : '100%' }} />}
          </span>
        );
      })}
    </span>
  );
}
