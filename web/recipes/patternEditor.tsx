import {
  closestCenter,
  DndContext,
  KeyboardSensor,
  PointerSensor,
  useSensor,
  useSensors,
  type DragEndEvent,
} from '@dnd-kit/core';
import {
  arrayMove,
  horizontalListSortingStrategy,
  SortableContext,
  sortableKeyboardCoordinates,
  useSortable,
} from '@dnd-kit/sortable';
import {
  mirrored,
  parsePathPattern,
  pathPieceNames,
  pathPieces,
  type PathPattern,
} from '@relay/core/naming/pathPattern';
import { useId, useState } from 'react';
import { Choice, selectLook } from '../corrections/row.tsx';
import { KeptPatterns } from './keptPatterns.tsx';
import { inputLook, ProblemLine } from '../ui/pieces.tsx';

/** A pattern as it is set: what stands between brackets, and what stands outside, in their order. */
function chips(pattern: string): string[] {
  return pattern.match(/\[[^\]]*\]|[^[\]]+/g) ?? [];
}

/** Folders and name of a deliverable's outputs: pieces to drag into order, or typed. */
export function PatternEditor({
  of,
  path,
  onChange,
}: {
  of: string;
  path: PathPattern | undefined;
  onChange: (path: PathPattern | undefined) => void;
}) {
  const now = path ?? mirrored;
  const [typed, setTyped] = useState(now.pattern);
  const [seen, setSeen] = useState(now.pattern);
  const id = useId();
  // A pattern that was changed elsewhere, by a remedy or by taking back, is shown as it is now.
  if (seen !== now.pattern) {
    setSeen(now.pattern);
    setTyped(now.pattern);
  }
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 4 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  const read = parsePathPattern(typed);
  const say = (pattern: string): void => {
    setTyped(pattern);
    if (!parsePathPattern(pattern).ok) return;
    const next: PathPattern = { ...now, pattern };
    setSeen(pattern);
    onChange(pattern === mirrored.pattern && !next.letters && !next.replace && !next.limit ? undefined : next);
  };
  const take = (pattern: PathPattern): void => {
    setTyped(pattern.pattern);
    setSeen(pattern.pattern);
    onChange(pattern);
  };
  const more = (change: Partial<PathPattern>): void => {
    const next = { ...now, ...change };
    if (next.letters === undefined) delete next.letters;
    if (next.replace === undefined) delete next.replace;
    onChange(next);
  };
  const parts = chips(typed);
  const items = parts.map((_, index) => `${id}-${index}`);
  const drop = ({ active, over }: DragEndEvent): void => {
    const [from, to] = [items.indexOf(String(active.id)), over ? items.indexOf(String(over.id)) : -1];
    if (from >= 0 && to >= 0 && from !== to) say(arrayMove(parts, from, to).join(''));
  };
  return (
    <div className="flex flex-col gap-1.5">
      <span className="flex items-center justify-between text-dim">
        Path below it
        <KeptPatterns of={of} now={read.ok ? { ...now, pattern: typed } : null} onChoose={take} />
      </span>
      <DndContext sensors={sensors} collisionDetection={closestCenter} onDragEnd={drop}>
        <SortableContext items={items} strategy={horizontalListSortingStrategy}>
          <ul aria-label={`Pieces of the path of the ${of}`} className="flex flex-wrap gap-1">
            {parts.map((part, index) => (
              <Chip
                key={items[index]}
                id={items[index] as string}
                text={part}
                onRemove={() => say(parts.filter((_, at) => at !== index).join(''))}
              />
            ))}
          </ul>
        </SortableContext>
      </DndContext>
      <div className="grid grid-cols-[1fr_6.5rem] gap-1.5">
        <input
          aria-label={`Path pattern of the ${of}`}
          aria-invalid={!read.ok}
          value={typed}
          onChange={(event) => say(event.target.value)}
          spellCheck={false}
          className={`${inputLook} font-mono ${read.ok ? '' : 'border-rose'}`}
        />
        <select
          aria-label={`Add a piece to the path of the ${of}`}
          value=""
          onChange={(event) => say(`${typed}${typed.endsWith('/') || typed === '' ? '' : '_'}[${event.target.value}]`)}
          className={selectLook}
        >
          <option value="" disabled>
            Add…
          </option>
          {pathPieces.map((piece) => (
            <option key={piece} value={piece}>
              {pathPieceNames[piece]}
            </option>
          ))}
        </select>
      </div>
      {!read.ok && <ProblemLine problem={read.problem} />}
      <div className="grid grid-cols-2 gap-1.5">
        <Choice
          label={`Letters of the path of the ${of}`}
          value={now.letters ?? 'kept'}
          options={[
            ['kept', 'letters as they are'],
            ['lower', 'small letters'],
            ['upper', 'capital letters'],
          ]}
          onChange={(value) => more({ letters: value === 'kept' ? undefined : value })}
        />
        <Choice
          label={`Blanks in the path of the ${of}`}
          value={now.replace ?? 'kept'}
          options={[
            ['kept', 'blanks as they are'],
            ['-', 'blanks and ? : * become -'],
            ['_', 'blanks and ? : * become _'],
          ]}
          onChange={(value) => more({ replace: value === 'kept' ? undefined : value })}
        />
      </div>
    </div>
  );
}

function Chip({ id, text, onRemove }: { id: string; text: string; onRemove: () => void }) {
  const { attributes, listeners, setNodeRef, transform, transition, isDragging } = useSortable({ id });
  const piece = text.startsWith('[');
  const words = text.slice(1, -1).split(' ');
  const name = piece
    ? [pathPieceNames[words[0] as keyof typeof pathPieceNames] ?? words[0], ...words.slice(1)].join(' ')
    : text;
  return (
    <li
      ref={setNodeRef}
      style={{ transform: transform ? `translate(${transform.x}px, ${transform.y}px)` : undefined, transition }}
      className={`flex items-center rounded border ${piece ? 'border-line bg-raised' : 'border-transparent'} ${isDragging ? 'opacity-60' : ''}`}
    >
      <button
        type="button"
        {...attributes}
        {...listeners}
        aria-label={`${piece ? name : `text ${text}`}, drag to move`}
        className={`cursor-grab px-1.5 py-0.5 ${piece ? '' : 'font-mono whitespace-pre'}`}
      >
        {name}
      </button>
      <button
        type="button"
        aria-label={`Take ${piece ? name : `text ${text}`} out`}
        onClick={onRemove}
        className="px-1 text-faint hover:text-ink"
      >
        ×
      </button>
    </li>
  );
}
