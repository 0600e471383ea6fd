import {
  closestCenter,
  DndContext,
  PointerSensor,
  useSensor,
  useSensors,
  type DragEndEvent,
  type Modifier,
} from '@dnd-kit/core';
import { horizontalListSortingStrategy, SortableContext, useSortable } from '@dnd-kit/sortable';
import type { Header } from '@tanstack/react-table';
import type { ClipLine } from '@relay/contract/clips';
import { useRef, type SyntheticEvent } from 'react';
import { flushSync } from 'react-dom';
import { movedTo, withinLimits } from './columnLayout.ts';
import { nameOfColumn, type sheetFeatures } from './columns.tsx';
import { gridLook, type SheetProps, type SheetTable } from './sheetTable.ts';

type SheetHeadProps = Pick<SheetProps, 'sort' | 'direction' | 'layout' | 'onLayout' | 'onSort'> & { table: SheetTable };

/** Columns are drawn sideways only. */
const sideways: Modifier = ({ transform }) => ({ ...transform, y: 0 });

/** The head of the sheet: sorted by a press, moved by drawing a name, made wider by drawing what parts two. */
export function SheetHead({ table, layout, onLayout, ...sorting }: SheetHeadProps) {
  // A press that does not move stays a press, which sorts.
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 6 } }));
  const [{ headers } = { headers: [] }] = table.getHeaderGroups();
  const drop = ({ active, over }: DragEndEvent): void => {
    if (over) onLayout(movedTo(layout, String(active.id), String(over.id)));
  };
  return (
    <DndContext
      sensors={sensors}
      accessibility={{ container: document.body }}
      modifiers={[sideways]}
      collisionDetection={closestCenter}
      onDragEnd={drop}
    >
      <SortableContext items={headers.map(({ id }) => id)} strategy={horizontalListSortingStrategy}>
        <div
          role="row"
          aria-rowindex={1}
          className={`${gridLook} group/head sticky top-0 z-10 border-b border-line bg-sheet px-5 py-2 text-dim`}
        >
          {headers.map((header) => (
            <ColumnHead
              key={header.id}
              header={header}
              {...sorting}
              onWidth={(width) =>
                onLayout({ ...layout, widths: { ...layout.widths, [header.id]: withinLimits(width) } })
              }
              onOwnWidth={() =>
                onLayout({
                  ...layout,
                  widths: Object.fromEntries(Object.entries(layout.widths).filter(([name]) => name !== header.id)),
                })
              }
            />
          ))}
        </div>
      </SortableContext>
    </DndContext>
  );
}

interface ColumnHeadProps extends Pick<SheetProps, 'sort' | 'direction' | 'onSort'> {
  header: Header<typeof sheetFeatures, ClipLine>;
  onWidth: (width: number) => void;
  /** As wide as it was before anybody drew it. */
  onOwnWidth: () => void;
}

function ColumnHead({ header, sort, direction, onSort, onWidth, onOwnWidth }: ColumnHeadProps) {
  const box = useRef<HTMLDivElement | null>(null);
  const { setNodeRef, listeners, transform, transition, isDragging } = useSortable({ id: header.id });
  const { meta } = header.column.columnDef;
  const own = meta?.sort;
  const sorted = own !== undefined && own === sort;
  const draw = (event: SyntheticEvent): void => {
    event.stopPropagation();
    // A column that took what room there was begins from what it took.
    flushSync(() => onWidth(box.current?.offsetWidth ?? header.getSize()));
    header.getResizeHandler()(event);
  };
  return (
    <div
      ref={(node) => {
        box.current = node;
        setNodeRef(node);
      }}
      role="columnheader"
      aria-label={meta?.says}
      aria-sort={sorted ? (direction === 'up' ? 'ascending' : 'descending') : undefined}
      className={`relative min-w-0 ${meta?.right ? 'text-right' : ''} ${isDragging ? 'z-10 text-ink' : ''}`}
      style={{ transform: transform ? `translateX(${transform.x}px)` : undefined, transition }}
      {...listeners}
    >
      {own ? (
        <button
          type="button"
          onClick={() => onSort(own)}
          className={`max-w-full truncate ${sorted ? 'text-ink' : 'hover:text-ink'}`}
        >
          {nameOfColumn(header.id)}
          {sorted && <span aria-hidden> {direction === 'up' ? '↑' : '↓'}</span>}
        </button>
      ) : (
        <span className="block truncate">{meta?.says ? '' : nameOfColumn(header.id)}</span>
      )}
      {/* By keyboard: Columns, above the sheet. */}
      <span
        aria-hidden
        data-draws={header.id}
        title="Draw it wider; twice for its own width"
        className={`absolute -inset-y-2 -right-3 z-10 w-3 cursor-col-resize touch-none before:absolute before:inset-y-2 before:left-1/2 before:w-px hover:before:bg-sky ${header.column.getIsResizing() ? 'before:bg-sky' : 'group-hover/head:before:bg-line'}`}
        onPointerDown={(event) => event.stopPropagation()}
        onMouseDown={draw}
        onTouchStart={draw}
        onDoubleClick={onOwnWidth}
      />
    </div>
  );
}
