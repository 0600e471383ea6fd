import {
  createColumnHelper,
  createSortedRowModel,
  rowSortingFeature,
  sortFns,
  tableFeatures,
  useTable,
  type SortingState,
} from '@tanstack/react-table';
import { useVirtualizer } from '@tanstack/react-virtual';
import { useMemo, useRef, useState, type ReactNode } from 'react';

/** A column of a list. */
export interface ListColumn<Line> {
  id: string;
  name: string;
  /** What it is sorted by. */
  of: (line: Line) => string | number;
  show: (line: Line) => ReactNode;
  /** How wide it is: a track of a grid. */
  track: string;
  right?: boolean;
}

interface ListTableProps<Line> {
  label: string;
  lines: readonly Line[];
  idOf: (line: Line) => string;
  columns: readonly ListColumn<Line>[];
  className?: string;
}

const features = tableFeatures({ rowSortingFeature, sortedRowModel: createSortedRowModel(), sortFns });
/** Names as people count: `C2` before `C10`. */
const byName = new Intl.Collator('en', { numeric: true });

/**
 * A list that is sorted by the names above its columns, and draws only the rows in view, each as high as what stands in
 * it. It comes in the order of its lines; a third press brings that back.
 */
export function ListTable<Line>({ label, lines, idOf, columns, className = '' }: ListTableProps<Line>) {
  const [sorting, setSorting] = useState<SortingState>([]);
  const defined = useMemo(() => {
    const helper = createColumnHelper<typeof features, { line: Line }>();
    const all = columns.map(({ id, name, of }) =>
      helper.accessor(({ line }) => of(line), {
        id,
        header: name,
        sortDescFirst: false,
        sortFn: (a, b) => {
          const [one, other] = [of(a.original.line), of(b.original.line)];
          return typeof one === 'number' && typeof other === 'number'
            ? one - other
            : byName.compare(String(one), String(other));
        },
      }),
    );
    return helper.columns(all);
  }, [columns]);
  const data = useMemo(() => lines.map((line) => ({ line })), [lines]);
  const table = useTable({
    features,
    columns: defined,
    data,
    getRowId: ({ line }) => idOf(line),
    state: { sorting },
    onSortingChange: setSorting,
  });
  const { rows } = table.getRowModel();
  const scroller = useRef<HTMLDivElement>(null);
  const drawn = useVirtualizer({
    count: rows.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => 40,
    getItemKey: (index) => rows[index]?.id ?? index,
    overscan: 12,
  });
  const look = 'grid items-center gap-x-3 px-5';
  const style = { gridTemplateColumns: columns.map(({ track }) => track).join(' ') };
  return (
    <div ref={scroller} className={`min-h-0 overflow-auto ${className}`}>
      <div role="table" aria-label={label} aria-rowcount={rows.length + 1}>
        <div
          role="row"
          aria-rowindex={1}
          style={style}
          className={`${look} sticky top-0 z-10 border-b border-line bg-sheet py-1.5`}
        >
          {table.getHeaderGroups()[0]?.headers.map((header, index) => {
            const sorted = header.column.getIsSorted();
            return (
              <span
                key={header.id}
                role="columnheader"
                aria-sort={sorted === false ? 'none' : sorted === 'asc' ? 'ascending' : 'descending'}
                className={columns[index]?.right ? 'text-right' : ''}
              >
                <button
                  type="button"
                  onClick={header.column.getToggleSortingHandler()}
                  className={`rounded ${sorted === false ? 'text-dim hover:text-ink' : 'text-ink'}`}
                >
                  {columns[index]?.name}{' '}
                  <span aria-hidden>{sorted === 'asc' ? '↑' : sorted === 'desc' ? '↓' : ''}</span>
                </button>
              </span>
            );
          })}
        </div>
        <div role="rowgroup" className="relative" style={{ height: drawn.getTotalSize() }}>
          {drawn.getVirtualItems().map((item) => {
            const line = rows[item.index]?.original.line;
            if (line === undefined) return null;
            return (
              <div
                key={item.key}
                ref={drawn.measureElement}
                data-index={item.index}
                role="row"
                aria-rowindex={item.index + 2}
                className={`${look} absolute inset-x-0 min-h-10 border-b border-line/60 py-1.5 has-[a]:hover:bg-raised`}
                style={{ ...style, top: item.start }}
              >
                {columns.map((column) => (
                  <span
                    key={column.id}
                    role="cell"
                    className={`min-w-0 break-words ${column.right ? 'text-right' : ''}`}
                  >
                    {column.show(line)}
                  </span>
                ))}
              </div>
            );
          })}
        </div>
      </div>
    </div>
  );
}
