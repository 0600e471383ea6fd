import type { ClipLine, ClipSort } from '@relay/contract/clips';
import { useTable } from '@tanstack/react-table';
import { useMemo, type MouseEvent } from 'react';
import type { ColumnLayout } from './columnLayout.ts';
import { columnIds, columnsShown, sheetColumns, sheetFeatures } from './columns.tsx';
import type { SheetLine } from './groups.ts';
import type { Selection } from './selection.ts';

export interface SheetProps {
  lines: readonly SheetLine[];
  clips: ReadonlyMap<string, ClipLine>;
  selection: Selection;
  /** The cell of the row under the keyboard that is read, by its column; null for the row as a whole. */
  cell: string | null;
  sort: ClipSort;
  direction: 'up' | 'down';
  layout: ColumnLayout;
  onLayout: (layout: ColumnLayout) => void;
  dense: boolean;
  /** Whether columns that the docket repeats are left out. */
  narrow: boolean;
  onSort: (sort: ClipSort) => void;
  onRow: (id: string, event: MouseEvent) => void;
  onHeading: (ids: string[]) => void;
  onOpen: (id: string) => void;
  /** Which lines are in view, by their place among the clips. */
  onView: (first: number, last: number) => void;
}

/** Rows and head stand on the same tracks. */
export const gridLook = 'grid items-center gap-x-3 grid-cols-(--tracks)';

/**
 * No row goes through the table: only those in view are drawn, and its cells between made the longest frame of a scroll
 * a quarter longer (50 ms against 39, medians of a wheel's pace through 725 rows).
 */
const noRows: ClipLine[] = [];

/** The table's columns: those shown, in their order, as wide as they were drawn. */
export function useSheetTable({ layout, onLayout, narrow }: Pick<SheetProps, 'layout' | 'onLayout' | 'narrow'>) {
  const columnVisibility = useMemo(() => {
    const shown = columnsShown(layout, narrow);
    return Object.fromEntries(columnIds.map((id) => [id, shown.includes(id)]));
  }, [layout, narrow]);
  return useTable({
    features: sheetFeatures,
    columns: sheetColumns,
    data: noRows,
    columnResizeMode: 'onChange',
    state: { columnOrder: [...layout.order], columnVisibility, columnSizing: { ...layout.widths } },
    onColumnSizingChange: (next) => {
      const widths = typeof next === 'function' ? next({ ...layout.widths }) : next;
      onLayout({
        ...layout,
        widths: Object.fromEntries(Object.entries(widths).map(([id, px]) => [id, Math.round(px)])),
      });
    },
  });
}
export type SheetTable = ReturnType<typeof useSheetTable>;
