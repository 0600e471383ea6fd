import { clipRows } from '@relay/contract/routes/clips';
import { addressOf } from '../api/client.ts';
import type { LegState } from '@relay/contract/states';
import type { ClipLine, ClipSort } from '@relay/contract/clips';
import { formatLength } from '@relay/core/time/timecode';
import { formatRaster } from '@relay/core/shape/raster';
import { useVirtualizer } from '@tanstack/react-virtual';
import { useEffect, useRef, type MouseEvent } from 'react';
import { rowLook } from '../ui/rowLook.ts';
import { Bytes } from '../ui/pieces.tsx';
import { sayRate } from '../ui/format.ts';
import { LevelMark } from '../ui/levelMark.tsx';
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
  { name: '', width: '62px' },
  { name: 'Clip', sort: 'name', width: 'minmax(92px,1fr)' },
  { name: 'Roll', sort: 'roll', width: '50px' },
  { name: 'Scene', sort: 'scene', width: '58px' },
  { name: 'Starts', sort: 'starts', width: '92px' },
  { name: 'Length', sort: 'length', width: '92px' },
  { name: 'Raster', sort: 'raster', width: '80px', right: true, roomyOnly: true },
  { name: 'Depth', width: '48px', roomyOnly: true },
  { name: 'Rate', sort: 'rate', width: '54px', right: true },
  { name: 'Sound', width: '44px', right: true, roomyOnly: true },
  { name: 'Size', sort: 'size', width: '66px', right: true, roomyOnly: true },
  { name: 'To know', sort: 'notes', width: 'minmax(120px,1.6fr)' },
  { name: 'Way', width: '70px' },
];

function templateOf(narrow: boolean): { gridTemplateColumns: string } {
  return {
    gridTemplateColumns: columns
      .filter((column) => !(narrow && column.roomyOnly))
      .map((column) => column.width)
      .join(' '),
  };
}

export interface SheetProps {
  lines: readonly SheetLine[];
  clips: ReadonlyMap<string, ClipLine>;
  selection: Selection;
  sort: ClipSort;
  direction: 'up' | 'down';
  dense: boolean;
  narrow: boolean;
  onSort: (sort: ClipSort) => void;
  onRow: (id: string, event: MouseEvent) => void;
  onHeading: (ids: string[]) => void;
  onOpen: (id: string) => void;
  /** Which lines are in view, by their place among the clips. */
  onView: (first: number, last: number) => void;
}

/** The clips of a production; only the rows in view are in the page, so ten thousand are as light as ten. */
export function Sheet({
  lines,
  clips,
  selection,
  sort,
  direction,
  dense,
  narrow,
  onSort,
  onRow,
  onHeading,
  onOpen,
  onView,
}: SheetProps) {
  const scroller = useRef<HTMLDivElement>(null);
  const rows = useVirtualizer({
    count: lines.length,
    getScrollElement: () => scroller.current,
    overscan: 12,
    estimateSize: (index) => (lines[index]?.kind === 'heading' ? 30 : dense ? 30 : 40),
    getItemKey: (index) => {
      const line = lines[index];
      return line?.kind === 'clip' ? line.id : `heading ${line?.key ?? index}`;
    },
  });
  useEffect(() => rows.measure(), [dense, lines, rows]);
  const shown = rows.getVirtualItems();
  const [first, last] = [shown[0]?.index ?? 0, shown.at(-1)?.index ?? 0];
  useEffect(() => onView(first, last), [first, last, onView]);
  const at = lines.findIndex((line) => line.kind === 'clip' && line.id === selection.at);
  useEffect(() => {
    if (at >= 0) rows.scrollToIndex(at, { align: 'auto' });
  }, [at, rows]);
  return (
    <div
      ref={scroller}
      className="min-h-0 flex-1 overflow-auto"
      tabIndex={0}
      role="grid"
      aria-label="Clips"
      aria-multiselectable
      aria-rowcount={lines.length + 1}
      aria-activedescendant={selection.at ? `clip-${selection.at}` : undefined}
    >
      <div className="min-w-[800px]">
        <div
          role="row"
          aria-rowindex={1}
          className="sticky top-0 z-10 grid items-center gap-x-3 border-b border-line bg-sheet px-5 py-2 text-dim"
          style={templateOf(narrow)}
        >
          {columns
            .filter((column) => !(narrow && column.roomyOnly))
            .map((column) => (
              <div
                key={column.name}
                role="columnheader"
                aria-label={column.name === '' ? 'Picture' : undefined}
                aria-sort={column.sort === sort ? (direction === 'up' ? 'ascending' : 'descending') : undefined}
                className={column.right ? 'text-right' : ''}
              >
                {column.sort ? (
                  <button
                    type="button"
                    onClick={() => onSort(column.sort as ClipSort)}
                    className={column.sort === sort ? 'text-ink' : 'hover:text-ink'}
                  >
                    {column.name}
                    {column.sort === sort && <span aria-hidden> {direction === 'up' ? '↑' : '↓'}</span>}
                  </button>
                ) : (
                  column.name
                )}
              </div>
            ))}
        </div>
        <div className="relative" style={{ height: rows.getTotalSize() }}>
          {shown.map((row) => {
            const line = lines[row.index];
            if (!line) return null;
            const style = { transform: `translateY(${row.start}px)`, height: row.size };
            return line.kind === 'heading' ? (
              <div
                key={row.key}
                role="row"
                aria-rowindex={row.index + 2}
                className="absolute inset-x-0 top-0 flex items-center border-b border-line/60 px-5 text-dim"
                style={style}
              >
                <span role="rowheader" aria-label={`Group: ${line.text}`} className="min-w-0">
                  {/* By keyboard a group is selected from any clip of it, by G: no stop on the way to the docket. */}
                  <button
                    type="button"
                    tabIndex={-1}
                    onClick={() => onHeading(line.ids)}
                    title="Select this group"
                    className="max-w-full truncate font-medium hover:text-ink"
                  >
                    {line.text}
                  </button>
                </span>
              </div>
            ) : (
              <ClipRow
                key={row.key}
                id={line.id}
                clip={clips.get(line.id)}
                dense={dense}
                narrow={narrow}
                chosen={selection.chosen.has(line.id)}
                at={selection.at === line.id}
                style={style}
                index={row.index}
                onRow={onRow}
                onOpen={onOpen}
              />
            );
          })}
        </div>
      </div>
    </div>
  );
}

interface RowProps {
  id: string;
  /** Absent for the moment until its page is there. */
  clip: ClipLine | undefined;
  dense: boolean;
  narrow: boolean;
  chosen: boolean;
  at: boolean;
  index: number;
  style: { transform: string; height: number };
  onRow: (id: string, event: MouseEvent) => void;
  onOpen: (id: string) => void;
}

function ClipRow({ id, clip, dense, narrow, chosen, at, index, style, onRow, onOpen }: RowProps) {
  return (
    <div
      id={`clip-${id}`}
      role="row"
      aria-selected={chosen}
      aria-rowindex={index + 2}
      onClick={(event) => onRow(id, event)}
      onDoubleClick={() => onOpen(id)}
      className={`absolute inset-x-0 top-0 grid items-center gap-x-3 border-b border-line/60 px-5 select-none ${rowLook({ chosen, at })}`}
      style={{ ...templateOf(narrow), ...style }}
    >
      {clip ? (
        <Cells clip={clip} dense={dense} narrow={narrow} />
      ) : (
        <span role="gridcell" aria-label="loads" className="col-span-full h-3 animate-pulse rounded bg-raised" />
      )}
    </div>
  );
}

function Cells({ clip, dense, narrow }: { clip: ClipLine; dense: boolean; narrow: boolean }) {
  const { identity, rate, frames, raster } = clip;
  return (
    <>
      <span role="gridcell" className="flex items-center">
        {clip.poster ? (
          <img
            src={addressOf(clipRows.poster, { clip: clip.id })}
            alt=""
            loading="lazy"
            className={`${dense ? 'h-6' : 'h-[34px]'} max-w-[60px] rounded-[3px] bg-surround object-contain`}
          />
        ) : (
          <span className={`${dense ? 'h-6' : 'h-[34px]'} w-[60px] rounded-[3px] bg-surround`} />
        )}
      </span>
      <span role="gridcell" className="truncate font-semibold" title={clip.path}>
        {clip.stem}
      </span>
      <span role="gridcell" className="truncate font-mono text-dim" title={clip.roll}>
        {clip.roll}
      </span>
      <span role="gridcell" className="flex items-center gap-1 truncate font-mono">
        <span className="truncate">
          {[identity.scene, identity.take].filter(Boolean).join('·') || <span className="text-faint">–</span>}
        </span>
        {identity.circled && (
          <span role="img" aria-label="circled" className="size-2.5 shrink-0 rounded-full border-2 border-ink" />
        )}
      </span>
      <span role="gridcell" className="truncate font-mono">
        {clip.starts ?? <span className="text-faint">none</span>}
      </span>
      <span role="gridcell" className="truncate font-mono">
        {frames !== null && rate ? formatLength(frames, rate) : ''}
      </span>
      {!narrow && (
        <span role="gridcell" className="truncate text-right font-mono text-dim">
          {raster ? formatRaster(raster) : ''}
        </span>
      )}
      {!narrow && (
        <span role="gridcell" className="truncate font-mono text-dim">
          {clip.sampling ?? ''}
        </span>
      )}
      <span role="gridcell" className="text-right font-mono">
        {rate ? sayRate({ rate, rateConstant: clip.rateConstant }) : ''}
      </span>
      {!narrow && (
        <span role="gridcell" className="text-right font-mono text-dim">
          {clip.channels || '–'}
        </span>
      )}
      {!narrow && (
        <span role="gridcell" className="text-right">
          <Bytes value={clip.sizeBytes} />
        </span>
      )}
      <span role="gridcell" className="flex items-center gap-2 truncate">
        <ToKnow clip={clip} />
      </span>
      <span role="gridcell">
        <Way way={clip.way} />
      </span>
    </>
  );
}

/** What is to know, the gravest first; what somebody decided on is no longer pressing. */
function ToKnow({ clip }: { clip: ClipLine }) {
  const [first] = clip.findings;
  if (!first) return <span className="text-faint">{clip.looked ? 'nothing' : 'not looked at yet'}</span>;
  const pressing = clip.findings.find((finding) => !finding.decided && finding.level !== 'note') ?? first;
  const texts = [pressing, ...clip.findings.filter((finding) => finding !== pressing)]
    .map((finding) => finding.text)
    .join('; ');
  const calm = pressing.level === 'note' || pressing.decided;
  return (
    <>
      <LevelMark level={pressing.level} decided={pressing.decided} />
      <span className={`truncate ${calm ? 'text-dim' : ''}`} title={texts}>
        {texts}
      </span>
    </>
  );
}

/** The clip's way so far: a stretch of lane for each deliverable. */
function Way({ way }: { way: ClipLine['way'] }) {
  const lanes =
    way.length > 0
      ? way
      : [
          { role: 'intermediate', state: 'waiting' as LegState, share: 0 },
          { role: 'proxy', state: 'waiting' as LegState, share: 0 },
        ];
  const words = way.length > 0 ? way.map((lane) => `${lane.role}: ${lane.state}`).join(', ') : 'nothing run yet';
  return (
    <span role="img" aria-label={words} title={words} className="flex gap-1">
      {lanes.map((lane) => {
        const under = lane.state === 'running' || lane.state === 'proving';
        return (
          <span key={lane.role} className="h-[5px] flex-1 overflow-hidden rounded-full bg-lane">
            {lane.state !== 'waiting' && (
              <span
                className={`block h-full rounded-full ${stateColour[lane.state]}`}
                style={{ width: under ? `${Math.max(6, lane.share * 100)}%` : '100%' }}
              />
            )}
          </span>
        );
      })}
    </span>
  );
}
