import type { LegLine } from '@relay/contract/runs';
import {
  DndContext,
  DragOverlay,
  PointerSensor,
  pointerWithin,
  useDraggable,
  useDroppable,
  useSensor,
  useSensors,
  type DragEndEvent,
} from '@dnd-kit/core';
import { useState, type HTMLAttributes, type ReactNode } from 'react';

interface DragLegsProps {
  legs: readonly LegLine[];
  /** A leg that waits was drawn to just before another. */
  onMove: (leg: string, before: string) => void;
  children: ReactNode;
}

/** Lets legs be drawn into another order with the pointer; the keys + and - do it too. */
export function DragLegs({ legs, onMove, children }: DragLegsProps) {
  // A press that does not move stays a press, which chooses.
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 6 } }));
  const [drawn, setDrawn] = useState<LegLine | null>(null);
  const drop = ({ active, over }: DragEndEvent): void => {
    setDrawn(null);
    if (over && over.id !== active.id) onMove(String(active.id), String(over.id));
  };
  return (
    <DndContext
      sensors={sensors}
      collisionDetection={pointerWithin}
      accessibility={{ container: document.body }}
      onDragStart={({ active }) => setDrawn(legs.find(({ id }) => id === active.id) ?? null)}
      onDragCancel={() => setDrawn(null)}
      onDragEnd={drop}
    >
      {children}
      <DragOverlay dropAnimation={null}>
        {drawn && (
          <span className="inline-block rounded-md border border-line bg-raised px-3 py-1 font-semibold">
            {drawn.stem}
          </span>
        )}
      </DragOverlay>
    </DndContext>
  );
}

interface LegDrag {
  attach: (element: HTMLElement | null) => void;
  listeners: HTMLAttributes<HTMLElement>;
  /** Another leg would come before this one if it were let go. */
  over: boolean;
  /** It is the one that is drawn. */
  drawn: boolean;
}

/** Only legs that wait are moved, among those of their wave. */
export function useLegDrag({ id, state, wave }: LegLine): LegDrag {
  const fixed = state !== 'waiting' && state !== 'held';
  const draggable = useDraggable({ id, disabled: fixed, data: { wave } });
  const other = draggable.active !== null && draggable.active.data.current?.wave !== wave;
  const droppable = useDroppable({ id, disabled: fixed || other });
  return {
    attach: (element) => {
      draggable.setNodeRef(element);
      droppable.setNodeRef(element);
    },
    listeners: draggable.listeners ?? {},
    over: droppable.isOver && droppable.active?.id !== id,
    drawn: draggable.isDragging,
  };
}
