import { useVirtualizer } from '@tanstack/react-virtual';
import { useEffect, useRef, type CSSProperties } from 'react';
import { rowLook } from '../ui/rowLook.ts';
import type { SheetLine } from './groups.ts';
import { SheetHead } from './sheetHead.tsx';
import { gridLook, useSheetTable, type SheetProps } from './sheetTable.ts';

function cellId(clip: string, column: string): string {
  return `clip-${clip}-${column}`;
}

/** The clips of a production; only the rows in view are in the page, so ten thousand are as light as ten. */
export function Sheet(props: SheetProps) {
  const { lines, clips, selection, cell, dense, layout, onView, onHeading, onRow, onOpen } = props;
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
  useEffect(() => {
    if (selection.at !== null && cell !== null)
      document.getElementById(cellId(selection.at, cell))?.scrollIntoView({ block: 'nearest', inline: 'nearest' });
  }, [selection.at, cell]);
  const table = useSheetTable(props);
  const columns = table.getVisibleLeafColumns();
  const tracks = columns
    .map(({ id, columnDef }) => (layout.widths[id] === undefined ? columnDef.meta?.track : `${layout.widths[id]}px`))
    .join(' ');
  const active =
    selection.at === null ? undefined : cell === null ? `clip-${selection.at}` : cellId(selection.at, cell);
  return (
    <div
      ref={scroller}
      className="group/sheet min-h-0 flex-1 overflow-auto"
      data-dense={dense ? '' : undefined}
      tabIndex={0}
      role="grid"
      aria-label="Clips"
      aria-multiselectable
      aria-rowcount={lines.length + 1}
      aria-colcount={columns.length}
      aria-activedescendant={active}
    >
      <div className="w-max min-w-full" style={{ '--tracks': tracks } as CSSProperties}>
        <SheetHead table={table} {...props} />
        <div className="relative" style={{ height: rows.getTotalSize() }}>
          {shown.map((row) => {
            const line = lines[row.index];
            if (!line) return null;
            const style = { transform: `translateY(${row.start}px)`, height: row.size };
            if (line.kind === 'heading')
              return <Heading key={row.key} line={line} index={row.index} style={style} onHeading={onHeading} />;
            const clip = clips.get(line.id);
            return (
              <div
                key={row.key}
                id={`clip-${line.id}`}
                data-clip={line.id}
                role="row"
                aria-selected={selection.chosen.has(line.id)}
                aria-rowindex={row.index + 2}
                onClick={(event) => onRow(line.id, event)}
                onDoubleClick={() => onOpen(line.id)}
                className={`${gridLook} absolute inset-x-0 top-0 border-b border-line/60 px-5 select-none ${rowLook({ chosen: selection.chosen.has(line.id), at: selection.at === line.id })}`}
                style={style}
              >
                {clip ? (
                  columns.map(({ id: column, columnDef: { meta } }) => {
                    const read = selection.at === line.id && cell === column;
                    return (
                      <span
                        key={column}
                        id={cellId(line.id, column)}
                        role="gridcell"
                        title={meta?.title?.(clip)}
                        className={`${meta?.classes ?? ''} ${meta?.right ? 'text-right' : ''} ${read ? 'rounded-sm outline-2 outline-offset-2 outline-sky' : ''}`}
                      >
                        {meta?.show(clip)}
                      </span>
                    );
                  })
                ) : (
                  <span
                    role="gridcell"
                    aria-label="loads"
                    className="col-span-full h-3 animate-pulse rounded bg-raised"
                  />
                )}
              </div>
            );
          })}
        </div>
      </div>
    </div>
  );
}

interface HeadingProps {
  line: Extract<SheetLine, { kind: 'heading' }>;
  index: number;
  style: CSSProperties;
  onHeading: (ids: string[]) => void;
}

/** The line over a group; pressed, it selects the group. */
function Heading({ line, index, style, onHeading }: HeadingProps) {
  return (
    <div
      role="row"
      aria-rowindex={index + 2}
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
  );
}
